import { recordingClip } from "../edit-list/clip";
import { describe, expect, it } from "vitest";
import type * as z from "zod";
import { MemorySink, memorySource } from "../files/bytes";
import { openSoundFile } from "../files/open";
import { newTags } from "../files/tags";
import { layoutNamed } from "../audio/layout";
import { dbToGain } from "../audio/decibel";
import type { Planar } from "../audio/units";
import { exactTruePeakDb, memoryFrames, noise, sameBits, sine } from "../testing/signals";
import { measureFile } from "./verify-master";
import { renderMaster } from "./render-master";
import type { MasterJob } from "./master-job";
import { recipeSchema } from "./recipe";

const stereo = layoutNamed("stereo")!;

/** Something like music: tones that swell, noise, and hits that stand far above. */
function music(seconds: number, level: number, sampleRate = 48000): Planar {
  return [1, 2].map((side) => {
    const x = noise(seconds, sampleRate, -30, side);
    const tones = [110, 277, 659, 1480].map((hertz) => sine(hertz * (1 + 0.001 * side), -14, seconds, sampleRate));
    for (let i = 0; i < x.length; i++) {
      const t = i / sampleRate;
      const hit = Math.exp(-((t * 2) % 1) * 40) * Math.sin(i * 0.05) * 0.9;
      x[i] = level * (x[i]! + tones.reduce((sum, tone) => sum + tone[i]!, 0) * (0.4 + 0.6 * Math.sin(t) ** 2) + hit);
    }
    return x;
  });
}

async function render(
  block: Planar,
  recipe: z.input<typeof recipeSchema>,
  more: Partial<MasterJob> = {},
  sampleRate = 48000,
) {
  let sink = new MemorySink();
  const result = await renderMaster(
    {
      source: memoryFrames(block, sampleRate),
      layout: stereo,
      sourceBits: null,
      recipe: recipeSchema.parse(recipe),
      tags: newTags({ title: "Test" }),
      ...more,
    },
    { open: async () => (sink = new MemorySink()), readBack: async () => memorySource(sink.bytes()) },
  );
  return { result, bytes: sink.bytes() };
}

describe("masters of recordings with samples that are no numbers", () => {
  it("have what lies between their neighbours there, to 45 dB below the sound", async () => {
    const clean = [sine(440, -12, 1, 48000), sine(440, -12, 1, 48000)];
    const places = [100, 20_000, 20_001, 31_234];
    const spoilt = clean.map((x) => x.map((v, i) => (places.includes(i) ? NaN : v)));
    const recipe = { format: { bitDepth: "32f" } } as const;
    const samples = async (block: Planar) => {
      const file = (await openSoundFile(memorySource((await render(block, recipe)).bytes)))!;
      return (await file.read(0, file.frames))[0]!;
    };
    const [wanted, made] = [await samples(clean), await samples(spoilt)];
    expect(made.every(Number.isFinite)).toBe(true);
    const off = Math.max(...made.map((v, i) => Math.abs(v - wanted[i]!)));
    expect(off).toBeGreaterThan(0);
    expect(off).toBeLessThan(dbToGain(-12 - 45));
  });
});

describe("masters", () => {
  it.each([
    ["ebu-r128", -23, -1],
    ["streaming-14", -14, -1],
    ["aes77-speech", -18, -1],
  ])("for %s land within 0.05 LU of %f LUFS and under %f dBTP, measured on the file", async (spec, target, ceiling) => {
    for (const level of [0.02, 0.7]) {
      const { result, bytes } = await render(music(6, level), { spec });
      const { figures } = await measureFile(memorySource(bytes), stereo);
      expect(Math.abs(figures.integratedLufs! - target)).toBeLessThanOrEqual(0.05);
      expect(figures.truePeakDbtp!).toBeLessThanOrEqual(ceiling);
      expect(result.verdict!.pass).toBe(true);
    }
  });

  it("stay under the ceiling by an exact interpolation as well, limited hard", async () => {
    const { result, bytes } = await render(
      music(4, 0.15).map((x) => x.map((v, i) => (i % 9600 < 40 ? v * 9 : v))),
      { spec: "streaming-14" },
    );
    const file = (await openSoundFile(memorySource(bytes)))!;
    const back = await file.read(0, file.frames);
    expect(result.limiterCeilingDbtp).not.toBeNull();
    for (const channel of back) expect(exactTruePeakDb(channel)).toBeLessThanOrEqual(-1 + 0.02);
  });

  it("are the same bits as the source when nothing is asked", async () => {
    const block = music(1, 0.3);
    const { bytes, result } = await render(block, { format: { bitDepth: "32f" } });
    const file = (await openSoundFile(memorySource(bytes)))!;
    expect(sameBits(await file.read(0, file.frames), block)).toBe(true);
    expect(result.dithered).toBe(false);
  });

  it("are the same bytes each time", async () => {
    const block = music(2, 0.4);
    const recipe = { spec: "streaming-16", format: { bits: "16" as const, sampleRate: 44100 } };
    const [first, second] = [await render(block, recipe), await render(block, recipe)];
    expect(Buffer.from(first.bytes).equals(second.bytes)).toBe(true);
  });

  it("begin and end at the cut with a short fade, to the sample", async () => {
    const block = [sine(997, -6, 2, 48000), sine(997, -6, 2, 48000)];
    const clips = [recordingClip(10_000, 58_000)];
    const { bytes } = await render(block, { format: { bitDepth: "32f" } }, { clips });
    const file = (await openSoundFile(memorySource(bytes)))!;
    expect(file.frames).toBe(48_000);
    const [left] = await file.read(0, file.frames);
    expect(Math.abs(left![0]!)).toBeLessThan(0.01);
    expect(left![24_000]).toBe(block[0]![34_000]);
    expect(Math.abs(left![47_999]!)).toBeLessThan(0.01);
  });

  it.each([0.02, 0.4, 0.99])(
    "have their highest true peak where a spec of peaks wants it, by gain alone: %f",
    async (level) => {
      const { result, bytes } = await render(music(4, level), { spec: "peak-1" });
      expect(result.verdict!.pass).toBe(true);
      expect(result.limiterCeilingDbtp).toBeNull();
      const file = (await openSoundFile(memorySource(bytes)))!;
      const peak = Math.max(...(await file.read(0, file.frames)).map(exactTruePeakDb));
      expect(peak).toBeLessThanOrEqual(-1);
      expect(peak).toBeGreaterThan(-1.05);
    },
  );

  it("say what is wrong with silence instead of amplifying it", async () => {
    const { result } = await render([new Float32Array(48000), new Float32Array(48000)], { spec: "ebu-r128" });
    expect(result.gainDb).toBe(0);
    expect(result.warnings.join()).toMatch(/silent/);
    expect(result.verdict!.pass).toBe(false);
  });

  it("dither an error that does not follow the signal: a tone below a step still shows", async () => {
    const quiet = sine(1000, -20 * Math.log10(2 ** 15) - 3, 2, 48000);
    const { bytes } = await render([quiet, quiet], { format: { bitDepth: "16" } });
    const file = (await openSoundFile(memorySource(bytes)))!;
    const [left] = await file.read(0, file.frames);
    let inPhase = 0;
    left!.forEach((v, i) => (inPhase += v * Math.sin((2 * Math.PI * 1000 * i) / 48000)));
    const found = (2 * inPhase) / left!.length;
    expect(found / dbToGain(-20 * Math.log10(2 ** 15) - 3)).toBeGreaterThan(0.8);
  });
});

describe("recipes", () => {
  it("name what is wrong and where", () => {
    const problem = (recipe: unknown) =>
      recipeSchema
        .safeParse(recipe)
        .error?.issues.map(({ path, message }) => `${path.join(".")}: ${message}`)
        .join() ?? "";
    expect(problem({ chain: [{ type: "gain", gainDb: 999 }] })).toMatch(/chain\.0\.gainDb/);
    expect(problem({ chain: [{ type: "polisher" }] })).toMatch(/chain\.0\.type/);
    expect(problem({ repairs: [{ type: "magic" }] })).toMatch(/repairs\.0\.type.*'noise'/);
    expect(problem({ spec: "loud" })).toMatch(/no delivery spec "loud"/);
    expect(problem({ colour: 1 })).toMatch(/colour/);
  });
});
