import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { MemorySink, memorySource } from "@core/files/bytes";
import { readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import { SKETCH_PARTS, sketchedPeaks } from "@core/measure/waveform-sketch";
import { openSoundFile } from "@core/files/open";
import { WavWriter } from "@core/files/wav-writer";
import { layoutForChannels, layoutNamed } from "@core/audio/layout";
import { framesOf, type Planar } from "@core/audio/units";
import { noise, sameBits } from "@core/testing/signals";
import { FolderBlobs } from "../storage/blob-store";
import { openRecording, prepareRecording } from "./ingest";
import { attachment } from "../http/http-range";

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), "resonum-intake-"))));
afterAll(() => rm(folder, { recursive: true, force: true }));

async function wav(block: Planar): Promise<Uint8Array> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, {
    sampleRate: 48000,
    layout: layoutForChannels(block.length),
    format: "32f",
  });
  await writer.writeFloat(block, framesOf(block));
  await writer.finish();
  return sink.bytes();
}

async function prepared(bytes: Uint8Array, layout = null as Parameters<typeof prepareRecording>[1]) {
  const blobs = new FolderBlobs(join(folder, "blobs"));
  const path = join(folder, "in.wav");
  await writeFile(path, bytes);
  const drafts = { pcm: await blobs.draft(), overview: await blobs.draft() };
  const recording = await openRecording(memorySource(bytes), path);
  const fractions: number[] = [];
  const result = await prepareRecording(recording, layout, drafts, new AbortController().signal, (fraction) =>
    fractions.push(fraction),
  );
  const pcm = await blobs.open((await drafts.pcm.commit()).hash);
  const overview = await blobs.open((await drafts.overview.commit()).hash);
  return { result, pcm, overview, fractions };
}

describe("taking a recording in", () => {
  it("keeps its samples bit for bit, with figures and an overview from the same pass", async () => {
    const block = [noise(2, 48000, -6, 1), noise(2, 48000, -12, 2)];
    const { result, pcm, overview, fractions } = await prepared(await wav(block));
    const file = (await openSoundFile(pcm))!;
    expect(sameBits(await file.read(0, file.frames), block)).toBe(true);
    expect(await readWaveformPeaksHeader(overview)).toMatchObject({ frames: 96_000, channels: 2, sampleRate: 48000 });
    expect(result.figures).toMatchObject({ frames: 96_000, layout: "stereo", nonFiniteSamples: 0 });
    expect(fractions.at(-1)).toBe(1);
    await pcm.close();
    await overview.close();
  });
  it("tells its outline while it is read, as far as it was read", async () => {
    const loud = noise(2, 48000, -6, 1);
    const bytes = await wav([loud.map((v, i) => (i < 48_000 ? v : 0))]);
    const blobs = new FolderBlobs(join(folder, "blobs"));
    const drafts = { pcm: null, overview: await blobs.draft() };
    const recording = await openRecording(memorySource(bytes), join(folder, "in.wav"));
    const lengths: number[] = [];
    let last: number[] = [];
    await prepareRecording(recording, null, drafts, new AbortController().signal, (_, sketch) => {
      last = sketchedPeaks(sketch.text());
      lengths.push(last.length);
    });
    expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
    expect(last).toHaveLength(SKETCH_PARTS);
    expect(Math.min(...last.slice(0, SKETCH_PARTS / 2 - 1))).toBeGreaterThan(0.2);
    expect(Math.max(...last.slice(SKETCH_PARTS / 2 + 1))).toBe(0);
  });
  it("counts what is no number, and says so", async () => {
    const x = noise(1, 48000, -6, 3);
    x[100] = NaN;
    x[101] = Infinity;
    const { result, pcm, overview } = await prepared(await wav([x]));
    expect(result.figures.nonFiniteSamples).toBe(2);
    expect(result.warnings.join()).toMatch(/2 samples are not numbers/);
    await pcm.close();
    await overview.close();
  });
  it("takes the layout that a person chose, and says when it had to guess", async () => {
    const block = Array.from({ length: 8 }, (_, c) => noise(1, 48000, -20, c + 1));
    const bytes = await wav(block);
    const chosen = await prepared(bytes, layoutNamed("5.1.2")!);
    expect(chosen.result.layout.name).toBe("5.1.2");
    const twelve = await prepared(await wav(Array.from({ length: 12 }, (_, c) => noise(0.5, 48000, -20, c + 1))));
    expect(twelve.result.warnings.join()).toMatch(/does not say which channel is which; it was taken for 7\.1\.4/);
    for (const { pcm, overview } of [chosen, twelve]) {
      await pcm.close();
      await overview.close();
    }
  });
  it("stops when it is told to", async () => {
    const bytes = await wav([noise(3, 48000, -6, 4)]);
    const path = join(folder, "stop.wav");
    await writeFile(path, bytes);
    const blobs = new FolderBlobs(join(folder, "blobs"));
    const drafts = { pcm: await blobs.draft(), overview: await blobs.draft() };
    const stop = new AbortController();
    const recording = await openRecording(memorySource(bytes), path);
    const work = prepareRecording(recording, null, drafts, stop.signal, () => stop.abort());
    await expect(work).rejects.toThrow(/Cancelled/);
    await drafts.pcm.discard();
    await drafts.overview.discard();
  });
});

describe("names of downloads", () => {
  it("say any name, and nothing that a header could misread", () => {
    expect(attachment("Low Door.wav")).toBe(`attachment; filename="Low Door.wav"; filename*=UTF-8''Low%20Door.wav`);
    const odd = attachment('Größe "quer"\r\nX: 1.wav');
    expect(odd).not.toMatch(/[\r\n]/);
    expect(odd).toContain('filename="Gr__e _quer___X: 1.wav"');
  });
});
