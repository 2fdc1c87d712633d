import { sinCosTurns } from "./deterministic-math";

/** For each radix-4 pass and each of its p: cos and sin of one, two and three steps. */
export function fftTwiddles(length: number): Float64Array {
  const twiddles: number[] = [];
  for (let n = length; n >= 4; n /= 4)
    for (let p = 0; p < n / 4; p++)
      for (let step = 1; step <= 3; step++) {
        const { sin, cos } = sinCosTurns((-step * p) / n);
        twiddles.push(cos, sin);
      }
  return Float64Array.from(twiddles);
}

/**
 * In-place complex FFT of a power of two in float64: Stockham, radix 4 with one radix-2 pass where the length needs
 * it. Forward without scaling; backward divides by the length. (The meter's float32 spectra have a kernel of their own.)
 */
export class Fft {
  readonly #twiddles: Float64Array;
  readonly #spareRe: Float64Array;
  readonly #spareIm: Float64Array;

  constructor(readonly length: number) {
    if (length < 2 || (length & (length - 1)) !== 0) throw new Error(`An FFT of ${length} points is not possible.`);
    this.#twiddles = fftTwiddles(length);
    this.#spareRe = new Float64Array(length);
    this.#spareIm = new Float64Array(length);
  }

  /** Hot. */
  forward(re: Float64Array, im: Float64Array): void {
    let [xr, xi, yr, yi] = [re, im, this.#spareRe, this.#spareIm];
    const w = this.#twiddles;
    let at = 0;
    let n = this.length;
    let s = 1;
    for (; n >= 4; n >>= 2, s <<= 2) {
      const quarter = n >> 2;
      const jump = s * quarter;
      for (let p = 0; p < quarter; p++, at += 6) {
        const c1 = w[at]!;
        const s1 = w[at + 1]!;
        const c2 = w[at + 2]!;
        const s2 = w[at + 3]!;
        const c3 = w[at + 4]!;
        const s3 = w[at + 5]!;
        const first = s * p;
        for (let i = first, o = 4 * first; i < first + s; i++, o++) {
          const ar = xr[i]!;
          const ai = xi[i]!;
          const br = xr[i + jump]!;
          const bi = xi[i + jump]!;
          const cr = xr[i + 2 * jump]!;
          const ci = xi[i + 2 * jump]!;
          const dr = xr[i + 3 * jump]!;
          const di = xi[i + 3 * jump]!;
          const tr = ar + cr;
          const ti = ai + ci;
          const ur = ar - cr;
          const ui = ai - ci;
          const vr = br + dr;
          const vi = bi + di;
          const zr = bi - di;
          const zi = dr - br;
          yr[o] = tr + vr;
          yi[o] = ti + vi;
          const er = ur + zr;
          const ei = ui + zi;
          yr[o + s] = er * c1 - ei * s1;
          yi[o + s] = er * s1 + ei * c1;
          const fr = tr - vr;
          const fi = ti - vi;
          yr[o + 2 * s] = fr * c2 - fi * s2;
          yi[o + 2 * s] = fr * s2 + fi * c2;
          const gr = ur - zr;
          const gi = ui - zi;
          yr[o + 3 * s] = gr * c3 - gi * s3;
          yi[o + 3 * s] = gr * s3 + gi * c3;
        }
      }
      [xr, xi, yr, yi] = [yr, yi, xr, xi];
    }
    if (n === 2) {
      for (let i = 0; i < s; i++) {
        yr[i] = xr[i]! + xr[i + s]!;
        yi[i] = xi[i]! + xi[i + s]!;
        yr[i + s] = xr[i]! - xr[i + s]!;
        yi[i + s] = xi[i]! - xi[i + s]!;
      }
      [xr, xi] = [yr, yi];
    }
    if (xr !== re) {
      re.set(xr);
      im.set(xi);
    }
  }

  backward(re: Float64Array, im: Float64Array): void {
    this.forward(im, re);
    const scale = 1 / this.length;
    for (let i = 0; i < this.length; i++) {
      re[i]! *= scale;
      im[i]! *= scale;
    }
  }
}
