// Half-band filters: twin in ../half-band.ts.

/** Σ taps · (samples that mirror each other) of 2·pairs samples from `x` on, for four neighbours at once. */
function folded(x: usize, taps: usize, pairs: i32): v128 {
  let sum = f32x4.splat(0);
  let last: usize = x + ((<usize>(2 * pairs - 1)) << 2);
  const end: usize = taps + ((<usize>pairs) << 2);
  for (; taps < end; taps += 4, x += 4, last -= 4)
    sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps), f32x4.add(v128.load(x), v128.load(last))));
  return sum;
}

/**
 * Doubles the rate. Hot: 5 vector operations a pair of taps for four samples.
 * @param x      f32, with 2·pairs − 1 samples before it in the line and up to three after it
 * @param frames a multiple of 4
 * @param taps   `pairs` f32, from the outermost in
 * @param out    2·frames f32
 */
export function raise(x: usize, frames: i32, taps: usize, pairs: i32, out: usize): void {
  const two = f32x4.splat(2);
  const middle: usize = (<usize>pairs) << 2;
  for (let i: i32 = 0; i < frames; i += 4, x += 16, out += 32) {
    const even = f32x4.mul(two, folded(x, taps, pairs));
    const odd = v128.load(x + middle);
    v128.store(out, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
    v128.store(out, v128.shuffle<f32>(even, odd, 2, 6, 3, 7), 16);
  }
}

/** Puts even and odd samples of `x` apart; `frames` of each, a multiple of 4. */
export function part(x: usize, frames: i32, even: usize, odd: usize): void {
  for (let i: i32 = 0; i < frames; i += 4, x += 32, even += 16, odd += 16) {
    const a = v128.load(x);
    const b = v128.load(x, 16);
    v128.store(even, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    v128.store(odd, v128.shuffle<f32>(a, b, 1, 3, 5, 7));
  }
}

/** Halves the rate, from lines of even and odd samples like `x` of `raise`. Hot. */
export function lower(even: usize, odd: usize, frames: i32, taps: usize, pairs: i32, out: usize): void {
  const half = f32x4.splat(0.5);
  odd += (<usize>(pairs - 1)) << 2;
  for (let i: i32 = 0; i < frames; i += 4, even += 16, odd += 16, out += 16)
    v128.store(out, f32x4.add(folded(even, taps, pairs), f32x4.mul(half, v128.load(odd))));
}
