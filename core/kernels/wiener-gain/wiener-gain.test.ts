import { describe, expect, it } from "vitest";
import { noise, sameBits } from "../../testing/signals";
import { referenceWienerGain, wasmWienerGain } from ".";

const positive = (bins: number, seed: number): Float32Array =>
  noise(bins / 48_000, 48_000, 0, seed).map((v) => Math.abs(v));

describe("the Wiener gain", () => {
  it.each([33, 513, 1025])("%d bins: the same bits by WebAssembly and without", (bins) => {
    const floor = positive(bins, 20).map((v) => 0.3 * v);
    floor[3] = 0;
    const least = new Float32Array(bins).fill(0.1);
    const frames = [1, 2, 3, 4].map((seed) => positive(bins, seed));
    frames[2]!.fill(0, 0, 9);
    const results = [wasmWienerGain(bins)!, referenceWienerGain(bins)].map((rows) => {
      const cleanPsds = frames.map(() => new Float32Array(bins));
      rows.begin(frames[0]!, floor);
      frames.forEach((power, t) => rows.cleanPsd(power, floor, cleanPsds[t]!, false));
      rows.begin(frames[3]!, floor);
      frames.forEach((_, t) => rows.cleanPsd(frames[3 - t]!, floor, cleanPsds[3 - t]!, true));
      const gains = new Float32Array(bins);
      rows.gains({ earlier: cleanPsds[0]!, clean: cleanPsds[1]!, later: cleanPsds[2]! }, floor, least, gains);
      return [...cleanPsds, gains];
    });
    expect(sameBits(results[0]!, results[1]!)).toBe(true);
    expect(results[0]!.at(-1)!.every((gain) => gain >= Math.fround(0.1) && gain <= 1)).toBe(true);
  });
});
