import { afterEach, describe, expect, it, vi } from "vitest";
import { MemorySink } from "@core/files/bytes";
import { HEADER_BYTES, waveformPeaksTail } from "@core/measure/waveform-peaks-file";
import { WavWriter } from "@core/files/wav-writer";
import { Measurer } from "@core/measure";
import { WaveformPeaksBuilder, VALUES } from "@core/measure/waveform-peaks";
import { layoutNamed } from "@core/audio/layout";
import { noise } from "@core/testing/signals";
import { rangeServer } from "@core/testing/range-server";
import { RecordingOverview } from "./recording-overview";

const RATE = 48000;
const x = noise(30, RATE, -6, 1);
x.fill(0, 10 * RATE, 12 * RATE);
x[11 * RATE] = 0.9;

async function files() {
  const layout = layoutNamed("mono")!;
  const builder = new WaveformPeaksBuilder(1, x.length);
  builder.process([x], x.length);
  const coarser = builder.finish();
  const base = builder.drain();
  const measurer = new Measurer({ sampleRate: RATE, layout });
  measurer.process([x]);
  const { tail, header } = waveformPeaksTail(
    { sampleRate: RATE, channels: 1, frames: x.length },
    base.length,
    coarser,
    measurer.result().curves,
  );
  const overview = new MemorySink();
  await overview.write(new Uint8Array(HEADER_BYTES));
  await overview.write(new Uint8Array(base.buffer));
  for (const part of tail) await overview.write(part);
  await overview.patch(0, header);
  const pcm = new MemorySink();
  const writer = await WavWriter.open(pcm, { sampleRate: RATE, layout, format: "32f" });
  await writer.writeFloat([x], x.length);
  await writer.finish();
  return { "/overview": overview.bytes(), "/pcm": pcm.bytes() };
}

afterEach(() => vi.unstubAllGlobals());

async function opened() {
  vi.stubGlobal("fetch", rangeServer(await files()).fetch);
  let arrivals = 0;
  const data = await RecordingOverview.open("/overview", "/pcm", () => arrivals++);
  const settled = () => vi.waitFor(() => expect(arrivals).toBeGreaterThan(0));
  return { data, settled, arrived: () => arrivals };
}

const extremes = (from: number, to: number) => {
  const part = x.subarray(from, to);
  return { min: Math.min(...part), max: Math.max(...part) };
};

describe("what is drawn of a recording", () => {
  it("is never blank: coarse at once, fine when it has arrived", async () => {
    const { data, arrived } = await opened();
    const before = arrived();
    const coarse = data.columns(0, 256, 1000)[0]!;
    expect(coarse.some((v) => Number.isNaN(v))).toBe(false);
    await vi.waitFor(() => expect(arrived()).toBeGreaterThan(before));
    const fine = data.columns(0, 256, 1000)[0]!;
    const { min, max } = extremes(256 * 7, 256 * 8);
    expect(fine[7 * VALUES]).toBe(min);
    expect(fine[7 * VALUES + 1]).toBe(max);
  });

  it("shows a single high sample however far away it is looked at", async () => {
    const { data } = await opened();
    const perPixel = x.length / 900;
    const column = data.columns(0, perPixel, 900)[0]!;
    const at = Math.floor((11 * RATE) / perPixel);
    expect(column[at * VALUES + 1]).toBeCloseTo(0.9, 6);
  });

  it("draws nothing outside of the recording", async () => {
    const { data } = await opened();
    const column = data.columns(x.length + 1000, 256, 10)[0]!;
    expect(column.every((v) => Number.isNaN(v))).toBe(true);
  });

  it("gives the samples themselves when close, with some to spare on both sides", async () => {
    const { data } = await opened();
    expect(data.samples(100_000, 100_500)).toBeUndefined();
    const held = await vi.waitFor(() => {
      const samples = data.samples(100_000, 100_500);
      expect(samples).toBeDefined();
      return samples!;
    });
    expect(held.start).toBeLessThan(100_000);
    const i = 100_123 - held.start;
    expect(held.block[0]![i]).toBe(x[100_123]);
    expect(data.samples(100_100, 100_600)).toBe(held);
  });
});
