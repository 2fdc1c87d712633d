// Conversion of sample rates: a complex FFT in float64 (Stockham 1966, radix 4), a spectrum times a filter's, and a
// polyphase filter.

const PAIR: usize = 16; // bytes of two numbers

/** A number of each of two rows of twiddles. */
function twoOf(w: usize): v128 {
  return v128.load64_lane(w + 48, v128.load64_zero(w), 1);
}
function storePairs(to: usize, a: v128, b: v128, c: v128, d: v128): void {
  v128.store(to, v128.shuffle<f64>(a, b, 0, 2));
  v128.store(to, v128.shuffle<f64>(c, d, 0, 2), 16);
  v128.store(to, v128.shuffle<f64>(a, b, 1, 3), 32);
  v128.store(to, v128.shuffle<f64>(c, d, 1, 3), 48);
}

/** A pass of radix 4 at stride 1: two groups of points at a time. */
function firstPass(n: i32, xr: usize, xi: usize, yr: usize, yi: usize, w: usize): void {
  const quarter = n >> 2;
  const jump: usize = (<usize>quarter) << 3;
  for (let p: i32 = 0; p < quarter; p += 2, w += 96) {
    const from: usize = (<usize>p) << 3;
    const to: usize = (<usize>p) << 5;
    const ar = v128.load(xr + from);
    const ai = v128.load(xi + from);
    const br = v128.load(xr + from + jump);
    const bi = v128.load(xi + from + jump);
    const cr = v128.load(xr + from + 2 * jump);
    const ci = v128.load(xi + from + 2 * jump);
    const dr = v128.load(xr + from + 3 * jump);
    const di = v128.load(xi + from + 3 * jump);
    const tr = f64x2.add(ar, cr);
    const ti = f64x2.add(ai, ci);
    const ur = f64x2.sub(ar, cr);
    const ui = f64x2.sub(ai, ci);
    const vr = f64x2.add(br, dr);
    const vi = f64x2.add(bi, di);
    const zr = f64x2.sub(bi, di);
    const zi = f64x2.sub(dr, br);
    const c1 = twoOf(w);
    const s1 = twoOf(w + 8);
    const c2 = twoOf(w + 16);
    const s2 = twoOf(w + 24);
    const c3 = twoOf(w + 32);
    const s3 = twoOf(w + 40);
    const er = f64x2.add(ur, zr);
    const ei = f64x2.add(ui, zi);
    const fr = f64x2.sub(tr, vr);
    const fi = f64x2.sub(ti, vi);
    const gr = f64x2.sub(ur, zr);
    const gi = f64x2.sub(ui, zi);
    storePairs(
      yr + to,
      f64x2.add(tr, vr),
      f64x2.sub(f64x2.mul(er, c1), f64x2.mul(ei, s1)),
      f64x2.sub(f64x2.mul(fr, c2), f64x2.mul(fi, s2)),
      f64x2.sub(f64x2.mul(gr, c3), f64x2.mul(gi, s3)),
    );
    storePairs(
      yi + to,
      f64x2.add(ti, vi),
      f64x2.add(f64x2.mul(er, s1), f64x2.mul(ei, c1)),
      f64x2.add(f64x2.mul(fr, s2), f64x2.mul(fi, c2)),
      f64x2.add(f64x2.mul(gr, s3), f64x2.mul(gi, c3)),
    );
  }
}

/** A pass of radix 4 of `n` points at stride `s` ≥ 4: two at a time. */
function pass(n: i32, s: i32, xr: usize, xi: usize, yr: usize, yi: usize, w: usize): void {
  const quarter = n >> 2;
  const jump: usize = (<usize>(s * quarter)) << 3;
  const step: usize = (<usize>s) << 3;
  for (let p: i32 = 0; p < quarter; p++, w += 48) {
    const c1 = v128.load64_splat(w);
    const s1 = v128.load64_splat(w, 8);
    const c2 = v128.load64_splat(w, 16);
    const s2 = v128.load64_splat(w, 24);
    const c3 = v128.load64_splat(w, 32);
    const s3 = v128.load64_splat(w, 40);
    let from: usize = (<usize>(s * p)) << 3;
    let to: usize = from << 2;
    const end: usize = from + step;
    for (; from < end; from += PAIR, to += PAIR) {
      const ar = v128.load(xr + from);
      const ai = v128.load(xi + from);
      const br = v128.load(xr + from + jump);
      const bi = v128.load(xi + from + jump);
      const cr = v128.load(xr + from + 2 * jump);
      const ci = v128.load(xi + from + 2 * jump);
      const dr = v128.load(xr + from + 3 * jump);
      const di = v128.load(xi + from + 3 * jump);
      const tr = f64x2.add(ar, cr);
      const ti = f64x2.add(ai, ci);
      const ur = f64x2.sub(ar, cr);
      const ui = f64x2.sub(ai, ci);
      const vr = f64x2.add(br, dr);
      const vi = f64x2.add(bi, di);
      const zr = f64x2.sub(bi, di);
      const zi = f64x2.sub(dr, br);
      v128.store(yr + to, f64x2.add(tr, vr));
      v128.store(yi + to, f64x2.add(ti, vi));
      const er = f64x2.add(ur, zr);
      const ei = f64x2.add(ui, zi);
      v128.store(yr + to + step, f64x2.sub(f64x2.mul(er, c1), f64x2.mul(ei, s1)));
      v128.store(yi + to + step, f64x2.add(f64x2.mul(er, s1), f64x2.mul(ei, c1)));
      const fr = f64x2.sub(tr, vr);
      const fi = f64x2.sub(ti, vi);
      v128.store(yr + to + 2 * step, f64x2.sub(f64x2.mul(fr, c2), f64x2.mul(fi, s2)));
      v128.store(yi + to + 2 * step, f64x2.add(f64x2.mul(fr, s2), f64x2.mul(fi, c2)));
      const gr = f64x2.sub(ur, zr);
      const gi = f64x2.sub(ui, zi);
      v128.store(yr + to + 3 * step, f64x2.sub(f64x2.mul(gr, c3), f64x2.mul(gi, s3)));
      v128.store(yi + to + 3 * step, f64x2.add(f64x2.mul(gr, s3), f64x2.mul(gi, c3)));
    }
  }
}

/**
 * Transform of `n` complex points, a power of two of at least 16, float64, unscaled. The result lies where the points
 * were. Hot.
 * @param spare room for as many points: real, then imaginary
 */
export function fourierTransform(re: usize, im: usize, n: i32, spare: usize, twiddles: usize): void {
  const bytes: usize = (<usize>n) << 3;
  let xr = re;
  let xi = im;
  let yr = spare;
  let yi = spare + bytes;
  let left = n;
  let s: i32 = 1;
  let w = twiddles;
  while (left >= 4) {
    if (s == 1) firstPass(left, xr, xi, yr, yi, w);
    else pass(left, s, xr, xi, yr, yi, w);
    w += <usize>(left >> 2) * 48;
    left >>= 2;
    s <<= 2;
    const r = xr;
    const i = xi;
    xr = yr;
    xi = yi;
    yr = r;
    yi = i;
  }
  if (left == 2) {
    const half: usize = bytes >> 1;
    for (let at: usize = 0; at < half; at += PAIR) {
      const ar = v128.load(xr + at);
      const ai = v128.load(xi + at);
      const br = v128.load(xr + at + half);
      const bi = v128.load(xi + at + half);
      v128.store(yr + at, f64x2.add(ar, br));
      v128.store(yi + at, f64x2.add(ai, bi));
      v128.store(yr + at + half, f64x2.sub(ar, br));
      v128.store(yi + at + half, f64x2.sub(ai, bi));
    }
    xr = yr;
    xi = yi;
  }
  if (xr != re) {
    memory.copy(re, xr, bytes);
    memory.copy(im, xi, bytes);
  }
}

/**
 * A spectrum, repeated as often as it must be, times that of a filter: what putting zeros between samples and filtering
 * makes of it. Hot.
 * @param n points of the spectrum
 * @param count points of the filter's, and of the result
 */
export function filterSpectrum(
  re: usize,
  im: usize,
  n: i32,
  filterRe: usize,
  filterIm: usize,
  count: i32,
  outRe: usize,
  outIm: usize,
): void {
  const wrap: usize = ((<usize>n) << 3) - 1;
  const end: usize = (<usize>count) << 3;
  for (let at: usize = 0; at < end; at += PAIR) {
    const from = at & wrap;
    const a = v128.load(re + from);
    const b = v128.load(im + from);
    const c = v128.load(filterRe + at);
    const d = v128.load(filterIm + at);
    v128.store(outRe + at, f64x2.sub(f64x2.mul(a, c), f64x2.mul(b, d)));
    v128.store(outIm + at, f64x2.add(f64x2.mul(a, d), f64x2.mul(b, c)));
  }
}

/**
 * A spectrum laid on itself in `parts`: what taking every so many samples makes of it. Hot.
 * @param n points before; the result lies in the first of them
 */
export function foldSpectrum(re: usize, im: usize, n: i32, parts: i32): void {
  const step: usize = ((<usize>n) << 3) / <usize>parts;
  for (let at: usize = 0; at < step; at += PAIR) {
    let a = v128.load(re + at);
    let b = v128.load(im + at);
    let from = at + step;
    for (let part: i32 = 1; part < parts; part++, from += step) {
      a = f64x2.add(a, v128.load(re + from));
      b = f64x2.add(b, v128.load(im + from));
    }
    v128.store(re + at, a);
    v128.store(im + at, b);
  }
}

/** Every `step`-th of `count` samples of a line, as float32. */
export function polyphaseTake(x: usize, step: i32, count: i32, out: usize): void {
  const bytes: usize = (<usize>step) << 3;
  for (let i: i32 = 0; i < count; i++, out += 4, x += bytes) store<f32>(out, <f32>load<f64>(x));
}

/**
 * Points between samples. Hot: one multiplication and addition a tap, four taps at once.
 * @param x first sample of the line, float64; `position` counts from it in parts of `up` a sample
 * @param filters `up` filters of `taps` numbers, a multiple of 4
 * @param out float32
 */
export function polyphaseInterpolate(
  x: usize,
  position: i32,
  up: i32,
  down: i32,
  filters: usize,
  taps: i32,
  count: i32,
  out: usize,
): void {
  const bytes: usize = (<usize>taps) << 3;
  let sample = position / up;
  let phase = position % up;
  const whole = down / up;
  const part = down % up;
  for (let i: i32 = 0; i < count; i++, out += 4) {
    let f = filters + <usize>phase * bytes;
    const end = f + bytes;
    let from = x + ((<usize>sample) << 3);
    // Two sums that do not wait for each other.
    let sum = f64x2.splat(0);
    let other = f64x2.splat(0);
    for (; f < end; f += 2 * PAIR, from += 2 * PAIR) {
      sum = f64x2.add(sum, f64x2.mul(v128.load(f), v128.load(from)));
      other = f64x2.add(other, f64x2.mul(v128.load(f, 16), v128.load(from, 16)));
    }
    sum = f64x2.add(sum, other);
    store<f32>(out, <f32>(f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1)));
    sample += whole;
    phase += part;
    if (phase >= up) {
      phase -= up;
      sample++;
    }
  }
}
