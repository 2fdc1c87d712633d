// K-weighting (ITU-R BS.1770-5 Annex 1) of two channels at once, and block levels.

/** States below this are set to 0 at the end of a hop: subnormal numbers are slow and inaudible. */
const SMALLEST: f64 = 1e-30;

function kept(state: v128): v128 {
  return v128.and(state, f64x2.ge(f64x2.abs(state), f64x2.splat(SMALLEST)));
}

/**
 * One hop of two channels, one in each lane of f64x2. Both filter sections are in state-space form, which keeps the
 * recursion short. Hot: 20 vector operations a frame.
 * @param a,b          samples of the two channels, f32
 * @param count        frames of the hop
 * @param coefficients ten f64 splatted over two lanes: b0, b1 − a1·b0, b2 − a2·b0, −a1, −a2 of shelf and high-pass
 * @param state        four f64x2
 * @param out          two f64x2: Σz² of the weighted samples, and Σz·z′ of the two if `crossed`
 */
export function kWeighting(
  a: usize,
  b: usize,
  count: i32,
  coefficients: usize,
  state: usize,
  crossed: bool,
  out: usize,
): void {
  const s0 = v128.load(coefficients);
  const s1 = v128.load(coefficients, 16);
  const s2 = v128.load(coefficients, 32);
  const s3 = v128.load(coefficients, 48);
  const s4 = v128.load(coefficients, 64);
  const h0 = v128.load(coefficients, 80);
  const h1 = v128.load(coefficients, 96);
  const h2 = v128.load(coefficients, 112);
  const h3 = v128.load(coefficients, 128);
  const h4 = v128.load(coefficients, 144);
  let p1 = v128.load(state);
  let p2 = v128.load(state, 16);
  let q1 = v128.load(state, 32);
  let q2 = v128.load(state, 48);
  let weighted = f64x2.splat(0);
  let cross = f64x2.splat(0);
  let i: i32 = 0;
  while (i < count) {
    // Two frames of both channels at once, one after the other through the filters.
    let x = f64x2.splat(0);
    let next = f64x2.splat(0);
    const at: usize = (<usize>i) << 2;
    const two = i + 2 <= count;
    if (two) {
      const pairs = v128.shuffle<f32>(v128.load64_zero(a + at), v128.load64_zero(b + at), 0, 4, 1, 5);
      x = f64x2.promote_low_f32x4(pairs);
      next = f64x2.promote_low_f32x4(v128.shuffle<f32>(pairs, pairs, 2, 3, 2, 3));
    } else {
      x = f64x2.replace_lane(f64x2.splat(<f64>load<f32>(a + at)), 1, <f64>load<f32>(b + at));
    }
    let y = f64x2.add(f64x2.mul(s0, x), p1);
    let next1 = f64x2.add(f64x2.mul(s3, p1), f64x2.add(p2, f64x2.mul(s1, x)));
    p2 = f64x2.add(f64x2.mul(s4, p1), f64x2.mul(s2, x));
    p1 = next1;
    let z = f64x2.add(f64x2.mul(h0, y), q1);
    next1 = f64x2.add(f64x2.mul(h3, q1), f64x2.add(q2, f64x2.mul(h1, y)));
    q2 = f64x2.add(f64x2.mul(h4, q1), f64x2.mul(h2, y));
    q1 = next1;
    weighted = f64x2.add(weighted, f64x2.mul(z, z));
    if (crossed) cross = f64x2.add(cross, f64x2.mul(z, v128.shuffle<f64>(z, z, 1, 0)));
    i++;
    if (!two) break;
    y = f64x2.add(f64x2.mul(s0, next), p1);
    next1 = f64x2.add(f64x2.mul(s3, p1), f64x2.add(p2, f64x2.mul(s1, next)));
    p2 = f64x2.add(f64x2.mul(s4, p1), f64x2.mul(s2, next));
    p1 = next1;
    z = f64x2.add(f64x2.mul(h0, y), q1);
    next1 = f64x2.add(f64x2.mul(h3, q1), f64x2.add(q2, f64x2.mul(h1, y)));
    q2 = f64x2.add(f64x2.mul(h4, q1), f64x2.mul(h2, y));
    q1 = next1;
    weighted = f64x2.add(weighted, f64x2.mul(z, z));
    if (crossed) cross = f64x2.add(cross, f64x2.mul(z, v128.shuffle<f64>(z, z, 1, 0)));
    i++;
  }
  v128.store(state, kept(p1));
  v128.store(state, kept(p2), 16);
  v128.store(state, kept(q1), 32);
  v128.store(state, kept(q2), 48);
  v128.store(out, weighted);
  v128.store(out, cross, 16);
}

function sumOfLanes(v: v128): f64 {
  const low: f64 = <f64>f32x4.extract_lane(v, 0) + <f64>f32x4.extract_lane(v, 1);
  const high: f64 = <f64>f32x4.extract_lane(v, 2) + <f64>f32x4.extract_lane(v, 3);
  return low + high;
}

/**
 * Levels of one hop of one channel. Hot: 6 vector operations for four samples.
 * @param out four f64: Σx², Σx, smallest, largest sample
 */
export function blockLevels(x: usize, count: i32, out: usize): void {
  let energies = f32x4.splat(0);
  let sums = f32x4.splat(0);
  let small = f32x4.splat(Infinity);
  let large = f32x4.splat(-Infinity);
  let i: i32 = 0;
  for (; i + 4 <= count; i += 4) {
    const v = v128.load(x + ((<usize>i) << 2));
    energies = f32x4.add(energies, f32x4.mul(v, v));
    sums = f32x4.add(sums, v);
    small = f32x4.pmin(small, v);
    large = f32x4.pmax(large, v);
  }
  let energy: f64 = sumOfLanes(energies);
  let sum: f64 = sumOfLanes(sums);
  let smallest: f32 = Infinity;
  let largest: f32 = -Infinity;
  for (; i < count; i++) {
    const v: f32 = load<f32>(x + ((<usize>i) << 2));
    energy += <f64>v * <f64>v;
    sum += <f64>v;
    smallest = min(smallest, v);
    largest = max(largest, v);
  }
  smallest = min(smallest, min(f32x4.extract_lane(small, 0), f32x4.extract_lane(small, 1)));
  smallest = min(smallest, min(f32x4.extract_lane(small, 2), f32x4.extract_lane(small, 3)));
  largest = max(largest, max(f32x4.extract_lane(large, 0), f32x4.extract_lane(large, 1)));
  largest = max(largest, max(f32x4.extract_lane(large, 2), f32x4.extract_lane(large, 3)));
  store<f64>(out, energy);
  store<f64>(out, sum, 8);
  store<f64>(out, <f64>smallest, 16);
  store<f64>(out, <f64>largest, 24);
}

/** Samples whose products are added in f32 before they go into f64. */
const DOT_RUN: i32 = 64;

/** Σa·b of two channels. Hot: 4 vector operations for four samples. */
export function dotProduct(a: usize, b: usize, count: i32): f64 {
  let total: f64 = 0;
  let i: i32 = 0;
  while (i + DOT_RUN <= count) {
    let even = f32x4.splat(0);
    let odd = f32x4.splat(0);
    for (let k: i32 = 0; k < DOT_RUN; k += 8) {
      const at: usize = (<usize>(i + k)) << 2;
      even = f32x4.add(even, f32x4.mul(v128.load(a + at), v128.load(b + at)));
      odd = f32x4.add(odd, f32x4.mul(v128.load(a + at, 16), v128.load(b + at, 16)));
    }
    total += sumOfLanes(f32x4.add(even, odd));
    i += DOT_RUN;
  }
  for (; i < count; i++) {
    const at: usize = (<usize>i) << 2;
    total += <f64>load<f32>(a + at) * <f64>load<f32>(b + at);
  }
  return total;
}

/** Puts 0 in the place of NaN and infinities. @returns how many there were */
export function replaceNonFinite(x: usize, count: i32): i32 {
  // What is finite differs from itself by 0; one sum tells whether all is well.
  let differences = f32x4.splat(0);
  let i: i32 = 0;
  for (; i + 4 <= count; i += 4) {
    const v = v128.load(x + ((<usize>i) << 2));
    differences = f32x4.add(differences, f32x4.sub(v, v));
  }
  let difference: f64 = sumOfLanes(differences);
  for (; i < count; i++) {
    const v: f32 = load<f32>(x + ((<usize>i) << 2));
    difference += <f64>(v - v);
  }
  if (difference == 0) return 0;
  let found: i32 = 0;
  for (i = 0; i < count; i++) {
    const at: usize = x + ((<usize>i) << 2);
    const v: f32 = load<f32>(at);
    if (v - v != 0) {
      store<f32>(at, 0);
      found++;
    }
  }
  return found;
}
