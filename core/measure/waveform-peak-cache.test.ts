import { describe, expect, it } from "vitest";
import { VALUES } from "./waveform-peaks";
import { BIN, binsOf, WaveformPeakCache } from "./waveform-peak-cache";

describe("bins of repaired segments", () => {
  const ramp = Float32Array.from({ length: 4 * BIN }, (_, i) => i / (4 * BIN));
  it("tell the lowest, the highest and the mean power of their frames", () => {
    const [bins] = binsOf([ramp]);
    expect(bins!.length).toBe(4 * VALUES);
    expect([bins![VALUES], bins![VALUES + 1]]).toEqual([0.25, ramp[2 * BIN - 1]]);
    expect(bins![VALUES + 2]!).toBeCloseTo(0.377, 2);
  });
  it("are drawn over what was there, where they are known and the view is wide enough", () => {
    const segments = new WaveformPeakCache(4 * BIN);
    segments.put(1, binsOf([ramp]));
    const columns = () => [new Float32Array(4 * VALUES).fill(9)];
    const wide = columns();
    segments.drawOver(wide, 2 * BIN, 2 * BIN);
    // One column before the segment, two in it, one behind.
    expect([0, 1, 2, 3].map((x) => wide[0]![x * VALUES])).toEqual([9, 0, 0.5, 9]);
    const close = columns();
    segments.drawOver(close, 4 * BIN, BIN / 2);
    expect(close).toEqual(columns());
  });
  it("are kept by the hundreds, the oldest given up", () => {
    const segments = new WaveformPeakCache(BIN);
    for (let i = 0; i <= WaveformPeakCache.MOST; i++) segments.put(i, [new Float32Array([0.1, 0.2, 0.3])]);
    const columns = [new Float32Array(2 * VALUES).fill(9)];
    segments.drawOver(columns, 0, BIN);
    expect(columns[0]![0]).toBe(9);
    expect(columns[0]![VALUES]).toBeCloseTo(0.1, 6);
  });
});
