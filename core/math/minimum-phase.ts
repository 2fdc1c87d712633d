/** The impulse response of least delay with given magnitudes, by its cepstrum (Oppenheim & Schafer, chapter 13). */
import { exp, log, sinCosTurns } from "./deterministic-math";
import { Fft } from "./fft";

/** −200 dB: less is not told apart. */
const LEAST_MAGNITUDE = 1e-10;
const RADIANS_A_TURN = 6.283185307179586;

/** @param magnitudes at each of a power of two of frequencies all around the circle; long enough for its response */
export function leastDelay(magnitudes: Float64Array): Float64Array {
  const size = magnitudes.length;
  const fft = new Fft(size);
  const re = magnitudes.map((magnitude) => log(Math.max(LEAST_MAGNITUDE, magnitude)));
  const im = new Float64Array(size);
  fft.backward(re, im);
  // Folded onto positive times.
  for (let n = 1; n < size / 2; n++) {
    re[n]! *= 2;
    re[size - n] = 0;
  }
  im.fill(0);
  fft.forward(re, im);
  for (let k = 0; k < size; k++) {
    const magnitude = exp(re[k]!);
    const { sin, cos } = sinCosTurns(im[k]! / RADIANS_A_TURN);
    re[k] = magnitude * cos;
    im[k] = magnitude * sin;
  }
  fft.backward(re, im);
  return re;
}

/** A filter with the magnitudes of `taps` and the least delay; as many taps. */
export function minimumPhase(taps: Float64Array): Float64Array {
  let size = 2;
  // The cepstrum of a deep stop-band is long: what does not fit folds back.
  while (size < 64 * taps.length) size *= 2;
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  re.set(taps);
  new Fft(size).forward(re, im);
  return leastDelay(re.map((v, k) => Math.sqrt(v * v + im[k]! * im[k]!))).slice(0, taps.length);
}
