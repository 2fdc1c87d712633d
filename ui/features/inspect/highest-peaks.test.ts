import { describe, expect, it } from "vitest";
import { highestPeaks, peakWindows } from "./highest-peaks";

const values = new Float32Array(100).fill(-20);
values[10] = -1;
values[11] = -1.5; // the same peak
values[50] = -4;
values[80] = -6;
const series = { hopSeconds: 0.1, columns: 1, values };
const rounded = (seconds: number) => Math.round(seconds * 100) / 100;

describe("what sets the peak", () => {
  it("lies in windows apart from each other, the highest sample first", () => {
    const windows = peakWindows(series, 3);
    expect(windows.map(({ seconds, samplePeakDbfs }) => [rounded(seconds), samplePeakDbfs])).toEqual([
      [1.05, -1],
      [5.05, -4],
      [8.05, -6],
    ]);
    expect(peakWindows({ hopSeconds: 0.1, columns: 1, values: new Float32Array(5).fill(-Infinity) }, 3)).toEqual([]);
  });
  it("is told at its very place once it is measured, and at least as high as its highest sample before", () => {
    const windows = peakWindows(series, 3);
    const before = highestPeaks(windows, []);
    expect(before.map(({ peakDb, isMeasured }) => [peakDb, isMeasured])).toEqual([
      [-1, false],
      [-4, false],
      [-6, false],
    ]);
    const after = highestPeaks(windows, [{ seconds: 5.0123, truePeakDbtp: -3.25 }]);
    expect(after[1]).toMatchObject({ seconds: 5.0123, peakDb: -3.25, isMeasured: true });
    expect(after).toHaveLength(3);
  });
  it("begins with the highest true peak, though its samples are not the highest", () => {
    const windows = peakWindows(series, 2);
    const measured = [
      { seconds: 1.04, truePeakDbtp: -0.9 },
      { seconds: 5.06, truePeakDbtp: 0.4 },
    ];
    const peaks = highestPeaks(windows, measured);
    expect(peaks.map(({ seconds }) => seconds)).toEqual([5.06, 1.04]);
    expect(peaks[0]!.gainWithoutDb).toBeCloseTo(1.3, 9);
  });
  it("names no place twice: close ones are one, the highest of them", () => {
    const measured = [0.99, 0.991, 1.2, 1.9].map((seconds, i) => ({ seconds, truePeakDbtp: -1 - i / 10 }));
    const peaks = highestPeaks([], [...measured, { seconds: 4, truePeakDbtp: -5 }]);
    expect(peaks.map(({ seconds }) => seconds)).toEqual([0.99, 4]);
    expect(peaks[0]!.gainWithoutDb).toBeCloseTo(4, 9);
  });
});
