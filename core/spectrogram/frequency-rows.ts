/** The rows of a picture over frequency: each has a band, evenly spaced on a linear, logarithmic or mel scale. */
import { exp, log } from "../math/deterministic-math";
import type { Hertz } from "../audio/units";

export const FREQUENCY_SCALES = ["linear", "log", "mel"] as const;
export type FrequencyScale = (typeof FREQUENCY_SCALES)[number];

/** From a frequency to its place on the scale, and back. Mel after O'Shaughnessy 1987. */
const SCALES: Record<FrequencyScale, { place: (hertz: Hertz) => number; hertz: (place: number) => Hertz }> = {
  linear: { place: (hertz) => hertz, hertz: (place) => place },
  log: { place: (hertz) => log(hertz), hertz: (place) => exp(place) },
  mel: { place: (hertz) => 1127 * log(1 + hertz / 700), hertz: (place) => 700 * (exp(place / 1127) - 1) },
};

export interface FrequencyAxis {
  scale: FrequencyScale;
  low: Hertz;
  high: Hertz;
}

/** Where a frequency lies between the bottom (0) and the top (1) of an axis; outside of it below 0 or above 1. */
export function shareOf(hertz: Hertz, { scale, low, high }: FrequencyAxis): number {
  const { place } = SCALES[scale];
  return (place(Math.max(hertz, 1e-3)) - place(low)) / (place(high) - place(low));
}

/** The frequency at a share of the axis. */
export function hertzAt(share: number, { scale, low, high }: FrequencyAxis): Hertz {
  const { place, hertz } = SCALES[scale];
  return hertz(place(low) + share * (place(high) - place(low)));
}

/** The lower edge of each of `rows` rows, and the upper one of the last. */
export const rowEdges = (axis: FrequencyAxis, rows: number): Float64Array =>
  Float64Array.from({ length: rows + 1 }, (_, row) => hertzAt(row / rows, axis));

/**
 * Powers of the rows from the powers of a spectrum's bins: the largest bin of each, or between two of them where a row
 * is narrower than a bin.
 */
export function rowsOfBins(power: ArrayLike<number>, binWidth: Hertz, edges: Float64Array, out: Float32Array): void {
  const last = power.length - 1;
  for (let row = 0; row < out.length; row++) {
    const from = edges[row]! / binWidth;
    const to = edges[row + 1]! / binWidth;
    const first = Math.ceil(from);
    if (first >= to || first > last) {
      const middle = Math.min(last, (from + to) / 2);
      const below = Math.floor(middle);
      const part = middle - below;
      out[row] = (1 - part) * power[below]! + part * power[Math.min(last, below + 1)]!;
      continue;
    }
    let most = 0;
    for (let k = first; k < to && k <= last; k++) if (power[k]! > most) most = power[k]!;
    out[row] = most;
  }
}
