import { sinCosTurns } from "./deterministic-math";

/** Modified Bessel function I0 by its power series (Abramowitz & Stegun 9.6.12). */
function besselI0(x: number): number {
  const quarter = (x * x) / 4;
  let term = 1;
  let sum = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= quarter / (k * k);
    sum += term;
  }
  return sum;
}

/** Kaiser's β for a stop-band of `attenuationDb` ≥ 50 (Kaiser 1974). */
export const kaiserBeta = (attenuationDb: number): number => 0.1102 * (attenuationDb - 8.7);

/** Kaiser window at `position` in −1…1. */
export function kaiser(position: number, beta: number): number {
  const inside = 1 - position * position;
  return inside <= 0 ? 0 : besselI0(beta * Math.sqrt(inside)) / besselI0(beta);
}

/** sin(πx)/(πx). */
export function sinc(x: number): number {
  return x === 0 ? 1 : sinCosTurns(x / 2).sin / (3.141592653589793 * x);
}

/** Taps needed for a stop-band of `attenuationDb` over a transition of `width` (fraction of the sample rate). */
export const kaiserLength = (attenuationDb: number, width: number): number =>
  Math.ceil((attenuationDb - 7.95) / (14.36 * width)) + 1;

/**
 * Windowed-sinc interpolators: for each phase p of `oversampling`, `taps` coefficients that give the waveform p / `oversampling`
 * of a sample after the one before the middle. Each sums to 1. Shape [phase][tap].
 */
export function kaiserPhases(oversampling: number, taps: number, attenuationDb: number): Float64Array[] {
  const beta = kaiserBeta(attenuationDb);
  const half = taps / 2;
  return Array.from({ length: oversampling }, (_, phase) => {
    const filter = Float64Array.from({ length: taps }, (_, tap) => {
      const distance = tap - (half - 1) - phase / oversampling;
      return sinc(distance) * kaiser(distance / half, beta);
    });
    const sum = filter.reduce((total, coefficient) => total + coefficient, 0);
    return filter.map((coefficient) => coefficient / sum);
  });
}
