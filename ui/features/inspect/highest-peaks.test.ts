import { describe, expect, it } from "vitest";
import { highestPeaks } from "./highest-peaks";

describe("what sets the peak", () => {
  it("lists peaks apart from each other, and the gain without each and those above it", () => {
    const values = new Float32Array(100).fill(-20);
    values[10] = -1;
    values[11] = -1.5; // the same peak
    values[50] = -4;
    values[80] = -6;
    const peaks = highestPeaks({ hopSeconds: 0.1, columns: 1, values }, 3);
    expect(peaks.map(({ seconds }) => Math.round(seconds * 100) / 100)).toEqual([1.05, 5.05, 8.05]);
    expect(peaks.map(({ gainWithoutDb }) => gainWithoutDb)).toEqual([3, 5, 19]);
  });
  it("finds none in silence", () =>
    expect(highestPeaks({ hopSeconds: 0.1, columns: 1, values: new Float32Array(5).fill(-Infinity) })).toEqual([]));
});
