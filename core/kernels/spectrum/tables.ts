/** Tables of the power spectrum: window and twiddle factors, in the order in which the kernel reads them. */
import { sinCosTurns } from "../../math/deterministic-math";

/** Makes a table once for each length: it is only read. */
function keptByPoints(make: (points: number) => Float32Array): (points: number) => Float32Array {
  const made = new Map<number, Float32Array>();
  return (points) => {
    const table = made.get(points) ?? make(points);
    made.set(points, table);
    return table;
  };
}

/** Hann window of `points`, periodic. Only to be read. */
export const hannWindow = keptByPoints((points) =>
  Float32Array.from({ length: points }, (_, n) => 0.5 - 0.5 * sinCosTurns(n / points).cos),
);

/** Σw² of the Hann window: a power spectrum divided by points × this is a mean square. */
export const HANN_ENERGY = 0.375;

/** Real points of the spectra at a sample rate: about 170 ms, a power of two. */
export const spectrumPoints = (sampleRate: number): number => {
  let points = 1024;
  while (points * 1.5 < sampleRate * 0.17) points *= 2;
  return points;
};

/**
 * Twiddle factors for `points` real samples (half as many complex ones). First stage: for each four p, six vectors w¹,
 * w², w³ (real, imaginary); further stages: for each p the six numbers; last, for each four k from 1, real and
 * imaginary part of e^(−2πik/points). Only to be read.
 */
export const spectrumTwiddles = keptByPoints((points) => {
  const m = points / 2;
  const numbers: number[] = [];
  const factor = (turns: number) => {
    const { sin, cos } = sinCosTurns(-turns);
    return [cos, sin] as const;
  };
  for (let p = 0; p < m / 4; p += 4)
    for (const power of [1, 2, 3])
      for (const part of [0, 1] as const)
        for (let lane = 0; lane < 4; lane++) numbers.push(factor((power * (p + lane)) / m)[part]);
  for (let n = m / 4; n >= 4; n /= 4)
    for (let p = 0; p < n / 4; p++) for (const power of [1, 2, 3]) numbers.push(...factor((power * p) / n));
  for (let k = 1; k <= m / 2; k += 4)
    for (const part of [0, 1] as const)
      for (let lane = 0; lane < 4; lane++) numbers.push(factor((k + lane) / points)[part]);
  return Float32Array.from(numbers);
});
