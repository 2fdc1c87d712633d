// The gain envelope of a look-ahead limiter, and maxima of ranges that tell where it need not look.

/** Gains are whole multiples of its inverse. */
const UNIT: f64 = 1073741824;
const ARRIVED: f64 = 1.0 / 16777216.0;
const FORGOTTEN: f64 = 1.0 / 65536.0;
const MOST_SHARE: f64 = 0.85;
const STEADY_WITHIN: f64 = 0.03;

/**
 * From the peaks of the next intervals to gains, in place. Hot: some 50 operations a frame.
 * @param settings f64: ceiling; steps of the release after a peak, of the mean reduction up and down; share of it that
 *                 is kept, and how that grows with it; steps of the held gain's share and of its return; frames of a
 *                 block; length of the hold and of both moving sums, and what the gains are divided by at the end
 * @param state    f64: as the reference has it; then of the hold the largest so far and the place in its stretch, of
 *                 each moving sum the sum and the next place, and whether it is at rest
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
  const peakStep = load<f64>(settings, 8);
  const attackStep = load<f64>(settings, 16);
  const releaseStep = load<f64>(settings, 24);
  const levelShare = load<f64>(settings, 32);
  const slope = load<f64>(settings, 40);
  const shareStep = load<f64>(settings, 48);
  const heldStep = load<f64>(settings, 56);
  const block = load<f64>(settings, 64);
  const length = <i32>load<f64>(settings, 72);
  const firstEnd: usize = first + ((<usize>load<f64>(settings, 80)) << 3);
  const secondEnd: usize = second + ((<usize>load<f64>(settings, 88)) << 3);
  const full = load<f64>(settings, 96);
  let previous = load<f64>(state);
  let released = load<f64>(state, 8);
  let level = load<f64>(state, 16);
  let smallest = load<f64>(state, 24);
  let heldShare = load<f64>(state, 32);
  let heldGain = load<f64>(state, 40);
  let blockPlace = load<f64>(state, 48);
  let lowest = load<f64>(state, 56);
  let block0 = load<f64>(state, 64);
  let block1 = load<f64>(state, 72);
  let block2 = load<f64>(state, 80);
  let block3 = load<f64>(state, 88);
  let steady = load<f64>(state, 96);
  let underWay = load<f64>(state, 104);
  let largest = load<f64>(state, 112);
  let place = <i32>load<f64>(state, 120);
  let firstSum = load<f64>(state, 128);
  let firstNext: usize = first + ((<usize>load<f64>(state, 136)) << 3);
  let secondSum = load<f64>(state, 144);
  let secondNext: usize = second + ((<usize>load<f64>(state, 152)) << 3);
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
    const demand = most > ceiling ? ceiling / most : 1.0;
    const reduction = 1.0 - demand;
    level += (reduction > level ? attackStep : releaseStep) * (reduction - level);
    if (level < FORGOTTEN) level = 0;
    const share = min(MOST_SHARE, levelShare + slope * level);
    const wanted = min(demand, 1.0 - share * level);
    if (wanted <= released) released = wanted;
    else {
      released += (wanted - released) * peakStep;
      if (wanted - released < ARRIVED) released = wanted;
    }
    if (demand < 1) underWay = 1;
    if (underWay !== 0) {
      if (demand < lowest) lowest = demand;
      blockPlace += 1;
      if (blockPlace >= block) {
        block0 = block1;
        block1 = block2;
        block2 = block3;
        block3 = lowest;
        lowest = 1;
        blockPlace = 0;
        const low = min(min(block0, block1), min(block2, block3));
        const high = max(max(block0, block1), max(block2, block3));
        steady = high < 1 && high - low < STEADY_WITHIN * low ? 1.0 : 0.0;
        if (low === 1) underWay = 0;
      }
    }
    const least = min(lowest, min(block2, block3));
    if (least <= heldGain) heldGain = least;
    else {
      heldGain += (least - heldGain) * heldStep;
      if (least - heldGain < ARRIVED) heldGain = least;
    }
    heldShare += (steady - heldShare) * shareStep;
    if (heldShare > 1 - FORGOTTEN) heldShare = 1;
    else if (heldShare < FORGOTTEN) heldShare = 0;
    const gain = floor(min(released, 1.0 - heldShare * (1.0 - heldGain)) * UNIT);
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
  store<f64>(state, previous);
  store<f64>(state, released, 8);
  store<f64>(state, level, 16);
  store<f64>(state, smallest, 24);
  store<f64>(state, heldShare, 32);
  store<f64>(state, heldGain, 40);
  store<f64>(state, blockPlace, 48);
  store<f64>(state, lowest, 56);
  store<f64>(state, block0, 64);
  store<f64>(state, block1, 72);
  store<f64>(state, block2, 80);
  store<f64>(state, block3, 88);
  store<f64>(state, steady, 96);
  store<f64>(state, underWay, 104);
  store<f64>(state, largest, 112);
  store<f64>(state, <f64>place, 120);
  store<f64>(state, firstSum, 128);
  store<f64>(state, <f64>((firstNext - first) >> 3), 136);
  store<f64>(state, secondSum, 144);
  store<f64>(state, <f64>((secondNext - second) >> 3), 152);
  // At rest nothing changes until a peak rises above the ceiling.
  const settled = released === 1 && level === 0 && heldShare === 0 && heldGain === 1 && underWay === 0;
  store<f64>(state, settled && secondSum === full && previous <= ceiling ? 1.0 : 0.0, 160);
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
      const own = end - x >= 16 ? here : v128.and(here, firstLanes(<i32>(end - x) >> 2));
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
