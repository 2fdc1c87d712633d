// Polyphase FIR decimation and interpolation.

const RUN: i32 = 8; // taps of a step

/**
 * A weighted sum around every `factor`-th sample. Hot: 2 vector operations for four taps.
 * @param x    f32, as many as the last sum needs
 * @param taps f32, a multiple of 8 of them
 * @param out  f32
 */
export function decimate(x: usize, count: i32, factor: i32, taps: usize, length: i32, out: usize): void {
  const step: usize = (<usize>factor) << 2;
  for (let n: i32 = 0; n < count; n++, x += step, out += 4) {
    let even = f32x4.splat(0);
    let odd = f32x4.splat(0);
    for (let k: i32 = 0; k < length; k += RUN) {
      const at: usize = (<usize>k) << 2;
      even = f32x4.add(even, f32x4.mul(v128.load(x + at), v128.load(taps + at)));
      odd = f32x4.add(odd, f32x4.mul(v128.load(x + at, 16), v128.load(taps + at, 16)));
    }
    const sum = f32x4.add(even, odd);
    const low = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1);
    store<f32>(out, low + (f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3)));
  }
}

/**
 * Takes away from `x`, from each `factor`-th sample to the next, what the points `y` around it make of them. Hot: 2
 * vector operations for four samples and point.
 * @param y    f32; point n and the `points` − 1 after it weigh on the samples of step n
 * @param taps f32: for each point, for each sample of a step; rows of `width` ≥ factor, a multiple of 4, filled with 0
 */
export function subtractInterpolated(
  y: usize,
  count: i32,
  factor: i32,
  taps: usize,
  points: i32,
  width: i32,
  x: usize,
): void {
  const step: usize = (<usize>factor) << 2;
  const row: usize = (<usize>width) << 2;
  for (let n: i32 = 0; n < count; n++, y += 4, x += step) {
    for (let at: usize = 0; at < row; at += 16) {
      let sum = f32x4.splat(0);
      let from: usize = taps + at;
      for (let k: i32 = 0; k < points; k++, from += row)
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(y + ((<usize>k) << 2)), v128.load(from)));
      v128.store(x + at, f32x4.sub(v128.load(x + at), sum));
    }
  }
}
