// Power spectrum of one real channel: Stockham FFT of radix 4 over half as many complex points (Stockham 1966; the
// split of even and odd samples after Cooley, Lewis & Welch 1970).

function even(a: v128, b: v128): v128 {
  return v128.shuffle<f32>(a, b, 0, 2, 4, 6);
}
function odd(a: v128, b: v128): v128 {
  return v128.shuffle<f32>(a, b, 1, 3, 5, 7);
}
function storeTransposed(to: usize, a: v128, b: v128, c: v128, d: v128): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const AB = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const CD = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
  v128.store(to, v128.shuffle<f32>(ab, cd, 2, 3, 6, 7), 16);
  v128.store(to, v128.shuffle<f32>(AB, CD, 0, 1, 4, 5), 32);
  v128.store(to, v128.shuffle<f32>(AB, CD, 2, 3, 6, 7), 48);
}

/** First stage: windows the real samples, takes them as even and odd parts of complex ones, stride 1. */
function firstStage(x: usize, window: usize, m: i32, re: usize, im: usize, twiddles: usize): void {
  const quarter = m >> 2;
  for (let p: i32 = 0; p < quarter; p += 4) {
    // Eight real samples are four complex ones.
    const at0: usize = (<usize>p) << 3;
    const at1: usize = (<usize>(p + quarter)) << 3;
    const at2: usize = (<usize>(p + 2 * quarter)) << 3;
    const at3: usize = (<usize>(p + 3 * quarter)) << 3;
    let u = f32x4.mul(v128.load(x + at0), v128.load(window + at0));
    let v = f32x4.mul(v128.load(x + at0, 16), v128.load(window + at0, 16));
    const ar = even(u, v);
    const ai = odd(u, v);
    u = f32x4.mul(v128.load(x + at1), v128.load(window + at1));
    v = f32x4.mul(v128.load(x + at1, 16), v128.load(window + at1, 16));
    const br = even(u, v);
    const bi = odd(u, v);
    u = f32x4.mul(v128.load(x + at2), v128.load(window + at2));
    v = f32x4.mul(v128.load(x + at2, 16), v128.load(window + at2, 16));
    const cr = even(u, v);
    const ci = odd(u, v);
    u = f32x4.mul(v128.load(x + at3), v128.load(window + at3));
    v = f32x4.mul(v128.load(x + at3, 16), v128.load(window + at3, 16));
    const dr = even(u, v);
    const di = odd(u, v);
    const w: usize = twiddles + <usize>p * 24;
    const w1r = v128.load(w);
    const w1i = v128.load(w, 16);
    const w2r = v128.load(w, 32);
    const w2i = v128.load(w, 48);
    const w3r = v128.load(w, 64);
    const w3i = v128.load(w, 80);
    const sr = f32x4.add(ar, cr);
    const si = f32x4.add(ai, ci);
    const tr = f32x4.sub(ar, cr);
    const ti = f32x4.sub(ai, ci);
    const ur = f32x4.add(br, dr);
    const ui = f32x4.add(bi, di);
    const vr = f32x4.sub(br, dr);
    const vi = f32x4.sub(bi, di);
    // −j·v = (vi, −vr)
    const y1r = f32x4.add(tr, vi);
    const y1i = f32x4.sub(ti, vr);
    const y2r = f32x4.sub(sr, ur);
    const y2i = f32x4.sub(si, ui);
    const y3r = f32x4.sub(tr, vi);
    const y3i = f32x4.add(ti, vr);
    const to: usize = (<usize>p) << 4;
    storeTransposed(
      re + to,
      f32x4.add(sr, ur),
      f32x4.sub(f32x4.mul(y1r, w1r), f32x4.mul(y1i, w1i)),
      f32x4.sub(f32x4.mul(y2r, w2r), f32x4.mul(y2i, w2i)),
      f32x4.sub(f32x4.mul(y3r, w3r), f32x4.mul(y3i, w3i)),
    );
    storeTransposed(
      im + to,
      f32x4.add(si, ui),
      f32x4.add(f32x4.mul(y1r, w1i), f32x4.mul(y1i, w1r)),
      f32x4.add(f32x4.mul(y2r, w2i), f32x4.mul(y2i, w2r)),
      f32x4.add(f32x4.mul(y3r, w3i), f32x4.mul(y3i, w3r)),
    );
  }
}

/** A stage of `n` points at stride `s` ≥ 4. */
function stage(n: i32, s: i32, xr: usize, xi: usize, yr: usize, yi: usize, twiddles: usize): void {
  const quarter = n >> 2;
  const jump: usize = (<usize>(s * quarter)) << 2;
  const step: usize = (<usize>s) << 2;
  for (let p: i32 = 0; p < quarter; p++) {
    const w: usize = twiddles + <usize>p * 24;
    const w1r = v128.load32_splat(w);
    const w1i = v128.load32_splat(w, 4);
    const w2r = v128.load32_splat(w, 8);
    const w2i = v128.load32_splat(w, 12);
    const w3r = v128.load32_splat(w, 16);
    const w3i = v128.load32_splat(w, 20);
    for (let q: i32 = 0; q < s; q += 4) {
      const from: usize = (<usize>(q + s * p)) << 2;
      const ar = v128.load(xr + from);
      const ai = v128.load(xi + from);
      const br = v128.load(xr + from + jump);
      const bi = v128.load(xi + from + jump);
      const cr = v128.load(xr + from + 2 * jump);
      const ci = v128.load(xi + from + 2 * jump);
      const dr = v128.load(xr + from + 3 * jump);
      const di = v128.load(xi + from + 3 * jump);
      const sr = f32x4.add(ar, cr);
      const si = f32x4.add(ai, ci);
      const tr = f32x4.sub(ar, cr);
      const ti = f32x4.sub(ai, ci);
      const ur = f32x4.add(br, dr);
      const ui = f32x4.add(bi, di);
      const vr = f32x4.sub(br, dr);
      const vi = f32x4.sub(bi, di);
      const y1r = f32x4.add(tr, vi);
      const y1i = f32x4.sub(ti, vr);
      const y2r = f32x4.sub(sr, ur);
      const y2i = f32x4.sub(si, ui);
      const y3r = f32x4.sub(tr, vi);
      const y3i = f32x4.add(ti, vr);
      const to: usize = (<usize>(q + s * 4 * p)) << 2;
      v128.store(yr + to, f32x4.add(sr, ur));
      v128.store(yi + to, f32x4.add(si, ui));
      v128.store(yr + to + step, f32x4.sub(f32x4.mul(y1r, w1r), f32x4.mul(y1i, w1i)));
      v128.store(yi + to + step, f32x4.add(f32x4.mul(y1r, w1i), f32x4.mul(y1i, w1r)));
      v128.store(yr + to + 2 * step, f32x4.sub(f32x4.mul(y2r, w2r), f32x4.mul(y2i, w2i)));
      v128.store(yi + to + 2 * step, f32x4.add(f32x4.mul(y2r, w2i), f32x4.mul(y2i, w2r)));
      v128.store(yr + to + 3 * step, f32x4.sub(f32x4.mul(y3r, w3r), f32x4.mul(y3i, w3i)));
      v128.store(yi + to + 3 * step, f32x4.add(f32x4.mul(y3r, w3i), f32x4.mul(y3i, w3r)));
    }
  }
}

/** The last stage where the number of points is twice a power of four. */
function lastPair(s: i32, xr: usize, xi: usize, yr: usize, yi: usize): void {
  const step: usize = (<usize>s) << 2;
  for (let q: i32 = 0; q < s; q += 4) {
    const at: usize = (<usize>q) << 2;
    const ar = v128.load(xr + at);
    const ai = v128.load(xi + at);
    const br = v128.load(xr + at + step);
    const bi = v128.load(xi + at + step);
    v128.store(yr + at, f32x4.add(ar, br));
    v128.store(yi + at, f32x4.add(ai, bi));
    v128.store(yr + at + step, f32x4.sub(ar, br));
    v128.store(yi + at + step, f32x4.sub(ai, bi));
  }
}

/**
 * |X|² of `2·m` windowed real samples. Hot: about 20 operations a sample, four at once.
 * @param x        the samples, f32
 * @param window   as many f32
 * @param m        complex points, a power of two ≥ 64
 * @param work     4·m f32: two pairs of planes
 * @param twiddles stage by stage (see ../spectrum-tables.ts), then the pairs that join even and odd samples
 * @param power    m + 1 f32
 */
export function powerSpectrum(x: usize, window: usize, m: i32, work: usize, twiddles: usize, power: usize): void {
  const re = fourierFrame(x, window, m, work, twiddles);
  // The first and the later stages' factors come before those that join.
  let factors: i32 = (m >> 2) * 24;
  for (let n: i32 = m >> 2; n >= 4; n >>= 2) factors += (n >> 2) * 24;
  join(re, re + ((<usize>m) << 2), m, twiddles + <usize>factors, power);
}

/**
 * Spectrum of `m` complex points that lie as real, imaginary, real …, each windowed.
 * @returns where the plane of real parts begins within `work`; the imaginary ones follow it
 */
export function fourierFrame(x: usize, window: usize, m: i32, work: usize, twiddles: usize): usize {
  const plane: usize = (<usize>m) << 2;
  let re: usize = work;
  let im: usize = work + plane;
  let otherRe: usize = work + 2 * plane;
  let otherIm: usize = work + 3 * plane;
  firstStage(x, window, m, re, im, twiddles);
  twiddles += <usize>(m >> 2) * 24;
  let n: i32 = m >> 2;
  let s: i32 = 4;
  while (n >= 2) {
    if (n >= 4) {
      stage(n, s, re, im, otherRe, otherIm, twiddles);
      twiddles += <usize>(n >> 2) * 24;
      n >>= 2;
      s <<= 2;
    } else {
      lastPair(s, re, im, otherRe, otherIm);
      n = 1;
    }
    const r = re;
    const i = im;
    re = otherRe;
    im = otherIm;
    otherRe = r;
    otherIm = i;
  }
  return re;
}

/** From the spectrum of the complex points to the power of the real ones. */
function join(re: usize, im: usize, m: i32, twiddles: usize, power: usize): void {
  const half = f32x4.splat(0.5);
  const r0: f32 = load<f32>(re);
  const i0: f32 = load<f32>(im);
  store<f32>(power, (r0 + i0) * (r0 + i0));
  store<f32>(power + ((<usize>m) << 2), (r0 - i0) * (r0 - i0));
  for (let k: i32 = 1; k <= m >> 1; k += 4) {
    const near: usize = (<usize>k) << 2;
    const far: usize = (<usize>(m - k - 3)) << 2;
    const ar = v128.load(re + near);
    const ai = v128.load(im + near);
    let br = v128.load(re + far);
    let bi = v128.load(im + far);
    br = v128.shuffle<f32>(br, br, 3, 2, 1, 0);
    bi = v128.shuffle<f32>(bi, bi, 3, 2, 1, 0);
    const w: usize = twiddles + ((<usize>(k - 1)) << 3);
    const wr = v128.load(w);
    const wi = v128.load(w, 16);
    // Even samples: (Z[k] + Z*[m−k])/2; odd: −j(Z[k] − Z*[m−k])/2.
    const er = f32x4.mul(half, f32x4.add(ar, br));
    const ei = f32x4.mul(half, f32x4.sub(ai, bi));
    const or = f32x4.mul(half, f32x4.add(ai, bi));
    const oi = f32x4.mul(half, f32x4.sub(br, ar));
    const tr = f32x4.sub(f32x4.mul(or, wr), f32x4.mul(oi, wi));
    const ti = f32x4.add(f32x4.mul(or, wi), f32x4.mul(oi, wr));
    const pr = f32x4.add(er, tr);
    const pi = f32x4.add(ei, ti);
    const qr = f32x4.sub(er, tr);
    const qi = f32x4.sub(ei, ti);
    v128.store(power + near, f32x4.add(f32x4.mul(pr, pr), f32x4.mul(pi, pi)));
    const mirrored = f32x4.add(f32x4.mul(qr, qr), f32x4.mul(qi, qi));
    v128.store(power + far, v128.shuffle<f32>(mirrored, mirrored, 3, 2, 1, 0));
  }
}

/** Adds a power spectrum to the second's sum, and keeps the largest. `count` is one more than a multiple of 4. */
export function accumulateSpectrum(power: usize, count: i32, second: usize, largest: usize): void {
  for (let i: i32 = 0; i < count - 1; i += 4) {
    const at: usize = (<usize>i) << 2;
    const p = v128.load(power + at);
    v128.store(second + at, f32x4.add(v128.load(second + at), p));
    v128.store(largest + at, f32x4.pmax(v128.load(largest + at), p));
  }
  const last: usize = (<usize>(count - 1)) << 2;
  const p: f32 = load<f32>(power + last);
  store<f32>(second + last, load<f32>(second + last) + p);
  store<f32>(largest + last, max(load<f32>(largest + last), p));
}

/**
 * Adds a second's sum to the sum of all, lowers the floor to it if `whole`, and begins the next. `count` is one more
 * than a multiple of 4.
 */
export function closeSpectrumSecond(second: usize, count: i32, whole: bool, sum: usize, floor: usize): void {
  for (let i: i32 = 0; i < count - 1; i += 4) {
    const at: usize = (<usize>i) << 2;
    const s = v128.load(second + at);
    v128.store(sum + at, f32x4.add(v128.load(sum + at), s));
    if (whole) v128.store(floor + at, f32x4.pmin(v128.load(floor + at), s));
    v128.store(second + at, f32x4.splat(0));
  }
  const last: usize = (<usize>(count - 1)) << 2;
  const s: f32 = load<f32>(second + last);
  store<f32>(sum + last, load<f32>(sum + last) + s);
  if (whole) store<f32>(floor + last, min(load<f32>(floor + last), s));
  store<f32>(second + last, 0);
}

/** Sum of `count` powers, in four partial sums. */
export function bandSum(power: usize, count: i32): f32 {
  let lanes = f32x4.splat(0);
  let i: i32 = 0;
  for (; i + 4 <= count; i += 4) lanes = f32x4.add(lanes, v128.load(power + ((<usize>i) << 2)));
  const low: f32 = f32x4.extract_lane(lanes, 0) + f32x4.extract_lane(lanes, 1);
  const high: f32 = f32x4.extract_lane(lanes, 2) + f32x4.extract_lane(lanes, 3);
  let sum: f32 = low + high;
  for (; i < count; i++) sum += load<f32>(power + ((<usize>i) << 2));
  return sum;
}
