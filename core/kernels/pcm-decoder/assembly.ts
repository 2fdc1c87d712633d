// Interleaved little-endian samples to planes of f32; ../../files/pcm-encoding.ts is the reference implementation.

const FULL_32: f32 = 1.0 / 2147483648.0;

/** Four words of one channel, a frame apart. */
function fourFrames(at: usize, step: usize): v128 {
  let four = v128.load32_zero(at);
  four = v128.load32_lane(at + step, four, 1);
  four = v128.load32_lane(at + 2 * step, four, 2);
  return v128.load32_lane(at + 3 * step, four, 3);
}

/**
 * One channel out of `frames` interleaved frames. Whole numbers come out exactly, full scale ±1; 32-bit ones rounded.
 * Hot: a load and less than an operation a sample.
 * @param bytes  its first sample; two bytes past the last one may be read
 * @param size   bytes a sample: 2, 3 or 4 (whole numbers), −4 (float32)
 * @param stride bytes a frame
 */
export function decodePcm(bytes: usize, size: i32, stride: i32, frames: i32, out: usize): void {
  const end: usize = out + ((<usize>frames) << 2);
  const fours: usize = out + ((<usize>(frames & ~3)) << 2);
  const step: usize = <usize>stride;
  if (size < 0) {
    for (; out < fours; out += 16, bytes += 4 * step) v128.store(out, fourFrames(bytes, step));
    for (; out < end; out += 4, bytes += step) store<f32>(out, load<f32>(bytes));
    return;
  }
  // The sample's bits go to the top of a word: what was read past them falls out.
  const shift: i32 = 32 - 8 * size;
  const scale = f32x4.splat(FULL_32);
  for (; out < fours; out += 16, bytes += 4 * step) {
    const words = i32x4.shl(fourFrames(bytes, step), shift);
    v128.store(out, f32x4.mul(f32x4.convert_i32x4_s(words), scale));
  }
  for (; out < end; out += 4, bytes += step) store<f32>(out, <f32>(load<i32>(bytes) << shift) * FULL_32);
}
