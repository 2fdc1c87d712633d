// The gain envelope of a look-ahead limiter, and maxima of ranges that tell where it need not look.

/** Gains are whole multiples of its inverse. */
const UNIT: f64 = 1073741824;
const ARRIVED: f64 = 1.0 / 16777216.0;
const FORGOTTEN: f64 = 1.0 / 1024.0;

/**
 * From the peaks of the next intervals to gains, in place. Hot: some 30 operations a frame.
 * @param settings f64: ceiling, release in frames, how much slower it lets go at most, step of what is sustained,
 *                 length of the hold and of both moving sums, and what the gains are divided by at the end
 * @param state    f64: previous peak, released, sustained, smallest gain; of the hold the largest so far and the place
 *                 in its stretch; of each moving sum the sum and the next place;
 *                 whether it is at rest
 * @param stretch,rest f64: values of the hold's stretch that is being filled, and of the one before the largest from
 *                 each place on
 * @param first,second f64: what the moving sums are of
 */
export function limiterGains(
  values: usize,
  frames: i32,
  settings: usize,
  state: usize,
  stretch: usize,
  rest: usize,
  first: usize,
  second: usize,
): void {
  const ceiling = load<f64>(settings);
  const releaseFrames = load<f64>(settings, 8);
  const slower = load<f64>(settings, 16);
  const sustainStep = load<f64>(settings, 24);
  const length = <i32>load<f64>(settings, 32);
  const firstEnd: usize = first + ((<usize>load<f64>(settings, 40)) << 3);
  const secondEnd: usize = second + ((<usize>load<f64>(settings, 48)) << 3);
  const full = load<f64>(settings, 56);
  let previous = load<f64>(state);
  let released = load<f64>(state, 8);
  let sustained = load<f64>(state, 16);
  let smallest = load<f64>(state, 24);
  let largest = load<f64>(state, 32);
  let place = <i32>load<f64>(state, 40);
  let firstSum = load<f64>(state, 48);
  let firstNext: usize = first + ((<usize>load<f64>(state, 56)) << 3);
  let secondSum = load<f64>(state, 64);
  let secondNext: usize = second + ((<usize>load<f64>(state, 72)) << 3);
  for (let i: i32 = 0; i < frames; i++, values += 8) {
    const own = load<f64>(values);
    // A peak between two frames is scaled by the gains of both.
    const peak = previous > own ? previous : own;
    previous = own;
    store<f64>(stretch + ((<usize>place) << 3), peak);
    if (peak > largest) largest = peak;
    place++;
    const before = load<f64>(rest + ((<usize>place) << 3));
    const most = before > largest ? before : largest;
    if (place === length) {
      let kept: f64 = 0;
      for (let k: i32 = length - 1; k >= 0; k--) {
        const value = load<f64>(stretch + ((<usize>k) << 3));
        if (value > kept) kept = value;
        store<f64>(rest + ((<usize>k) << 3), kept);
      }
      place = 0;
      largest = 0;
    }
    const held = most > ceiling ? ceiling / most : 1.0;
    if (held <= released) released = held;
    else {
      released += (held - released) / (1 + releaseFrames * (1 + slower * sustained));
      if (held - released < ARRIVED) released = held;
    }
    sustained += ((held < 1 ? 1.0 : 0.0) - sustained) * sustainStep;
    if (sustained < FORGOTTEN) sustained = 0;
    const gain = floor(released * UNIT);
    firstSum += gain - load<f64>(firstNext);
    store<f64>(firstNext, gain);
    firstNext += 8;
    if (firstNext === firstEnd) firstNext = first;
    secondSum += firstSum - load<f64>(secondNext);
    store<f64>(secondNext, firstSum);
    secondNext += 8;
    if (secondNext === secondEnd) secondNext = second;
    const smooth = secondSum / full;
    store<f64>(values, smooth);
    if (smooth < smallest) smallest = smooth;
  }
  // At rest nothing changes until a peak rises above the ceiling.
  const still = released === 1 && sustained === 0 && secondSum === full && previous <= ceiling;
  store<f64>(state, still ? 1.0 : 0.0, 80);
  store<f64>(state, previous);
  store<f64>(state, released, 8);
  store<f64>(state, sustained, 16);
  store<f64>(state, smallest, 24);
  store<f64>(state, largest, 32);
  store<f64>(state, <f64>place, 40);
  store<f64>(state, firstSum, 48);
  store<f64>(state, <f64>((firstNext - first) >> 3), 56);
  store<f64>(state, secondSum, 64);
  store<f64>(state, <f64>((secondNext - second) >> 3), 72);
}

/** f32 times f64, in place. */
export function applyGains(x: usize, frames: i32, gains: usize): void {
  for (let i: i32 = 0; i < frames; i += 2, x += 8, gains += 16) {
    const gained = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(x)), v128.load(gains));
    v128.store64_lane(x, f32x4.demote_f64x2_zero(gained), 0);
  }
}

function highest(most: v128): f32 {
  return max(
    max(f32x4.extract_lane(most, 0), f32x4.extract_lane(most, 1)),
    max(f32x4.extract_lane(most, 2), f32x4.extract_lane(most, 3)),
  );
}

/**
 * Of each stretch of `length` samples, the last one shorter: the largest magnitude and the largest second difference,
 * in f32. One sample before and up to four behind are looked at too.
 */
export function rangeMaxima(x: usize, frames: i32, length: i32, largest: usize, bends: usize): void {
  const two = f32x4.splat(2);
  for (let from: i32 = 0; from < frames; from += length, largest += 4, bends += 4) {
    const end: usize = x + ((<usize>min(length, frames - from)) << 2);
    let most = f32x4.splat(0);
    let bend = f32x4.splat(0);
    while (x < end) {
      const here = v128.load(x);
      const around = f32x4.add(v128.load(x - 4), v128.load(x, 4));
      const own = end - x >= 16 ? here : v128.and(here, firstLanes((<i32>(end - x)) >> 2));
      most = f32x4.pmax(most, f32x4.abs(own));
      bend = f32x4.pmax(bend, f32x4.abs(f32x4.sub(around, f32x4.mul(two, here))));
      x += 16;
    }
    x = end;
    store<f32>(largest, highest(most));
    store<f32>(bends, highest(bend));
  }
}

/** Ones in the first `count` of four lanes. */
function firstLanes(count: i32): v128 {
  return i32x4.lt_s(i32x4(0, 1, 2, 3), i32x4.splat(count));
}
