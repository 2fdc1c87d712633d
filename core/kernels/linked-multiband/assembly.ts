// The bands of a multiband compressor whose two channels share each gain.

const LEAST_POWER: f64 = 1e-30;

/** Copies the pairs of `frames`. */
export function copyPairs(from: usize, frames: i32, to: usize): void {
  memory.copy(to, from, (<usize>frames) << 4);
}

/** Rounds pairs of f64 to float32, in place. */
export function roundToFloat(work: usize, frames: i32): void {
  for (let i: i32 = 0; i < frames; i++, work += 16)
    v128.store(work, f64x2.promote_low_f32x4(f32x4.demote_f64x2_zero(v128.load(work))));
}

/** The same, gives the power of the louder channel of each frame. */
export function maxPowers(work: usize, frames: i32, powers: usize): void {
  for (let i: i32 = 0; i < frames; i++, work += 16, powers += 8) {
    const x = f64x2.promote_low_f32x4(f32x4.demote_f64x2_zero(v128.load(work)));
    v128.store(work, x);
    const squares = f64x2.mul(x, x);
    const other = v128.shuffle<f64>(squares, squares, 1, 0);
    v128.store64_lane(powers, f64x2.pmax(squares, other), 0);
  }
}

/** Twice the running mean of powers, in place. `state` is one f64. */
export function meanPowers(powers: usize, frames: i32, share: f64, state: usize): void {
  let mean = load<f64>(state);
  for (let i: i32 = 0; i < frames; i++, powers += 8) {
    mean += (load<f64>(powers) - mean) * share;
    mean = select<f64>(0, mean, mean < LEAST_POWER);
    store<f64>(powers, 2 * mean);
  }
  store<f64>(state, mean);
}

/** Adds pairs times gains, rounded to float32 as any block is. */
export function addWithGain(sum: usize, work: usize, gains: usize, frames: i32): void {
  for (let i: i32 = 0; i < frames; i++, sum += 16, work += 16, gains += 8) {
    const gained = f64x2.mul(v128.load(work), v128.load64_splat(gains));
    v128.store(sum, f64x2.promote_low_f32x4(f32x4.demote_f64x2_zero(f64x2.add(v128.load(sum), gained))));
  }
}
