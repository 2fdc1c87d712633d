// Windowed-sinc interpolation between samples, and the prescan for true peaks.

/** Pairs of taps of the 4× interpolator. */
const PAIRS: i32 = 16;
/** Samples whose largest magnitude is told together. */
const GROUP: i32 = 16;
const VECTOR: i32 = 16; // bytes

function largestLane(v: v128): f32 {
  const low: f32 = max(f32x4.extract_lane(v, 0), f32x4.extract_lane(v, 1));
  return max(low, max(f32x4.extract_lane(v, 2), f32x4.extract_lane(v, 3)));
}

/** Whether a sample of the group is above the line. */
function isLoud(x: usize, line: v128): bool {
  const low = f32x4.pmax(f32x4.abs(v128.load(x)), f32x4.abs(v128.load(x, 16)));
  const high = f32x4.pmax(f32x4.abs(v128.load(x, 32)), f32x4.abs(v128.load(x, 48)));
  return v128.any_true(f32x4.gt(f32x4.pmax(low, high), line));
}

/**
 * Largest magnitude of each group of 16 samples, of the points half a sample after each of them, and of the sample
 * that follows; 0 for a group that is quiet, with those beside it. Hot: 10 vector operations a sample, 1 where it is quiet.
 * @param x      first sample, f32; a group before it and one after the last are read
 * @param groups how many groups
 * @param taps   six pairs of taps, each splatted over four lanes
 * @param quiet  no sample of a quiet group is above this
 * @param out    one f32 a group
 */
export function prescanTruePeak(x: usize, groups: i32, taps: usize, quiet: f32, out: usize): void {
  const line = f32x4.splat(quiet);
  const t0 = v128.load(taps);
  const t1 = v128.load(taps, 16);
  const t2 = v128.load(taps, 32);
  const t3 = v128.load(taps, 48);
  const t4 = v128.load(taps, 64);
  const t5 = v128.load(taps, 80);
  const end: usize = out + ((<usize>groups) << 2);
  let from: usize = x - 20;
  let before = isLoud(x - (GROUP << 2), line);
  let here = isLoud(x, line);
  for (; out < end; out += 4) {
    const groupEnd: usize = from + (GROUP << 2);
    const after = isLoud(groupEnd + 20, line);
    const isQuiet = !before && !here && !after;
    before = here;
    here = after;
    if (isQuiet) {
      store<f32>(out, 0);
      from = groupEnd;
      continue;
    }
    let most = f32x4.splat(0);
    for (; from < groupEnd; from += 16) {
      // The outermost pair first, as in the 4× interpolator.
      let middle = f32x4.mul(t0, f32x4.add(v128.load(from), v128.load(from, 44)));
      middle = f32x4.add(middle, f32x4.mul(t1, f32x4.add(v128.load(from, 4), v128.load(from, 40))));
      middle = f32x4.add(middle, f32x4.mul(t2, f32x4.add(v128.load(from, 8), v128.load(from, 36))));
      middle = f32x4.add(middle, f32x4.mul(t3, f32x4.add(v128.load(from, 12), v128.load(from, 32))));
      middle = f32x4.add(middle, f32x4.mul(t4, f32x4.add(v128.load(from, 16), v128.load(from, 28))));
      const own = v128.load(from, 20);
      middle = f32x4.add(middle, f32x4.mul(t5, f32x4.add(own, v128.load(from, 24))));
      const samples = f32x4.abs(own);
      most = f32x4.pmax(most, f32x4.pmax(samples, f32x4.abs(middle)));
    }
    store<f32>(out, max(largestLane(most), abs<f32>(load<f32>(from, 20))));
  }
}

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
    most = f32x4.pmax(most, f32x4.pmax(half, f32x4.pmax(quarter, threeQuarter)));
  }
  return largestLane(most);
}

/** Taps of the fine interpolator: a multiple of 4. */
const FINE_TAPS: i32 = 256;

/** Sum of products of FINE_TAPS samples and filter taps, in four partial sums. Hot: 24 vector steps. */
export function interpolateFine(x: usize, filter: usize): f32 {
  let sum = f32x4.splat(0);
  for (let t: usize = 0; t < (<usize>FINE_TAPS) << 2; t += 16) {
    sum = f32x4.add(sum, f32x4.mul(v128.load(x + t), v128.load(filter + t)));
  }
  const low: f32 = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1);
  const high: f32 = f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3);
  return low + high;
}
