import { describe, expect, it } from "vitest";
import { memoryFrames, noise, sine } from "../testing/signals";
import { soloSource } from "./solo-source";

const RATE = 48_000;

describe("a part of a recording", () => {
  const low = sine(200, -12, 1, RATE);
  const high = sine(8000, -12, 1, RATE);
  const both = low.map((v, i) => v + high[i]!);
  const source = memoryFrames([both, noise(1, RATE, -20, 4)], RATE);

  it("is one channel of it, the same samples", async () => {
    const part = soloSource(source, { channels: [0] });
    expect(part).toMatchObject({ channels: 1, frames: RATE, sampleRate: RATE });
    expect(await part.read(100, 50)).toEqual([both.subarray(100, 150)]);
  });
  it("is several channels of it, in the order in which they are named", async () => {
    const part = await soloSource(source, { channels: [1, 0] }).read(100, 50);
    expect(part).toHaveLength(2);
    expect(part[1]).toEqual(both.subarray(100, 150));
  });
  it("is a band of it, read on without a seam, and the recording stays as it is", async () => {
    const part = soloSource(source, { channels: [0], band: { low: 50, high: 1000 } });
    const first = (await part.read(0, 20_000))[0]!.slice();
    const second = (await part.read(20_000, 20_000))[0]!.slice();
    const whole = (await soloSource(source, { channels: [0], band: { low: 50, high: 1000 } }).read(0, 40_000))[0]!;
    expect(first).toEqual(whole.subarray(0, 20_000));
    expect(second).toEqual(whole.subarray(20_000));
    const peak = second.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
    expect(20 * Math.log10(peak)).toBeCloseTo(-12, 0);
    expect((await source.read(0, 10))[0]).toEqual(both.subarray(0, 10));
  });
});
