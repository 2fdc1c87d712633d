// Attenuation of isolated bins; the numbers come from the reference implementation.

/** How much of each bin is filled: clean PSD by noise, at most 1; and 1 where there is neither. Zeros go behind the row. */
export function binOccupancy(clean: usize, noise: usize, bins: i32, filled: usize): void {
  const one = f32x4.splat(1);
  const bytes = (<usize>bins) << 2;
  for (let at: usize = 0; at < bytes; at += 16)
    v128.store(filled + at, f32x4.pmin(one, f32x4.div(v128.load(clean + at), v128.load(noise + at))));
  v128.store(filled + bytes, f32x4.splat(0));
}

/**
 * Weights each bin of a clean PSD by how full the bins around it are, squared. Hot: 18 vector operations for four bins.
 * @param ring   rows of `frames` frames, `stride` bytes apart; four bins before the first and after the last are empty
 * @param sums   and
 * @param threes room for a row with four bins before and twelve after it
 */
export function attenuateIsolated(
  clean: usize,
  bins: i32,
  ring: usize,
  frames: i32,
  stride: usize,
  share: f32,
  sums: usize,
  threes: usize,
): void {
  const bytes = (<usize>bins) << 2;
  for (let at: usize = 0; at < bytes + 32; at += 16) {
    let sum = v128.load(ring + at);
    for (let t: i32 = 1, row = ring + stride; t < frames; t++, row += stride) sum = f32x4.add(sum, v128.load(row + at));
    v128.store(sums + at, sum);
  }
  // Of the bin and those beside it, from three before the first: rows begin four before it.
  for (let at: usize = 4; at < bytes + 32; at += 16) {
    const before = f32x4.add(v128.load(sums + at - 4), v128.load(sums + at));
    v128.store(threes + at, f32x4.add(before, v128.load(sums + at + 4)));
  }
  const one = f32x4.splat(1);
  const weight = f32x4.splat(share);
  for (let at: usize = 0; at < bytes; at += 16) {
    const here = threes + 16 + at;
    const around = f32x4.add(f32x4.add(v128.load(here - 12), v128.load(here)), v128.load(here + 12));
    const part = f32x4.min(f32x4.mul(around, weight), one);
    v128.store(clean + at, f32x4.mul(f32x4.mul(part, part), v128.load(clean + at)));
  }
}
