import { describe, expect, it } from "vitest";
import { Measurer } from ".";
import { BASE_BIN, WaveformPeaksBuilder, VALUES } from "./waveform-peaks";
import { layoutNamed } from "../audio/layout";
import { slicePlanar } from "../audio/units";
import { noise } from "../testing/signals";
import { FileProblem, MemorySink, memorySource } from "../files/bytes";
import { HEADER_BYTES, waveformPeaksTail, readBins, readCurves, readWaveformPeaksHeader } from "./waveform-peaks-file";

async function made(blockSize: number) {
  const x = [noise(8.3, 48000, -3, 1), noise(8.3, 48000, -9, 2)];
  const frames = x[0]!.length;
  const builder = new WaveformPeaksBuilder(2, frames);
  const measurer = new Measurer({ sampleRate: 48000, layout: layoutNamed("stereo")! });
  const sink = new MemorySink();
  await sink.write(new Uint8Array(HEADER_BYTES));
  let base = 0;
  const drain = async () => {
    const bins = builder.drain();
    base += bins.length;
    await sink.write(new Uint8Array(bins.buffer));
  };
  for (let at = 0; at < frames; at += blockSize) {
    const block = slicePlanar(x, at, Math.min(frames, at + blockSize));
    builder.process(block, block[0]!.length);
    measurer.process(block);
    await drain();
  }
  const coarser = builder.finish();
  await drain();
  const { tail, header } = waveformPeaksTail(
    { sampleRate: 48000, channels: 2, frames },
    base,
    coarser,
    measurer.result().curves,
  );
  for (const part of tail) await sink.write(part);
  await sink.patch(0, header);
  return { x, frames, bytes: sink.bytes() };
}

describe("overview file", () => {
  it.each(["", "{", '{"version": 1}', "\u0000".repeat(HEADER_BYTES)])("says that %j is none", async (text) => {
    const source = memorySource(new TextEncoder().encode(text));
    await expect(readWaveformPeaksHeader(source)).rejects.toThrow(FileProblem);
  });
  it("holds the true extremes and RMS of each bin at every level", async () => {
    const { x, frames, bytes } = await made(5000);
    const source = memorySource(bytes);
    const header = await readWaveformPeaksHeader(source);
    expect(header.levels.length).toBeGreaterThan(1);
    for (const level of header.levels) {
      expect(level.count).toBe(Math.ceil(frames / level.binFrames));
      const bins = await readBins(source, header, level, 0, level.count);
      for (const bin of [0, 1, level.count - 1]) {
        for (const c of [0, 1]) {
          const part = x[c]!.subarray(bin * level.binFrames, (bin + 1) * level.binFrames);
          const at = (bin * 2 + c) * VALUES;
          expect(bins[at]).toBe(Math.min(...part));
          expect(bins[at + 1]).toBe(Math.max(...part));
          expect(bins[at + 2]).toBeCloseTo(Math.sqrt(part.reduce((sum, v) => sum + v * v, 0) / part.length), 6);
        }
      }
    }
  });
  it("does not depend on block sizes", async () => {
    expect((await made(BASE_BIN * 3 + 1)).bytes).toEqual((await made(48000)).bytes);
  });
  it("gives its curves back", async () => {
    const source = memorySource((await made(48000)).bytes);
    const curves = await readCurves(source, await readWaveformPeaksHeader(source));
    expect(curves.momentaryLufs.values).toHaveLength(83);
    expect(curves.samplePeakDbfs.values[10]).toBeCloseTo(-3, 1);
  });
});
