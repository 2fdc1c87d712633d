// A polynomial soft clipper.

/**
 * What bending adds to each sample, in its place; `frames` a multiple of 4. Hot: eleven vector operations for four.
 */
export function waveshape(x: usize, frames: i32, drive: f32, bias: f32, offset: f32, scale: f32): void {
  const one = f32x4.splat(1);
  const least = f32x4.splat(-1);
  const fifth = f32x4.splat(0.6);
  const seventh = f32x4.splat(1.0 / 7.0);
  for (let i: i32 = 0; i < frames; i += 4, x += 16) {
    const v = v128.load(x);
    const given = f32x4.add(f32x4.mul(v, f32x4.splat(drive)), f32x4.splat(bias));
    const u = f32x4.pmin(f32x4.pmax(given, least), one);
    const q = f32x4.mul(u, u);
    let sum = f32x4.sub(fifth, f32x4.mul(q, seventh));
    sum = f32x4.sub(f32x4.mul(q, sum), one);
    sum = f32x4.mul(u, f32x4.add(f32x4.mul(q, sum), one));
    v128.store(x, f32x4.sub(f32x4.mul(f32x4.sub(sum, f32x4.splat(offset)), f32x4.splat(scale)), v));
  }
}
