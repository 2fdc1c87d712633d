import { sinCosTurns } from "./elementary";

/**
 * In-place complex FFT of a power of two, radix 2, in float64: for what is done once and not for each block (the
 * meter's spectra have a kernel of their own). Forward without scaling; backward divides by the length.
 */
export class Fft {
  readonly #cos: Float64Array;
  readonly #sin: Float64Array;

  constructor(readonly length: number) {
    if (length < 2 || (length & (length - 1)) !== 0) throw new Error(`An FFT of ${length} points is not possible.`);
    this.#cos = new Float64Array(length / 2);
    this.#sin = new Float64Array(length / 2);
    for (let k = 0; k < length / 2; k++) {
      const { sin, cos } = sinCosTurns(-k / length);
      this.#cos[k] = cos;
      this.#sin[k] = sin;
    }
  }

  forward(re: Float64Array, im: Float64Array): void {
    const n = this.length;
    for (let i = 1, j = 0; i < n; i++) {
      let bit = n >> 1;
      for (; j & bit; bit >>= 1) j ^= bit;
      j ^= bit;
      if (i < j) {
        [re[i], re[j]] = [re[j]!, re[i]!];
        [im[i], im[j]] = [im[j]!, im[i]!];
      }
    }
    for (let size = 2; size <= n; size *= 2) {
      const half = size / 2;
      const step = n / size;
      for (let start = 0; start < n; start += size) {
        for (let k = 0; k < half; k++) {
          const [wr, wi] = [this.#cos[k * step]!, this.#sin[k * step]!];
          const [a, b] = [start + k, start + k + half];
          const tr = re[b]! * wr - im[b]! * wi;
          const ti = re[b]! * wi + im[b]! * wr;
          re[b] = re[a]! - tr;
          im[b] = im[a]! - ti;
          re[a]! += tr;
          im[a]! += ti;
        }
      }
    }
  }

  backward(re: Float64Array, im: Float64Array): void {
    this.forward(im, re);
    for (let i = 0; i < this.length; i++) {
      re[i]! /= this.length;
      im[i]! /= this.length;
    }
  }
}
