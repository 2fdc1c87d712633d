import { describe, expect, it } from "vitest";
import { noise } from "../../testing/signals";
import { kaiserPhases } from "../../math/kaiser";
import { referenceSampleRateConverter, wasmSampleRateConverter, type SampleRateConverterPlan } from ".";

const filter = Float64Array.from({ length: 97 }, (_, i) => Math.exp(-(((i - 48) / 12) ** 2)) / 20);

describe("rate lines", () => {
  it.each([
    { size: 512, raise: 2, lower: 1, up: 80, down: 147 },
    { size: 256, raise: 1, lower: 1, up: 1, down: 3 },
    { size: 1024, raise: 1, lower: 4, up: 1, down: 1 },
    { size: 1024, raise: 1, lower: 2, up: 147, down: 320 },
    { size: 512, raise: 2, lower: 1, up: 3, down: 1 },
  ])("give the same bits by WebAssembly and without ($raise, $lower, $up/$down)", (sizes) => {
    const phases = sizes.up === 1 ? null : kaiserPhases(sizes.up, 24, 160);
    const plan: SampleRateConverterPlan = { ...sizes, filter, phases, delay: 48 / sizes.lower };
    const [fast, plain] = [wasmSampleRateConverter(plan)!, referenceSampleRateConverter(plan)];
    const seconds = (8 * fast.blockFrames) / 48000;
    const [a, b] = [noise(seconds, 48000, -6, 1), noise(seconds, 48000, -6, 2)];
    let points = 0;
    for (let at = 0; at + fast.blockFrames <= a.length; at += fast.blockFrames) {
      const block = [a, b].map((x) => x.subarray(at, at + fast.blockFrames)) as [Float32Array, Float32Array];
      const [x, y] = [fast.next(...block), plain.next(...block)];
      expect(x).toEqual(y);
      points += x[0].length;
    }
    expect(points).toBeGreaterThan(0);
  });
});
