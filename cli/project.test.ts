/** `resonum render --programme`: a project's programme from its document and its recordings, and what is said where it cannot be. */
import { mkdir, mkdtemp, readdir, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { MemorySink } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { WavWriter } from "@core/files/wav-writer";
import { newFormat } from "@core/delivery/recipe";
import { slicePlanar, type Planar } from "@core/audio/units";
import { itemSchema, projectSchema, type Deliverable } from "@core/project/document";
import { newProject } from "@core/project/templates";
import { noise, sameBits } from "@core/testing/signals";
import { hashFile, openFile } from "@server/storage/byte-files";
import { renderProject } from "./project";

const RATE = 48_000;
let folder: string;
let out: string;
let printed: string[];
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-project-"));
  out = join(folder, "masters");
  await mkdir(out);
  printed = [];
  vi.spyOn(process.stdout, "write").mockImplementation((text) => Boolean(printed.push(String(text))));
});
afterEach(async () => {
  vi.restoreAllMocks();
  process.exitCode = undefined;
  await rm(folder, { recursive: true, force: true });
});

async function recording(name: string, seed: number): Promise<string> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: RATE, layout: layoutNamed("stereo")!, format: "32f" });
  await writer.writeFloat([noise(1, RATE, -20, seed), noise(1, RATE, -20, seed + 9)], RATE);
  await writer.finish();
  await writeFile(join(folder, name), sink.bytes());
  return (await hashFile(join(folder, name))).hash;
}

async function project(programme: Deliverable["programme"], changes: object = {}): Promise<string> {
  const hashes = [await recording("one.wav", 1), await recording("two.wav", 2)];
  const items = hashes.map((source, i) =>
    itemSchema.parse({
      id: `i${i}`,
      name: `Title ${i + 1}`,
      source,
      repairs: [],
      chain: [],
      placement: { gapSeconds: i / 2 },
    }),
  );
  const document = projectSchema.parse({
    ...newProject("Two Songs", "music"),
    sources: hashes.map((hash, i) => ({ hash, name: `${["one", "two"][i]}.wav` })),
    items,
    deliverables: [{ id: "d", spec: "ebu-r128", format: newFormat(), ...(programme ? { programme } : {}) }],
    ...changes,
  });
  const path = join(folder, "Project.json");
  await writeFile(path, JSON.stringify(document));
  return path;
}
const samplesOf = async (name: string): Promise<Planar> => {
  const bytes = await openFile(join(out, name));
  const file = (await openSoundFile(bytes))!;
  const block = await file.read(0, file.frames);
  await bytes.close();
  return block;
};
const framesOf = async (name: string): Promise<number> => {
  const bytes = await openFile(join(out, name));
  const { frames } = (await openSoundFile(bytes))!;
  await bytes.close();
  return frames;
};

describe("a programme from the command line", () => {
  it("is one file, with the pause that it has", async () => {
    await renderProject(await project("one file"), { out });
    expect(await readdir(out)).toEqual(["Two Songs - EBU R 128.wav"]);
    expect(await framesOf("Two Songs - EBU R 128.wav")).toBe(2.5 * RATE);
    expect(printed.join("")).toContain("passes    Two Songs - EBU R 128.wav");
  });
  it("is files that are as long as the whole together, or both", async () => {
    await renderProject(await project("both"), { out, json: true });
    const names = (await readdir(out)).sort();
    expect(names).toEqual(["01 Title 1 - EBU R 128.wav", "02 Title 2 - EBU R 128.wav", "Two Songs - EBU R 128.wav"]);
    const [first, second, whole] = await Promise.all(names.map(framesOf));
    expect(first! + second!).toBe(whole);
    const told = JSON.parse(printed.join("")) as { file: string; sha256: string; verdict: { pass: boolean } }[];
    expect(told.map(({ file }) => file).sort()).toEqual(names);
    for (const { file, sha256 } of told) expect((await hashFile(join(out, file))).hash).toBe(sha256);
  });
  it("in files alone leaves nothing else behind", async () => {
    await renderProject(await project("item files"), { out });
    expect((await readdir(out)).sort()).toEqual(["01 Title 1 - EBU R 128.wav", "02 Title 2 - EBU R 128.wav"]);
  });
});

describe("stretches of a programme's markers", () => {
  it("are a file each, sample for sample what the whole has there", async () => {
    const markers = [
      { id: "m1", name: "Retail sample", start: 0.25, end: 1.25 },
      { id: "m2", name: "", start: 2 },
    ];
    await renderProject(await project("marked stretches", { programme: { markers } }), { out });
    const names = ["Retail sample - EBU R 128.wav", "Stretch 2 - EBU R 128.wav"];
    expect((await readdir(out)).sort()).toEqual(names);
    expect(await framesOf(names[0]!)).toBe(RATE);
    expect(await framesOf(names[1]!)).toBe(RATE / 2);
    const path = await project("one file");
    await renderProject(path, { out });
    const whole = await samplesOf("Two Songs - EBU R 128.wav");
    const stretch = await samplesOf(names[0]!);
    expect(sameBits(stretch, slicePlanar(whole, RATE / 4, 1.25 * RATE))).toBe(true);
  });
});

describe("what cannot be rendered", () => {
  it("is told: a stretch that begins after the end, by its name", async () => {
    const markers = [{ id: "m1", name: "Encore", start: 60 }];
    await expect(renderProject(await project("marked stretches", { programme: { markers } }), { out })).rejects.toThrow(
      /Nothing is left of the stretch “Encore”/,
    );
  });
  it("is told: no programme wanted, nothing in the order", async () => {
    await expect(renderProject(await project(undefined), { out })).rejects.toThrow(/made of its programme/);
    await expect(renderProject(await project("one file", { items: [] }), { out })).rejects.toThrow(
      /order of this project is empty/,
    );
  });
  it("is told: a recording that is not there, by its name", async () => {
    const path = await project("one file");
    await rm(join(folder, "two.wav"));
    await expect(renderProject(path, { out })).rejects.toThrow(/“two\.wav” is not among the recordings/);
    expect(await readdir(out)).toEqual([]);
  });
  it("is told: a file that is no project", async () => {
    const path = join(folder, "Project.json");
    await writeFile(path, "{}");
    await expect(renderProject(path, { out })).rejects.toThrow(/is no project/);
    await writeFile(path, "{");
    await expect(renderProject(path, { out })).rejects.toThrow(/not valid JSON/);
  });
});
