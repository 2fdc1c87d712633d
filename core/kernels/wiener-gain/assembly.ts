// Decision-directed Wiener gain; the numbers come from the reference implementation.

/** Bytes of a row, whole vectors. */
function rowBytes(bins: i32): usize {
  return (<usize>((bins + 3) & ~3)) << 2;
}

/**
 * A frame of the first pass; rows are filled up to whole vectors. Hot: 12 vector operations for four bins.
 * @param before what was left of the frame before, f32; overwritten by what is left of this
 * @param clean  set to the clean PSD, or where `joined` to its geometric mean with what was there
 */
export function cleanPsd(
  power: usize,
  noise: usize,
  bins: i32,
  memory: f32,
  fresh: f32,
  leastRatio: f32,
  before: usize,
  clean: usize,
  joined: bool,
): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const old = f32x4.splat(memory);
  const share = f32x4.splat(fresh);
  const least = f32x4.splat(leastRatio);
  const bytes = rowBytes(bins);
  for (let at: usize = 0; at < bytes; at += 16) {
    const floor = v128.load(noise + at);
    const here = v128.load(power + at);
    const instant = f32x4.max(f32x4.sub(here, floor), zero);
    const mixed = f32x4.add(f32x4.mul(old, v128.load(before + at)), f32x4.mul(share, instant));
    const wanted = f32x4.max(mixed, f32x4.mul(least, floor));
    const sum = f32x4.add(wanted, floor);
    const gain = v128.bitselect(f32x4.div(wanted, sum), one, f32x4.gt(sum, zero));
    const left = f32x4.mul(f32x4.mul(gain, gain), here);
    v128.store(before + at, left);
    v128.store(clean + at, joined ? f32x4.sqrt(f32x4.mul(left, v128.load(clean + at))) : left);
  }
}

/**
 * Gains of a frame by its clean PSD, smoothed with that of the frames before and after it and of the bins beside it.
 * @param sums room for two f32 more than a row; the one before and the one after are those at the ends
 */
export function wienerGains(
  earlier: usize,
  clean: usize,
  later: usize,
  bins: i32,
  noise: usize,
  least: usize,
  sums: usize,
  gains: usize,
): void {
  const two = f32x4.splat(2);
  const share = f32x4.splat(0.0625);
  const bytes = rowBytes(bins);
  const first: usize = sums + 4;
  for (let at: usize = 0; at < bytes; at += 16) {
    const sum = f32x4.add(f32x4.mul(two, v128.load(clean + at)), v128.load(earlier + at));
    v128.store(first + at, f32x4.add(sum, v128.load(later + at)));
  }
  store<f32>(sums, load<f32>(first));
  const last: usize = first + ((<usize>bins) << 2);
  store<f32>(last, load<f32>(last - 4));
  for (let at: usize = 0; at < bytes; at += 16) {
    const inner = f32x4.add(f32x4.mul(two, v128.load(first + at)), v128.load(sums + at));
    const power = f32x4.mul(f32x4.add(inner, v128.load(first + at + 4)), share);
    const gain = f32x4.div(power, f32x4.add(power, v128.load(noise + at)));
    const lowest = v128.load(least + at);
    v128.store(gains + at, v128.bitselect(gain, lowest, f32x4.gt(gain, lowest)));
  }
}
