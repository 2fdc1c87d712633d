/**
 * A tone whose frequency and level never change: its band, demodulated to about zero frequency, is one complex
 * exponential, fitted by iteratively re-weighted least squares (Gauss & Newton), so that moments at which something
 * else sounds there count for little.
 */
import { sinCosTurns, square } from "../math/deterministic-math";

export interface SteadyTone {
  /** What its phase advances from frame to frame beyond that of the demodulation. */
  turnsPerFrame: number;
  /** The exponential at the first frame. */
  re: number;
  im: number;
  /** Power of what it leaves of each frame. */
  left: Float64Array;
}

const ROUNDS = 12;
/** This share of the frames, the best fitting ones, is taken to hold nothing but the tone. */
const QUIET = 4;

/** Fits a band; `turnsPerFrame` is about what its phase advances by, to within half a turn over all of it. */
export function steadyTone(re: Float64Array, im: Float64Array, turnsPerFrame: number): SteadyTone {
  const count = re.length;
  const weights = new Float64Array(count).fill(1);
  const [ur, ui, left] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  const tone: SteadyTone = { turnsPerFrame, re: 0, im: 0, left };
  for (let round = 0; round < ROUNDS; round++) {
    for (let n = 0; n < count; n++) {
      const { cos, sin } = sinCosTurns(-n * tone.turnsPerFrame);
      ur[n] = re[n]! * cos - im[n]! * sin;
      ui[n] = re[n]! * sin + im[n]! * cos;
    }
    level(tone, ur, ui, weights);
    for (let n = 0; n < count; n++) left[n] = square(ur[n]! - tone.re) + square(ui[n]! - tone.im);
    if (round === ROUNDS - 1) break;
    const usual = left.slice().sort()[Math.floor(count / QUIET)]! + 1e-24;
    for (let n = 0; n < count; n++) weights[n] = usual / (usual + left[n]!);
    level(tone, ur, ui, weights);
    turn(tone, ur, ui, weights);
  }
  return tone;
}

/** The weighted mean of what is turned back to zero frequency. */
function level(tone: SteadyTone, ur: Float64Array, ui: Float64Array, weights: Float64Array): void {
  let [sum, sumRe, sumIm] = [1e-30, 0, 0];
  for (let n = 0; n < ur.length; n++) {
    sum += weights[n]!;
    sumRe += weights[n]! * ur[n]!;
    sumIm += weights[n]! * ui[n]!;
  }
  tone.re = sumRe / sum;
  tone.im = sumIm / sum;
}

/** Turns the frequency by the slope of the phase that is left; the phase in the middle of the weights stays. */
function turn(tone: SteadyTone, ur: Float64Array, ui: Float64Array, weights: Float64Array): void {
  const power = square(tone.re) + square(tone.im);
  if (power === 0) return;
  let [w, wx, wxx, wy, wxy] = [1e-30, 0, 0, 0, 0];
  for (let n = 0; n < ur.length; n++) {
    const phase = (ui[n]! * tone.re - ur[n]! * tone.im) / power;
    const weight = weights[n]!;
    w += weight;
    wx += weight * n;
    wxx += weight * n * n;
    wy += weight * phase;
    wxy += weight * n * phase;
  }
  const spread = wxx * w - wx * wx;
  if (spread > 0) tone.turnsPerFrame += (wxy * w - wx * wy) / spread / (2 * 3.141592653589793);
}
