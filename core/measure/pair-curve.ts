import { exp10 } from "../math/deterministic-math";
import { correlationOf } from "./correlation";
import type { TimeSeries } from "./measurement";
import { pairsOf } from "./analysis-block";

/** Quieter windows are silence: −80 dBFS. */
const LEAST_MEAN_SQUARE = 1e-8;

/** Correlation of a pair over time. */
export interface PairCurve {
  pair: readonly [number, number];
  hopSeconds: number;
  /** NaN where the pair was not judged. */
  values: Float32Array;
  /** Over all windows that were judged; `null` where none was. */
  correlation: number | null;
  /** Part of the windows that were judged, 0…1. */
  judged: number;
}

/**
 * Correlation over time of every pair of channels, from the sums that `correlation` keeps. A window is judged while the
 * weaker channel is within `withinDb` of the stronger; Infinity judges all that sounds.
 */
export function pairCurves(
  { values, columns, hopSeconds }: TimeSeries,
  speakers: readonly { lfe: boolean }[],
  sampleRate: number,
  withinDb: number,
): PairCurve[] {
  const rows = columns === 0 ? 0 : values.length / columns;
  const least = LEAST_MEAN_SQUARE * sampleRate * hopSeconds;
  const ratio = exp10(-withinDb / 10);
  return pairsOf(speakers).map((pair, index) => {
    const curve = new Float32Array(rows).fill(NaN);
    let [cross, first, second, judged] = [0, 0, 0, 0];
    for (let row = 0; row < rows; row++) {
      const a = values[row * columns + pair[0]]!;
      const b = values[row * columns + pair[1]]!;
      const product = values[row * columns + speakers.length + index]!;
      if (Math.max(a, b) < least || Math.min(a, b) < ratio * Math.max(a, b)) continue;
      curve[row] = correlationOf(product, a, b) ?? NaN;
      cross += product;
      first += a;
      second += b;
      judged++;
    }
    return {
      pair,
      hopSeconds,
      values: curve,
      correlation: correlationOf(cross, first, second),
      judged: rows === 0 ? 0 : judged / rows,
    };
  });
}
