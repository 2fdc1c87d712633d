/**
 * Digital filters that follow their analogue prototypes up to the top of hearing, without delay. Poles and zeros are
 * mapped by z = e^{sT}; what the magnitude then lacks is a smooth function of frequency, and a short minimum-phase
 * FIR filter, fitted to it by least squares on its autocorrelation, puts it right. (After the idea of Vicanek,
 * "Matched second order digital filters", 2016, whose numerators have three taps; here they have as many as it takes.)
 */
import { Fft } from "../math/fft";
import { exp, log, sinCosTurns, square } from "../math/deterministic-math";
import { solve } from "../math/linear-system";
import { powerAt, type AnalogueBiquad } from "./analogue-filter";
import type { Biquad } from "../kernels/biquad-cascade";
import type { Hertz } from "../audio/units";

export interface MatchedFilter {
  sections: Biquad[];
  /** Taps of the correction, first the newest. */
  fir: Float64Array;
}

/** Followed up to here, as a share of the rate: 20 kHz at 44.1 kHz. */
const MATCHED_SHARE = 0.4536;
const GRID = 96;
/** Above the matched range the fit only has to stay positive. */
const BEYOND_POINTS = 12;
const BEYOND_WEIGHT = 1e-4;
const FIT_ORDERS = [4, 6, 8, 10, 12, 16, 20];
/** Largest error of power that is good enough: 0.0001 dB, so that a filter that moves does not jump from one fit to another. */
const ENOUGH = 2e-5;
const CEPSTRUM_POINTS = 512;
/** A root's angle stays under half the rate by this, turns. */
const HIGHEST_TURNS = 0.49;
const RADIANS_A_TURN = 6.283185307179586;

/** Filters that were worked out lately: a chain is made anew whenever one of its settings moves, mostly of the same ones. */
const latest = new Map<string, MatchedFilter>();
const MOST_LATEST = 256;

/** A cascade with the magnitude of all `analogue` sections in a row. `null` where there is nothing to do. */
export function matchedFilter(analogue: readonly AnalogueBiquad[], sampleRate: Hertz): MatchedFilter | null {
  if (analogue.length === 0) return null;
  const key = JSON.stringify([analogue, sampleRate]);
  const known = latest.get(key);
  if (known) return known;
  const sections = analogue.map((section) => mapped(section, sampleRate));
  const filter = { sections, fir: correction(analogue, sections, sampleRate) };
  latest.set(key, filter);
  if (latest.size > MOST_LATEST) latest.delete(latest.keys().next().value!);
  return filter;
}

/** Both roots of c2·s² + c1·s + c0 as the polynomial 1 + z1·z⁻¹ + z2·z⁻² that has them at e^{sT}. */
function rootsInZ([c0, c1, c2]: readonly [number, number, number], step: number): [number, number] {
  if (c2 === 0) return c1 === 0 ? [0, 0] : [-exp((-c0 / c1) * step), 0];
  const half = c1 / (2 * c2);
  const inside = half * half - c0 / c2;
  if (inside >= 0) {
    const root = Math.sqrt(inside);
    // The larger one first: the other by their product, without cancellation.
    const far = -half - root;
    const near = far === 0 ? 0 : c0 / c2 / far;
    return [-exp(far * step) - exp(near * step), exp((far + near) * step)];
  }
  const turns = Math.min(HIGHEST_TURNS, (Math.sqrt(-inside) * step) / RADIANS_A_TURN);
  const radius = exp(-half * step);
  return [-2 * radius * sinCosTurns(turns).cos, radius * radius];
}

/** Where a section's gain is set: in the middle of what it passes. */
const HIGHEST_REFERENCE = 0.4;

function mapped(section: AnalogueBiquad, sampleRate: Hertz): Biquad {
  const { hertz, b, a } = section;
  const step = (RADIANS_A_TURN * hertz) / sampleRate;
  const [b1, b2] = rootsInZ(b, step);
  const [a1, a2] = rootsInZ(a, step);
  const reference = b[0] === 0 ? Math.min(hertz, HIGHEST_REFERENCE * sampleRate) : 0;
  const half = sinCosTurns(reference / sampleRate / 2).sin;
  const gain = Math.sqrt(powerAt(section, reference) / powerOfBiquad([1, b1, b2, a1, a2], half * half));
  return [gain, gain * b1, gain * b2, a1, a2];
}

/** |c0 + c1·z⁻¹ + c2·z⁻²|² by φ = sin²(ω/2), which keeps its accuracy at low frequencies. */
const squared = (c0: number, c1: number, c2: number, phi: number): number =>
  square(c0 + c1 + c2) - 4 * (c0 * c1 + 4 * c0 * c2 + c1 * c2) * phi + 16 * c0 * c2 * phi * phi;

/** |H|² of a section where sin²(ω/2) is `phi`. */
export const powerOfBiquad = ([b0, b1, b2, a1, a2]: Biquad, phi: number): number =>
  squared(b0, b1, b2, phi) / squared(1, a1, a2, phi);

function correction(analogue: readonly AnalogueBiquad[], sections: readonly Biquad[], rate: Hertz): Float64Array {
  const points: { cos: number; weight: number; wanted: number }[] = [];
  for (let k = 0; k < GRID + BEYOND_POINTS; k++) {
    const beyond = k >= GRID;
    const turns = beyond
      ? MATCHED_SHARE + ((k - GRID + 1) / BEYOND_POINTS) * (0.5 - MATCHED_SHARE)
      : ((k + 0.5) / GRID) * MATCHED_SHARE;
    const { cos } = sinCosTurns(turns);
    const phi = square(sinCosTurns(turns / 2).sin);
    const wanted = analogue.reduce(
      (product, section, i) => (product * powerAt(section, turns * rate)) / powerOfBiquad(sections[i]!, phi),
      1,
    );
    // At the bottom of a notch there is nothing to go by.
    if (Number.isFinite(wanted) && wanted > 0) points.push({ cos, wanted, weight: beyond ? BEYOND_WEIGHT : 1 });
  }
  let best: Float64Array | null = null;
  let least = Infinity;
  for (const order of FIT_ORDERS) {
    const lags = fitted(points, order);
    const { error, positive } = judged(points, lags);
    if (!positive || error >= least) continue;
    least = error;
    best = lags;
    if (error < ENOUGH) break;
  }
  return best ? minimumPhase(best) : Float64Array.of(1);
}

type GridPoint = { cos: number; weight: number; wanted: number };

/** Autocorrelation lags r0, 2·r1, 2·r2 … whose spectrum is nearest to what is wanted, relatively. */
function fitted(points: readonly GridPoint[], order: number): Float64Array {
  const matrix = Array.from({ length: order + 1 }, () => new Array<number>(order + 1).fill(0));
  const right = new Array<number>(order + 1).fill(0);
  for (const { cos, weight, wanted } of points) {
    const basis = chebyshev(cos, order).map((v) => v / wanted);
    for (let i = 0; i <= order; i++) {
      for (let j = 0; j <= order; j++) matrix[i]![j]! += weight * basis[i]! * basis[j]!;
      right[i]! += weight * basis[i]!;
    }
  }
  return Float64Array.from(solve(matrix, right));
}

/** cos kω for k = 0…order. */
function chebyshev(cos: number, order: number): number[] {
  const values = [1, cos];
  for (let k = 2; k <= order; k++) values.push(2 * cos * values[k - 1]! - values[k - 2]!);
  return values.slice(0, order + 1);
}

const spectrumAt = (lags: Float64Array, cos: number): number =>
  chebyshev(cos, lags.length - 1).reduce((sum, v, k) => sum + v * lags[k]!, 0);

function judged(points: readonly GridPoint[], lags: Float64Array) {
  let error = 0;
  let positive = true;
  for (const { cos, weight, wanted } of points) {
    const got = spectrumAt(lags, cos);
    if (!(got > 1e-3 * wanted)) positive = false;
    if (weight === 1) error = Math.max(error, Math.abs(got / wanted - 1));
  }
  return { error, positive };
}

/** The minimum-phase FIR filter with this spectrum of powers, by its cepstrum (Oppenheim & Schafer). */
function minimumPhase(lags: Float64Array): Float64Array {
  const re = new Float64Array(CEPSTRUM_POINTS);
  const im = new Float64Array(CEPSTRUM_POINTS);
  for (let k = 0; k < CEPSTRUM_POINTS; k++)
    re[k] = log(Math.max(1e-12, spectrumAt(lags, sinCosTurns(k / CEPSTRUM_POINTS).cos))) / 2;
  new Fft(CEPSTRUM_POINTS).backward(re, im);
  const taps = new Float64Array(lags.length);
  taps[0] = exp(re[0]!);
  // h[n] = Σ (k/n)·c[k]·h[n−k], with the cepstrum folded onto positive times.
  for (let n = 1; n < taps.length; n++) {
    let sum = 0;
    for (let k = 1; k <= n; k++) sum += (k / n) * 2 * re[k]! * taps[n - k]!;
    taps[n] = sum;
  }
  return taps;
}
