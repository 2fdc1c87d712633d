/** What repairs learn from the recording itself, and diagnosis: from the files to the mended sound. */
import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { MemorySink, memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { WavWriter } from "@core/files/wav-writer";
import { clippedAt, drifting, meanPower, mixed, siSdr, speechLike, steadyNoise } from "@core/testing/degraded";
import { memoryFrames } from "@core/testing/signals";
import { diagnoseFiles } from "./diagnose";
import { takeLearning, withLearned } from "./learning";
import { recipeOf } from "./recipes";
import { renderOne } from "./render-one";

const RATE = 48_000;
const MONO = layoutNamed("mono")!;
const LEAD = 2 * RATE;
/** Two seconds of the room, then somebody speaks. */
const clean = Float32Array.from([...new Float32Array(LEAD), ...speechLike(4, RATE, 3)]);
const noisy = mixed(clean, steadyNoise("fan", clean.length, RATE, 5), 15);

let folder: string;
let said: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-learning-"));
  said = "";
  vi.spyOn(process.stdout, "write").mockImplementation((text) => ((said += String(text)), true));
});
afterEach(async () => {
  vi.restoreAllMocks();
  process.exitCode = undefined;
  await rm(folder, { recursive: true, force: true });
});

async function recording(name: string, x: Float32Array): Promise<string> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: RATE, layout: MONO, format: "32f" });
  await writer.writeFloat([x], x.length);
  await writer.finish();
  await writeFile(join(folder, name), sink.bytes());
  return join(folder, name);
}

async function soundOf(path: string): Promise<Float32Array> {
  const file = (await openSoundFile(memorySource(new Uint8Array(await readFile(path)))))!;
  return (await file.read(0, file.frames))[0]!;
}

async function recipe(repairs: object[]) {
  const path = join(folder, "recipe.json");
  await writeFile(path, JSON.stringify({ repairs, format: { bitDepth: "32f" } }));
  return recipeOf({ recipe: path });
}

describe("a repair that learns", () => {
  it("learns the noise from the stretch that is named: the pause is 10 dB lower, and the voice nearer", async () => {
    const input = await recording("noisy.wav", noisy);
    const out = join(folder, "out.wav");
    await renderOne({ input, out, recipe: await recipe([{ type: "noise", learn: { from: 0.2, to: 1.8 } }]) });
    const made = await soundOf(out);
    const pause = (x: Float32Array) => 10 * Math.log10(meanPower(x.subarray(RATE / 2, 1.5 * RATE)));
    expect(pause(made) - pause(noisy)).toBeLessThan(-10);
    expect(siSdr(made, clean)).toBeGreaterThan(siSdr(noisy, clean) + 2);
  });

  it("learns the hum's fundamental and the level of clipping", async () => {
    const learnt = async (x: Float32Array, type: string) =>
      (
        await withLearned(
          (await recipe([{ type, learn: { from: 0, to: x.length / RATE } }])).repairs,
          memoryFrames([x], RATE),
          MONO,
        )
      )[0]!;
    const humming = mixed(clean, drifting(clean.length, RATE, 59.8, 6, 0, 3), 15);
    expect((await learnt(humming, "hum")).fundamentalHz).toBeCloseTo(59.8, 0);
    const { spoilt, level } = clippedAt(clean, 0.02);
    expect((await learnt(spoilt, "clipping")).levelDbfs).toBeCloseTo(20 * Math.log10(level), 1);
  });

  it("learns from what the repairs before it leave", async () => {
    const [noise, after] = await withLearned(
      (
        await recipe([
          { type: "noise", maxReductionDb: 20, learn: { from: 0.2, to: 1.8 } },
          { type: "noise", learn: { from: 0.2, to: 1.8 } },
        ])
      ).repairs,
      memoryFrames([noisy], RATE),
      MONO,
    );
    expect(noise!.learned).toBeDefined();
    expect(after!.learned).not.toEqual(noise!.learned);
  });

  it("says what is wrong with what it is asked, and where", async () => {
    expect(() => takeLearning({ repairs: [{ type: "noise", learn: { from: 2, to: 1 } }] }, "a.json")).toThrow(
      "a.json is not valid: repairs.0.learn: ends before it begins",
    );
    expect(() => takeLearning({ repairs: [{}, { type: "spikes", learn: { from: 0, to: 1 } }] }, "a.json")).toThrow(
      /repairs\.1\.learn: only these learn: noise, reverberation, hum, clipping/,
    );
    const asked = async (type: string, from: number, to: number, x = noisy) =>
      withLearned((await recipe([{ type, learn: { from, to } }])).repairs, memoryFrames([x], RATE), MONO);
    await expect(asked("noise", 50, 60)).rejects.toThrow(
      "Noise cannot learn from 50 s to 60 s: the recording lasts 6.0 s.",
    );
    await expect(asked("noise", 0, 1, clean)).rejects.toThrow(/digital silence/);
    await expect(asked("hum", 0, 6, clean)).rejects.toThrow(/No hum is found/);
  });
});

describe("diagnose", () => {
  it("tells what was found and what would mend it", async () => {
    const { spoilt } = clippedAt(clean, 0.02);
    const path = await recording("clipped.wav", spoilt);
    await diagnoseFiles([path], { json: true });
    const { findings, proposals } = JSON.parse(said)[path];
    expect(findings.map(({ kind }: { kind: string }) => kind)).toContain("clipping");
    expect(proposals.map(({ id }: { id: string }) => id)).toContain("clipping");
  });

  it("mends a copy by what it proposes, and leaves the original alone", async () => {
    const spoken = clean.subarray(LEAD, LEAD + 1.5 * RATE);
    const { spoilt } = clippedAt(spoken, 0.01);
    const path = await recording("clipped.wav", spoilt);
    const before = await readFile(path);
    const out = join(folder, "mended.wav");
    await diagnoseFiles([path], { apply: "firm", out });
    expect(said).toMatch(/wrote .*mended\.wav: (1 repair|[02-9]\d* repairs), /);
    expect(siSdr(await soundOf(out), spoken)).toBeGreaterThan(siSdr(spoilt, spoken) + 3);
    expect(await readFile(path)).toEqual(before);
  });

  it("refuses what it cannot do before it begins", async () => {
    await expect(diagnoseFiles(["a.wav"], { apply: "harder", out: "b.wav" })).rejects.toThrow(/gentle or firm/);
    await expect(diagnoseFiles(["a.wav"], { apply: "firm" })).rejects.toThrow(/belong together/);
    await expect(diagnoseFiles(["a.wav", "b.wav"], { apply: "firm", out: "c.wav" })).rejects.toThrow(/one recording/);
    await expect(diagnoseFiles(["a.wav"], { apply: "firm", out: "a.wav" })).rejects.toThrow(/never written to/);
    await expect(diagnoseFiles(["a.wav"], { apply: "firm", out: "a.mp3" })).rejects.toThrow(/does not end in \.wav/);
    await expect(diagnoseFiles(["a.wav"], { apply: "firm", out: "/dev/null/b.wav" })).rejects.toThrow(
      /The folder \/dev\/null cannot be made/,
    );
    await diagnoseFiles([join(folder, "none.wav")], { json: true });
    expect(said).toMatch(/There is no file/);
    expect(process.exitCode).toBe(2);
  });
});
