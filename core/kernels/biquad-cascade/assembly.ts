// Cascaded biquads and a short FIR filter over two channels at once.

const SMALLEST: f64 = 1e-30;

function kept(state: v128): v128 {
  return v128.and(state, f64x2.ge(f64x2.abs(state), f64x2.splat(SMALLEST)));
}

/** Two channels side by side, from f32 to pairs of f64. */
export function packPairs(a: usize, b: usize, frames: i32, work: usize): void {
  for (let i: i32 = 0; i < frames; i++, a += 4, b += 4, work += 16)
    v128.store(work, f64x2.promote_low_f32x4(v128.shuffle<f32>(v128.load32_zero(a), v128.load32_zero(b), 0, 4, 1, 5)));
}

/** And back. */
export function unpackPairs(work: usize, frames: i32, a: usize, b: usize): void {
  for (let i: i32 = 0; i < frames; i++, a += 4, b += 4, work += 16) {
    const both = f32x4.demote_f64x2_zero(v128.load(work));
    store<f32>(a, f32x4.extract_lane(both, 0));
    store<f32>(b, f32x4.extract_lane(both, 1));
  }
}

/**
 * `count` sections in a row, in place, in state-space form; two at a time, because each waits for itself only. Hot: 8
 * vector operations a section and frame.
 * @param coefficients for each section five f64 splatted over two lanes: b0, b1 − a1·b0, b2 − a2·b0, −a1, −a2
 * @param states       for each section two f64x2
 * @param history      for each section the last two inputs and the last two outputs, newest first
 */
export function biquadSections(
  work: usize,
  frames: i32,
  coefficients: usize,
  states: usize,
  history: usize,
  count: i32,
): void {
  let n: i32 = 0;
  for (; n + 2 <= count; n += 2, coefficients += 160, states += 64, history += 128)
    twoSections(work, frames, coefficients, states, history);
  if (n < count) oneSection(work, frames, coefficients, states, history);
}

/** Puts the two newest frames of `work` into two places of a history; of a single frame the one before stays. */
function remember(work: usize, frames: i32, place: usize): void {
  const newest: usize = work + ((<usize>(frames - 1)) << 4);
  v128.store(place, frames > 1 ? v128.load(newest - 16) : v128.load(place), 16);
  v128.store(place, v128.load(newest));
}

function oneSection(work: usize, frames: i32, coefficients: usize, states: usize, history: usize): void {
  remember(work, frames, history);
  const c0 = v128.load(coefficients);
  const c1 = v128.load(coefficients, 16);
  const c2 = v128.load(coefficients, 32);
  const c3 = v128.load(coefficients, 48);
  const c4 = v128.load(coefficients, 64);
  let s1 = v128.load(states);
  let s2 = v128.load(states, 16);
  let at: usize = work;
  for (let i: i32 = 0; i < frames; i++, at += 16) {
    const x = v128.load(at);
    v128.store(at, f64x2.add(f64x2.mul(c0, x), s1));
    const next = f64x2.add(f64x2.mul(c3, s1), f64x2.add(s2, f64x2.mul(c1, x)));
    s2 = f64x2.add(f64x2.mul(c4, s1), f64x2.mul(c2, x));
    s1 = next;
  }
  remember(work, frames, history + 32);
  v128.store(states, kept(s1));
  v128.store(states, kept(s2), 16);
}

function twoSections(work: usize, frames: i32, coefficients: usize, states: usize, history: usize): void {
  remember(work, frames, history);
  const c0 = v128.load(coefficients);
  const c1 = v128.load(coefficients, 16);
  const c2 = v128.load(coefficients, 32);
  const c3 = v128.load(coefficients, 48);
  const c4 = v128.load(coefficients, 64);
  const d0 = v128.load(coefficients, 80);
  const d1 = v128.load(coefficients, 96);
  const d2 = v128.load(coefficients, 112);
  const d3 = v128.load(coefficients, 128);
  const d4 = v128.load(coefficients, 144);
  let s1 = v128.load(states);
  let s2 = v128.load(states, 16);
  let t1 = v128.load(states, 32);
  let t2 = v128.load(states, 48);
  // Of what lies between the two, the newest and the one before.
  let between = v128.load(history, 32);
  let before = between;
  let at: usize = work;
  for (let i: i32 = 0; i < frames; i++, at += 16) {
    const x = v128.load(at);
    before = between;
    between = f64x2.add(f64x2.mul(c0, x), s1);
    const next = f64x2.add(f64x2.mul(c3, s1), f64x2.add(s2, f64x2.mul(c1, x)));
    s2 = f64x2.add(f64x2.mul(c4, s1), f64x2.mul(c2, x));
    s1 = next;
    v128.store(at, f64x2.add(f64x2.mul(d0, between), t1));
    const later = f64x2.add(f64x2.mul(d3, t1), f64x2.add(t2, f64x2.mul(d1, between)));
    t2 = f64x2.add(f64x2.mul(d4, t1), f64x2.mul(d2, between));
    t1 = later;
  }
  v128.store(history, between, 32);
  v128.store(history, before, 48);
  v128.store(history, between, 64);
  v128.store(history, before, 80);
  remember(work, frames, history + 96);
  v128.store(states, kept(s1));
  v128.store(states, kept(s2), 16);
  v128.store(states, kept(t1), 32);
  v128.store(states, kept(t2), 48);
}

/**
 * A FIR filter, backwards in place so that each frame still finds those before it.
 * @param work  pairs of f64, with `taps` − 1 frames of the past before them
 * @param fir   taps, each splatted over two lanes, first the newest
 */
export function firPairs(work: usize, frames: i32, fir: usize, taps: i32): void {
  for (let i: i32 = frames - 1; i >= 0; i--) {
    const newest: usize = work + ((<usize>i) << 4);
    let sum = f64x2.mul(v128.load(fir), v128.load(newest));
    for (let k: i32 = 1; k < taps; k++) {
      const at: usize = (<usize>k) << 4;
      sum = f64x2.add(sum, f64x2.mul(v128.load(fir + at), v128.load(newest - at)));
    }
    v128.store(newest, sum);
  }
}
