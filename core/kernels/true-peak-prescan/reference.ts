/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { kaiserPhases } from "../../math/kaiser";

/** Pairs of taps of the half-sample interpolator. */
export const PRESCAN_PAIRS = 6;

/** Samples whose largest magnitude is told together. */
export const PRESCAN_GROUP = 16;

export const PRESCAN_TAPS = Float32Array.from(kaiserPhases(2, 2 * PRESCAN_PAIRS, 40)[1]!.subarray(0, PRESCAN_PAIRS));

/** A point halfway is at most this much above the samples around it; a little more, for rounding. */
export const PRESCAN_GAIN = 1.0001 * 2 * PRESCAN_TAPS.reduce((sum, tap) => sum + Math.abs(tap), 0);

/**
 * Largest magnitude of each group of samples from `from`, of the points half a sample after each, and of the sample
 * that follows; 0 where no sample of the group and of those beside it is above `quiet`.
 * @param x   samples, valid a group before the first and a group after the last
 * @param out one value a group
 */
export function referencePrescan(
  x: Float32Array,
  from: number,
  groups: number,
  quiet: number,
  out: Float32Array,
): void {
  const f = Math.fround;
  const line = f(quiet);
  for (let g = 0; g < groups; g++) {
    const first = from + g * PRESCAN_GROUP;
    if (x.subarray(first - PRESCAN_GROUP, first + 2 * PRESCAN_GROUP).every((v) => Math.abs(v) <= line)) {
      out[g] = 0;
      continue;
    }
    let most = Math.abs(x[first + PRESCAN_GROUP]!);
    for (let at = first; at < first + PRESCAN_GROUP; at++) {
      let middle = 0;
      for (let t = 0; t < PRESCAN_PAIRS; t++) {
        const sum = f(x[at - PRESCAN_PAIRS + 1 + t]! + x[at + PRESCAN_PAIRS - t]!);
        middle = f(middle + f(PRESCAN_TAPS[t]! * sum));
      }
      most = Math.max(most, Math.abs(x[at]!), Math.abs(middle));
    }
    out[g] = most;
  }
}

/** Prescans `groups` groups of samples from `from`: see `referencePrescan`. The result is good until the next call. */
export type TruePeakPrescan = (from: number, groups: number, quiet: number) => Float32Array;

/** The reference implementation over samples of `mostSamples` at most. */
export function referencePrescanOf(samples: Float32Array, mostSamples: number): TruePeakPrescan {
  const told = new Float32Array(Math.ceil(mostSamples / PRESCAN_GROUP));
  return (from, groups, quiet) => {
    referencePrescan(samples, from, groups, quiet, told);
    return told;
  };
}
