// AssemblyScript: compiled by `npm run kernels` to one WebAssembly module of raw exports. Each export has a plain
// TypeScript twin beside this folder that gives the same bits; the tests hold the two against each other.

/** Pairs of taps of the 4× interpolator. */
const PAIRS: i32 = 16;
const VECTOR: i32 = 16; // bytes

/**
 * Magnitudes of the waveform a quarter, a half and three quarters of a sample after each of `count` samples (a
 * multiple of 4). Hot: 40 vector operations a sample.
 * @param x      first sample, f32; 15 samples before it and 16 after the last are read
 * @param taps   PAIRS × (even, odd, middle), each splatted over four lanes
 * @param out    three planes of `stride` f32 each
 * @returns the largest of all these magnitudes; up to three past `count` take part
 */
export function intersampleGrid(x: usize, count: i32, taps: usize, out: usize, stride: i32): f32 {
  let most = f32x4.splat(0);
  const plane: usize = (<usize>stride) << 2;
  for (let i: i32 = 0; i < count; i += 4) {
    const at: usize = x + ((<usize>i) << 2);
    let even = f32x4.splat(0);
    let odd = f32x4.splat(0);
    let middle = f32x4.splat(0);
    for (let t: i32 = 0; t < PAIRS; t++) {
      const a = v128.load(at - ((<usize>(PAIRS - 1 - t)) << 2));
      const b = v128.load(at + ((<usize>(PAIRS - t)) << 2));
      const c: usize = taps + <usize>(t * 3 * VECTOR);
      const sum = f32x4.add(a, b);
      even = f32x4.add(even, f32x4.mul(v128.load(c), sum));
      odd = f32x4.add(odd, f32x4.mul(v128.load(c, 16), f32x4.sub(a, b)));
      middle = f32x4.add(middle, f32x4.mul(v128.load(c, 32), sum));
    }
    const to: usize = out + ((<usize>i) << 2);
    const quarter = f32x4.abs(f32x4.add(even, odd));
    const half = f32x4.abs(middle);
    const threeQuarter = f32x4.abs(f32x4.sub(even, odd));
    v128.store(to, quarter);
    v128.store(to + plane, half);
    v128.store(to + plane + plane, threeQuarter);
    most = f32x4.max(most, f32x4.max(half, f32x4.max(quarter, threeQuarter)));
  }
  const low: f32 = max(f32x4.extract_lane(most, 0), f32x4.extract_lane(most, 1));
  return max(low, max(f32x4.extract_lane(most, 2), f32x4.extract_lane(most, 3)));
}

/** Taps of the fine interpolator: a multiple of 4. */
const FINE_TAPS: i32 = 256;

/** Sum of products of FINE_TAPS samples and filter taps, in four partial sums. Hot: 24 vector steps. */
export function fineDot(x: usize, filter: usize): f32 {
  let sum = f32x4.splat(0);
  for (let t: usize = 0; t < (<usize>FINE_TAPS) << 2; t += 16) {
    sum = f32x4.add(sum, f32x4.mul(v128.load(x + t), v128.load(filter + t)));
  }
  const low: f32 = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1);
  const high: f32 = f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3);
  return low + high;
}
