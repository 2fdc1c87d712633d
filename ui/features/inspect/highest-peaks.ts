import type { TimeSeries } from "@core/measure/measurement";

/** A place that may hold one of the highest peaks: 100 ms, with the highest sample in them. */
export interface PeakWindow {
  /** Its middle, in seconds. */
  seconds: number;
  samplePeakDbfs: number;
}

/** One of the highest peaks. */
export interface HighPeak {
  seconds: number;
  /** True peak; while it is not measured, the highest sample, which it reaches at least. */
  peakDb: number;
  isMeasured: boolean;
  /** How much louder everything could be with this peak and all above it tamed. */
  gainWithoutDb: number;
}

/** Peaks nearer to each other than this count as one. */
const APART_SECONDS = 1;
/** The middle of a window and a peak in it. */
const WITHIN_SECONDS = 0.06;

/** The windows with the highest samples, each at least a second from the others. */
export function peakWindows({ hopSeconds, values }: TimeSeries, count: number): PeakWindow[] {
  const order = Array.from(values.keys())
    .filter((i) => values[i]! > -Infinity)
    .sort((a, b) => values[b]! - values[a]!);
  const chosen: number[] = [];
  const apart = APART_SECONDS / hopSeconds;
  for (const i of order) {
    if (chosen.length === count) break;
    if (chosen.every((other) => Math.abs(other - i) >= apart)) chosen.push(i);
  }
  return chosen.map((i) => ({ seconds: (i + 0.5) * hopSeconds, samplePeakDbfs: values[i]! }));
}

/** A true peak that was measured, and where. */
export interface MeasuredPeak {
  seconds: number;
  truePeakDbtp: number;
}

/**
 * The highest peaks, the highest first: those that were measured at their very place, the others where their window is.
 * Close ones are one.
 * @param measured of windows, in any order, and of the whole
 */
export function highestPeaks(windows: readonly PeakWindow[], measured: readonly MeasuredPeak[], count = 8): HighPeak[] {
  const unmeasured = windows.filter(
    ({ seconds }) => !measured.some((peak) => Math.abs(peak.seconds - seconds) <= WITHIN_SECONDS),
  );
  const all = [
    ...measured.map(({ seconds, truePeakDbtp }) => ({ seconds, peakDb: truePeakDbtp, isMeasured: true })),
    ...unmeasured.map(({ seconds, samplePeakDbfs }) => ({ seconds, peakDb: samplePeakDbfs, isMeasured: false })),
  ].sort((a, b) => b.peakDb - a.peakDb);
  const apart = all.filter(
    ({ seconds }, rank) => !all.slice(0, rank).some((higher) => Math.abs(higher.seconds - seconds) < APART_SECONDS),
  );
  const highest = apart[0]?.peakDb ?? 0;
  return apart.slice(0, count).map((peak, rank) => ({
    ...peak,
    gainWithoutDb: highest - (apart[rank + 1]?.peakDb ?? highest),
  }));
}
