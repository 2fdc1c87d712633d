import type { TimeSeries } from "@core/measure/measurement";

export interface HighPeak {
  /** Middle of the 100 ms that it lies in. */
  seconds: number;
  peakDb: number;
  /** How much louder everything could be with this peak and all above it tamed. */
  gainWithoutDb: number;
}

/** Peaks nearer to each other than this count as one. */
const APART_SECONDS = 1;

/** The highest peaks, each at least a second from the others, with what they cost. */
export function highestPeaks({ hopSeconds, values }: TimeSeries, count = 8): HighPeak[] {
  const order = Array.from(values.keys())
    .filter((i) => values[i]! > -Infinity)
    .sort((a, b) => values[b]! - values[a]!);
  const chosen: number[] = [];
  const apart = APART_SECONDS / hopSeconds;
  for (const i of order) {
    if (chosen.length > count) break;
    if (chosen.every((other) => Math.abs(other - i) >= apart)) chosen.push(i);
  }
  const highest = values[chosen[0] ?? 0] ?? 0;
  return chosen.slice(0, count).map((i, rank) => ({
    seconds: (i + 0.5) * hopSeconds,
    peakDb: values[i]!,
    gainWithoutDb: highest - (values[chosen[rank + 1] ?? i] ?? highest),
  }));
}
