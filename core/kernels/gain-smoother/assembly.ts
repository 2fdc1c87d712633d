// Gain computer with attack and release; logarithm and power of two as in ../../math/fast-math.ts.

const SQRT2: f64 = 1.4142135623730951;
const LOG2_E: f64 = 1.4426950408889634;
const LN2: f64 = 0.6931471805599453;
const LEAST_POWER: f64 = 1e-30;
const DB_PER_OCTAVE_OF_POWER: f64 = 3.010299956639812;
const OCTAVES_PER_DB: f64 = 0.16609640474436813;
const ARRIVED: f64 = 1e-5;
/** A reduction above this counts as held on to, in dB. */
const HELD: f64 = 0.1;

function log2(x: f64): f64 {
  const bits = reinterpret<u64>(x);
  let exponent = <f64>(<i32>(bits >> 52) - 1023);
  let m = reinterpret<f64>((bits & 0x000f_ffff_ffff_ffff) | 0x3ff0_0000_0000_0000);
  if (m > SQRT2) {
    m *= 0.5;
    exponent += 1;
  }
  const s = (m - 1) / (m + 1);
  const q = s * s;
  return exponent + 2 * LOG2_E * s * (1 + q * (1.0 / 3.0 + q * (1.0 / 5.0 + q * (1.0 / 7.0 + q * (1.0 / 9.0)))));
}

function powerToDb(power: f64): f64 {
  return DB_PER_OCTAVE_OF_POWER * log2(power > LEAST_POWER ? power : LEAST_POWER);
}

/**
 * From powers to gains, in place. What is asked for is worked out at the first of every `steps` frames; the gain goes
 * straight from one of these to the next. Hot.
 * @param settings f64, in the order of ../follow.ts
 * @param state    f64, in the order of ../follow.ts
 * @param groups   room for one f64 more than there are frames
 */
export function smoothGain(values: usize, frames: i32, settings: usize, state: usize, groups: usize): void {
  const steps = <i32>load<f64>(settings, 32);
  const left = min(frames, <i32>load<f64>(state, 40));
  const count = reductions(values, left, frames, steps, settings, state, groups);
  toGains(groups, count, load<f64>(settings, 96));
  spread(values, frames, steps, groups, state);
}

/** What the reduction has come to at the end of each group of `steps` frames that begins in `from`…`frames`. */
function reductions(
  values: usize,
  from: i32,
  frames: i32,
  steps: i32,
  settings: usize,
  state: usize,
  groups: usize,
): i32 {
  const attack = f64x2.splat(load<f64>(settings));
  const release = load<f64>(settings, 8);
  const slower = load<f64>(settings, 16);
  const sustainShare = load<f64>(settings, 24);
  const direction = load<f64>(settings, 40);
  const threshold = load<f64>(settings, 48);
  const slope = load<f64>(settings, 56);
  const knee = load<f64>(settings, 64);
  const most = load<f64>(settings, 72);
  const quiet = load<f64>(settings, 80);
  const atRest = load<f64>(settings, 88);
  const none = f64x2.splat(0);
  const arrived = f64x2.splat(ARRIVED);
  let reduction = v128.load64_splat(state);
  let sustain = load<f64>(state, 8);
  let largest = v128.load64_splat(state, 16);
  let letting = f64x2.splat(release / (1 + slower * sustain));
  let count = 0;
  for (let i = from; i < frames; i += steps, count++, groups += 8) {
    const power = load<f64>(values + ((<usize>i) << 3));
    let asked = atRest;
    if (power > quiet) {
      const over = direction * (powerToDb(power) - threshold);
      const inKnee = over + knee / 2;
      asked = 0;
      if (2 * over >= knee) asked = slope * over;
      else if (2 * over > -knee) asked = (slope * inKnee * inKnee) / (2 * knee);
      if (asked > most) asked = most;
    }
    // Chosen without a branch: on noise it turns round at any time. Vectors, because they can be chosen so.
    const wanted = f64x2.splat(asked);
    const way = f64x2.sub(wanted, reduction);
    const near = f64x2.lt(f64x2.abs(way), arrived);
    const moved = f64x2.add(reduction, f64x2.mul(way, v128.bitselect(attack, letting, f64x2.gt(way, none))));
    reduction = v128.bitselect(wanted, moved, near);
    if (slower > 0) {
      sustain += ((f64x2.extract_lane(reduction, 0) > HELD ? 1.0 : 0.0) - sustain) * sustainShare;
      if (sustain < ARRIVED) sustain = 0;
      letting = f64x2.splat(release / (1 + slower * sustain));
    }
    largest = f64x2.pmax(largest, reduction);
    v128.store64_lane(groups, reduction, 0);
  }
  v128.store64_lane(state, reduction, 0);
  store<f64>(state, sustain, 8);
  v128.store64_lane(state, largest, 0, 16);
  return count;
}

/** From the gains at the ends of groups to that of each frame, from where the last call left off. */
function spread(values: usize, frames: i32, steps: i32, groups: usize, state: usize): void {
  let from = load<f64>(state, 24);
  let target = load<f64>(state, 32);
  let left = <i32>load<f64>(state, 40);
  let step = (target - from) / <f64>steps;
  for (let i: i32 = 0; i < frames; i++, values += 8) {
    if (left === 0) {
      const next = load<f64>(groups);
      groups += 8;
      from = target < 0 ? next : target;
      target = next;
      step = (target - from) / <f64>steps;
      left = steps;
    }
    left--;
    store<f64>(values, target - step * <f64>left);
  }
  store<f64>(state, from, 24);
  store<f64>(state, target, 32);
  store<f64>(state, <f64>left, 40);
}

/** 10^((gainDb − reduction)/20), in place, two at a time. */
function toGains(values: usize, frames: i32, gainDb: f64): void {
  const gain = f64x2.splat(gainDb);
  const octaves = f64x2.splat(OCTAVES_PER_DB);
  const half = f64x2.splat(0.5);
  const one = f64x2.splat(1);
  const ln2 = f64x2.splat(LN2);
  for (let i: i32 = 0; i < frames; i += 2, values += 16) {
    const x = f64x2.mul(f64x2.sub(gain, v128.load(values)), octaves);
    const k = f64x2.floor(f64x2.add(x, half));
    const r = f64x2.mul(f64x2.sub(x, k), ln2);
    let series = f64x2.mul(r, f64x2.splat(1.0 / 5040.0));
    series = f64x2.mul(r, f64x2.add(f64x2.splat(1.0 / 720.0), series));
    series = f64x2.mul(r, f64x2.add(f64x2.splat(1.0 / 120.0), series));
    series = f64x2.mul(r, f64x2.add(f64x2.splat(1.0 / 24.0), series));
    series = f64x2.mul(r, f64x2.add(f64x2.splat(1.0 / 6.0), series));
    const rest = f64x2.add(one, f64x2.mul(r, f64x2.add(one, f64x2.mul(r, f64x2.add(half, series)))));
    const exponent = i64x2.extend_low_i32x4_s(i32x4.trunc_sat_f64x2_s_zero(k));
    v128.store(values, f64x2.mul(rest, i64x2.shl(i64x2.add(exponent, i64x2.splat(1023)), 52)));
  }
}
