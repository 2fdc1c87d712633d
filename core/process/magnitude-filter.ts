/** Long FIR filters with any magnitude. */
import { exp, log, sinCosTurns } from "../math/elementary";
import { Fft } from "../math/fft";
import { kaiser } from "../math/kaiser";
import type { Hertz, Seconds } from "../signal/units";

/** Length of the filters: the shortest with which a bell of Q 4 at 40 Hz still has its shape. */
const FILTER_SECONDS: Seconds = 0.17;
/** Narrow enough that what a steep slope makes at the ends is below −120 dB. */
const KAISER_BETA = 9;
/** −200 dB: less is not told apart. */
const LEAST_MAGNITUDE = 1e-10;
const RADIANS_A_TURN = 6.283185307179586;

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
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  for (let k = 0; k <= size / 2; k++) {
    const level = log(Math.max(LEAST_MAGNITUDE, magnitude((k * sampleRate) / size)));
    re[k] = level;
    re[(size - k) % size] = level;
  }
  const fft = new Fft(size);
  fft.backward(re, im);
  // Folded onto positive times.
  for (let n = 1; n < size / 2; n++) {
    re[n]! *= 2;
    re[size - n] = 0;
  }
  im.fill(0);
  fft.forward(re, im);
  for (let k = 0; k < size; k++) {
    const magnitudeHere = exp(re[k]!);
    const { sin, cos } = sinCosTurns(im[k]! / RADIANS_A_TURN);
    re[k] = magnitudeHere * cos;
    im[k] = magnitudeHere * sin;
  }
  fft.backward(re, im);
  const faded = Math.round(length / 2);
  return Float64Array.from({ length }, (_, n) => {
    const { cos } = sinCosTurns(Math.max(0, n - faded) / (2 * (length - faded)));
    return re[n]! * 0.5 * (1 + cos);
  });
}
