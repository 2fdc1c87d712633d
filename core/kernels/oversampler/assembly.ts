// Half-band filters for oversampling by powers of two.

/** Of the eight sums that `fold` makes at once: the last four. */
let later: v128 = f32x4.splat(0);

/**
 * Σ taps · (samples that mirror each other) of 2·pairs samples from `x` on, for eight neighbours at once: two sums
 * that do not wait for one another. Gives the first four, leaves the others in `later`.
 */
function fold(x: usize, taps: usize, pairs: i32): v128 {
  let a = f32x4.splat(0);
  let b = f32x4.splat(0);
  let last: usize = x + ((<usize>(2 * pairs - 1)) << 2);
  const end: usize = taps + ((<usize>pairs) << 2);
  for (; taps < end; taps += 4, x += 4, last -= 4) {
    const tap = v128.load32_splat(taps);
    a = f32x4.add(a, f32x4.mul(tap, f32x4.add(v128.load(x), v128.load(last))));
    b = f32x4.add(b, f32x4.mul(tap, f32x4.add(v128.load(x, 16), v128.load(last, 16))));
  }
  later = b;
  return a;
}

/**
 * Doubles the rate. Hot: 4 vector operations a pair of taps for four samples.
 * @param x      f32, with 2·pairs − 1 samples before it in the line and up to seven after it
 * @param frames a multiple of 8
 * @param taps   `pairs` f32, from the outermost in
 * @param out    2·frames f32
 */
export function upsampleHalfBand(x: usize, frames: i32, taps: usize, pairs: i32, out: usize): void {
  const two = f32x4.splat(2);
  const middle: usize = (<usize>pairs) << 2;
  for (let i: i32 = 0; i < frames; i += 8, x += 32, out += 64) {
    const even = f32x4.mul(two, fold(x, taps, pairs));
    const evenLater = f32x4.mul(two, later);
    const odd = v128.load(x + middle);
    const oddLater = v128.load(x + middle, 16);
    v128.store(out, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
    v128.store(out, v128.shuffle<f32>(even, odd, 2, 6, 3, 7), 16);
    v128.store(out, v128.shuffle<f32>(evenLater, oddLater, 0, 4, 1, 5), 32);
    v128.store(out, v128.shuffle<f32>(evenLater, oddLater, 2, 6, 3, 7), 48);
  }
}

/** Puts even and odd samples of `x` apart; `frames` of each, a multiple of 4. */
export function splitPhases(x: usize, frames: i32, even: usize, odd: usize): void {
  for (let i: i32 = 0; i < frames; i += 4, x += 32, even += 16, odd += 16) {
    const a = v128.load(x);
    const b = v128.load(x, 16);
    v128.store(even, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    v128.store(odd, v128.shuffle<f32>(a, b, 1, 3, 5, 7));
  }
}

/** Halves the rate, from lines of even and odd samples like `x` of `raise`; `frames` a multiple of 8. Hot. */
export function downsampleHalfBand(even: usize, odd: usize, frames: i32, taps: usize, pairs: i32, out: usize): void {
  const half = f32x4.splat(0.5);
  odd += (<usize>(pairs - 1)) << 2;
  for (let i: i32 = 0; i < frames; i += 8, even += 32, odd += 32, out += 32) {
    const first = fold(even, taps, pairs);
    v128.store(out, f32x4.add(first, f32x4.mul(half, v128.load(odd))));
    v128.store(out, f32x4.add(later, f32x4.mul(half, v128.load(odd, 16))), 16);
  }
}
