/** The reference implementation of the power spectrum: the operations of the kernel in the same order, rounded to float32 at each. */

const f = Math.fround;

/** Complex points in two planes. */
export interface Points {
  re: Float32Array;
  im: Float32Array;
}

/** One butterfly of four at stride `s`, twiddled by the six numbers that `w` gives. */
function butterfly(
  from: Points,
  to: Points,
  at: number,
  jump: number,
  out: number,
  s: number,
  w: (i: number) => number,
) {
  const { re, im } = from;
  const b = at + jump;
  const c = b + jump;
  const d = c + jump;
  const sr = f(re[at]! + re[c]!);
  const si = f(im[at]! + im[c]!);
  const tr = f(re[at]! - re[c]!);
  const ti = f(im[at]! - im[c]!);
  const ur = f(re[b]! + re[d]!);
  const ui = f(im[b]! + im[d]!);
  const vr = f(re[b]! - re[d]!);
  const vi = f(im[b]! - im[d]!);
  to.re[out] = sr + ur;
  to.im[out] = si + ui;
  const twiddled = (r: number, i: number, place: number, k: number) => {
    to.re[place] = f(f(r * w(k)) - f(i * w(k + 1)));
    to.im[place] = f(f(r * w(k + 1)) + f(i * w(k)));
  };
  twiddled(f(tr + vi), f(ti - vr), out + s, 0);
  twiddled(f(sr - ur), f(si - ui), out + 2 * s, 2);
  twiddled(f(tr - vi), f(ti + vr), out + 3 * s, 4);
}

/** |X|² of `window.length` samples of `x` from `from` into `power` (one more than half as many). */
export function referencePowerSpectrum(
  x: Float32Array,
  from: number,
  window: Float32Array,
  twiddles: Float32Array,
  power: Float32Array,
): void {
  const m = window.length / 2;
  const { points, factors } = transformed(x, from, window, twiddles);
  join(points, m, twiddles.subarray(factors), power);
}

/** Spectrum of complex points that lie as real, imaginary, real …, each windowed. */
export function referenceTransform(x: Float32Array, window: Float32Array, twiddles: Float32Array): Points {
  return transformed(x, 0, window, twiddles).points;
}

/** The spectrum, and how many of the factors it took. */
function transformed(x: Float32Array, from: number, window: Float32Array, twiddles: Float32Array) {
  const m = window.length / 2;
  const plane = (): Points => ({ re: new Float32Array(m), im: new Float32Array(m) });
  let points = plane();
  let other = plane();
  for (let k = 0; k < m; k++) {
    points.re[k] = x[from + 2 * k]! * window[2 * k]!;
    points.im[k] = x[from + 2 * k + 1]! * window[2 * k + 1]!;
  }
  const swap = () => ([points, other] = [other, points]);
  for (let p = 0; p < m / 4; p++) {
    const base = (p >> 2) * 24 + (p & 3);
    butterfly(points, other, p, m / 4, 4 * p, 1, (i) => twiddles[base + i * 4]!);
  }
  swap();
  let at = (m / 4) * 6;
  let s = 4;
  let n = m / 4;
  for (; n >= 4; n /= 4, s *= 4) {
    for (let p = 0; p < n / 4; p++, at += 6) {
      const base = at;
      for (let q = 0; q < s; q++)
        butterfly(points, other, q + s * p, (s * n) / 4, q + s * 4 * p, s, (i) => twiddles[base + i]!);
    }
    swap();
  }
  if (n === 2) {
    for (let q = 0; q < s; q++) {
      other.re[q] = points.re[q]! + points.re[q + s]!;
      other.im[q] = points.im[q]! + points.im[q + s]!;
      other.re[q + s] = points.re[q]! - points.re[q + s]!;
      other.im[q + s] = points.im[q]! - points.im[q + s]!;
    }
    swap();
  }
  return { points, factors: at };
}

/** From the spectrum of the complex points to the power of the real ones. */
function join({ re, im }: Points, m: number, twiddles: Float32Array, power: Float32Array): void {
  const square = (v: number) => f(v * v);
  power[0] = square(f(re[0]! + im[0]!));
  power[m] = square(f(re[0]! - im[0]!));
  for (let k = 1; k <= m / 2; k++) {
    const w = ((k - 1) >> 2) * 8 + ((k - 1) & 3);
    const wr = twiddles[w]!;
    const wi = twiddles[w + 4]!;
    const er = f(0.5 * f(re[k]! + re[m - k]!));
    const ei = f(0.5 * f(im[k]! - im[m - k]!));
    const or = f(0.5 * f(im[k]! + im[m - k]!));
    const oi = f(0.5 * f(re[m - k]! - re[k]!));
    const tr = f(f(or * wr) - f(oi * wi));
    const ti = f(f(or * wi) + f(oi * wr));
    power[k] = f(square(f(er + tr)) + square(f(ei + ti)));
    power[m - k] = f(square(f(er - tr)) + square(f(ei - ti)));
  }
}

export function referenceBandSum(power: Float32Array, first: number, count: number): number {
  const lanes = [0, 0, 0, 0];
  const whole = count - (count % 4);
  for (let i = 0; i < whole; i++) lanes[i & 3] = f(lanes[i & 3]! + power[first + i]!);
  let sum = f(f(lanes[0]! + lanes[1]!) + f(lanes[2]! + lanes[3]!));
  for (let i = whole; i < count; i++) sum = f(sum + power[first + i]!);
  return sum;
}
