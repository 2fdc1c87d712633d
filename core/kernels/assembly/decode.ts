// Interleaved little-endian samples to planes of f32: twin in ../../files/pcm-encoding.ts.

const FULL_16: f32 = 1.0 / 32768.0;
const FULL_32: f32 = 1.0 / 2147483648.0;

/**
 * One channel out of `frames` interleaved frames. Whole numbers come out exactly, full scale ±1; 32-bit ones rounded.
 * @param bytes  its first sample; a byte past the last one may be read
 * @param size   bytes a sample: 2, 3 or 4 (whole numbers), −4 (float32)
 * @param stride bytes a frame
 */
export function decode(bytes: usize, size: i32, stride: i32, frames: i32, out: usize): void {
  const end: usize = out + ((<usize>frames) << 2);
  const step: usize = <usize>stride;
  if (size == 2) {
    for (; out < end; out += 4, bytes += step) store<f32>(out, <f32>(<i32>load<i16>(bytes)) * FULL_16);
  } else if (size == 3) {
    for (; out < end; out += 4, bytes += step) store<f32>(out, <f32>(load<i32>(bytes) << 8) * FULL_32);
  } else if (size == 4) {
    for (; out < end; out += 4, bytes += step) store<f32>(out, <f32>load<i32>(bytes) * FULL_32);
  } else {
    for (; out < end; out += 4, bytes += step) store<f32>(out, load<f32>(bytes));
  }
}
