// Cascaded moving averages of two channels.

/** Samples become whole multiples of its inverse, so that running sums are exact. */
const UNIT: f64 = 1073741824;

/**
 * `passes` moving averages of pairs of f64, in place. Hot: 6 vector operations a pass and frame.
 * @param rings  for each pass `length` pairs of f64, all whole numbers
 * @param sums   for each pass the sum of its ring, a pair
 * @param next   the place that is overwritten next, the same in all rings
 * @returns that place for the next call
 */
export function movingAverages(
  work: usize,
  frames: i32,
  rings: usize,
  sums: usize,
  next: i32,
  length: i32,
  passes: i32,
): i32 {
  const unit = f64x2.splat(UNIT);
  const backDown = f64x2.splat(1.0 / UNIT);
  const share = f64x2.splat(1.0 / <f64>length);
  let place = next;
  for (let pass: i32 = 0; pass < passes; pass++, sums += 16, rings += (<usize>length) << 4) {
    let sum = v128.load(sums);
    let at: usize = work;
    place = next;
    for (let i: i32 = 0; i < frames; i++, at += 16) {
      const value = f64x2.floor(f64x2.mul(v128.load(at), pass === 0 ? unit : share));
      const slot: usize = rings + ((<usize>place) << 4);
      sum = f64x2.add(sum, f64x2.sub(value, v128.load(slot)));
      v128.store(slot, value);
      if (++place === length) place = 0;
      v128.store(at, sum);
    }
    v128.store(sums, sum);
  }
  const whole = f64x2.mul(share, backDown);
  for (let i: i32 = 0; i < frames; i++, work += 16) v128.store(work, f64x2.mul(v128.load(work), whole));
  return place;
}
