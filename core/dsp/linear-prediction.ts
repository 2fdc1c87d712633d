/** Linear prediction: what the samples around tell of one, and how to fill those that are missing (Godsill & Rayner 1998). */
import { square } from "../math/deterministic-math";

/**
 * Coefficients a[1…order] of the predictor of `x[from…to)` by the autocorrelation method under a Hann window
 * (Levinson & Durbin); a[0] = 1, so that Σ a[k]·x[n − k] is what cannot be predicted. Samples with `skip` count as 0.
 */
export function predictor(x: Float64Array, from: number, to: number, order: number, skip?: Uint8Array): Float64Array {
  const length = to - from;
  const windowed = new Float64Array(length);
  for (let i = 0; i < length; i++) {
    const d = (2 * i + 1 - length) / length;
    // A Welch window: 1 − d², near enough to Hann and without a cosine for each sample.
    windowed[i] = skip?.[from + i] ? 0 : x[from + i]! * (1 - d * d);
  }
  const r = new Float64Array(order + 1);
  // Four lags at a time: hot, half the order a sample.
  for (let k = 0; k <= order; k += 4) {
    let [a0, a1, a2, a3] = [0, 0, 0, 0];
    for (let i = 0; i + k + 3 < length; i++) {
      const v = windowed[i]!;
      a0 += v * windowed[i + k]!;
      a1 += v * windowed[i + k + 1]!;
      a2 += v * windowed[i + k + 2]!;
      a3 += v * windowed[i + k + 3]!;
    }
    // What is left at the window's end is next to nothing, but for the lag of 0 it decides.
    for (let i = Math.max(0, length - k - 3); i < length - k; i++) a0 += windowed[i]! * windowed[i + k]!;
    r[k] = a0;
    if (k + 1 <= order) r[k + 1] = a1;
    if (k + 2 <= order) r[k + 2] = a2;
    if (k + 3 <= order) r[k + 3] = a3;
  }
  const a = new Float64Array(order + 1);
  a[0] = 1;
  if (r[0] === 0) return a;
  // White noise 100 dB below keeps band-limited sound solvable.
  let error = r[0]! * (1 + 1e-10);
  r[0] = error;
  const before = new Float64Array(order + 1);
  for (let m = 1; m <= order; m++) {
    let sum = r[m]!;
    for (let k = 1; k < m; k++) sum += a[k]! * r[m - k]!;
    const reflection = -sum / error;
    before.set(a);
    for (let k = 1; k < m; k++) a[k] = before[k]! + reflection * before[m - k]!;
    a[m] = reflection;
    error *= 1 - reflection * reflection;
    if (!(error > 0)) break;
  }
  return a;
}

/** Samples to fill. */
export interface Gap {
  /** Indices of the first and the one after the last. */
  from: number;
  to: number;
  /** Power of what usually cannot be predicted there; with 0 what the gap holds counts for nothing. */
  errorPower: number;
}

/**
 * Takes from the samples of `gaps` (rising, apart) in `x` what was added to them: first they count as missing and are
 * filled so that prediction errors become least, all at once, for each stands in what the others are filled from; then
 * what they hold is weighed in by how much was found to be added to each (Godsill & Rayner 1998, ch. 9), so that a
 * small disturbance costs little of the sound under it. `a` as `predictor` gives it.
 */
export function interpolateGaps(x: Float64Array, gaps: readonly Gap[], a: Float64Array): void {
  const places = gaps.flatMap(({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i));
  const held = places.map((place) => x[place]!);
  const trust = new Float64Array(places.length);
  solveGaps(x, places, a, trust, held);
  let first = 0;
  for (const { from, to, errorPower } of gaps) {
    const end = first + to - from;
    let added = 0;
    for (let i = first; i < end; i++) added += square(held[i]! - x[places[i]!]!) / (to - from);
    if (added > 0 && errorPower > 0) trust.fill(errorPower / added, first, end);
    first = end;
  }
  if (trust.some((share) => share > 0)) solveGaps(x, places, a, trust, held);
}

/** Solves the normal equations, banded by the predictor's order, by Cholesky's method. */
function solveGaps(
  x: Float64Array,
  gap: readonly number[],
  a: Float64Array,
  trust: Float64Array,
  held: readonly number[],
): void {
  const order = a.length - 1;
  const m = gap.length;
  const correlation = new Float64Array(order + 1);
  for (let k = 0; k <= order; k++) for (let i = 0; i + k <= order; i++) correlation[k]! += a[i]! * a[i + k]!;
  const [first, last] = [gap[0]!, gap[m - 1]!];
  const missing = new Uint8Array(last - first + 1);
  for (const place of gap) missing[place - first] = 1;
  const right = new Float64Array(m);
  for (let i = 0; i < m; i++) {
    let sum = trust[i]! * held[i]!;
    for (let k = -order; k <= order; k++) {
      const place = gap[i]! + k;
      if (place >= 0 && place < x.length && !missing[place - first]) sum -= correlation[Math.abs(k)]! * x[place]!;
    }
    right[i] = sum;
  }
  // Rows of the lower triangle, as wide as the band.
  const band = order + 1;
  const lower = new Float64Array(m * band);
  const at = (i: number, j: number) => i * band + (j - i + order);
  for (let i = 0; i < m; i++) {
    for (let j = Math.max(0, i - order); j <= i; j++) {
      const distance = gap[i]! - gap[j]!;
      let sum = distance <= order ? correlation[distance]! : 0;
      if (i === j) sum = sum * (1 + 1e-12) + trust[i]!;
      for (let k = Math.max(0, i - order, j - order); k < j; k++) sum -= lower[at(i, k)]! * lower[at(j, k)]!;
      lower[at(i, j)] = i === j ? Math.sqrt(Math.max(sum, 1e-30)) : sum / lower[at(j, j)]!;
    }
  }
  for (let i = 0; i < m; i++) {
    let sum = right[i]!;
    for (let k = Math.max(0, i - order); k < i; k++) sum -= lower[at(i, k)]! * right[k]!;
    right[i] = sum / lower[at(i, i)]!;
  }
  for (let i = m - 1; i >= 0; i--) {
    let sum = right[i]!;
    for (let k = i + 1; k <= Math.min(m - 1, i + order); k++) sum -= lower[at(k, i)]! * right[k]!;
    right[i] = sum / lower[at(i, i)]!;
  }
  gap.forEach((place, i) => (x[place] = right[i]!));
}
