/** Long FIR filters with any magnitude. */
import { sinCosTurns } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import { kaiser } from "../math/kaiser";
import { leastDelay } from "../math/minimum-phase";
import type { Hertz, Seconds } from "../audio/units";

/** Length of the filters: the shortest with which a bell of Q 4 at 40 Hz still has its shape. */
const FILTER_SECONDS: Seconds = 0.17;
/** Narrow enough that what a steep slope makes at the ends is below −120 dB. */
const KAISER_BETA = 9;

/** A symmetric filter with the given magnitude, 2·half + 1 taps. */
export function linearPhaseTaps(magnitude: (hertz: Hertz) => number, sampleRate: Hertz): Float64Array {
  const half = Math.round((FILTER_SECONDS * sampleRate) / 2);
  let size = 2;
  while (size < 8 * half) size *= 2;
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  for (let k = 0; k <= size / 2; k++) {
    const wanted = magnitude((k * sampleRate) / size);
    re[k] = wanted;
    if (k > 0 && k < size / 2) re[size - k] = wanted;
  }
  new Fft(size).backward(re, im);
  return Float64Array.from({ length: 2 * half + 1 }, (_, n) => {
    const distance = n - half;
    return re[(distance + size) % size]! * kaiser(distance / (half + 1), KAISER_BETA);
  });
}

/** The filter of least delay with the given magnitude, by its cepstrum; faded out at its end. */
export function minimumPhaseTaps(magnitude: (hertz: Hertz) => number, sampleRate: Hertz): Float64Array {
  const length = Math.round(FILTER_SECONDS * sampleRate);
  let size = 2;
  while (size < 8 * length) size *= 2;
  const magnitudes = new Float64Array(size);
  for (let k = 0; k <= size / 2; k++) {
    magnitudes[k] = magnitude((k * sampleRate) / size);
    magnitudes[(size - k) % size] = magnitudes[k]!;
  }
  const response = leastDelay(magnitudes);
  const faded = Math.round(length / 2);
  return Float64Array.from({ length }, (_, n) => {
    const { cos } = sinCosTurns(Math.max(0, n - faded) / (2 * (length - faded)));
    return response[n]! * 0.5 * (1 + cos);
  });
}
