// Quantisation with TPDF dither, and packing of integers to bytes.

/**
 * Quantises, clipped at full scale, with a triangle of dither of ±1 step where `dithered`.
 * @param x f32; out: i32
 * @param state four u32 of a xorshift128 generator, two draws a sample
 */
export function quantise(x: usize, frames: i32, scale: f64, dithered: i32, state: usize, out: usize): void {
  const highest = scale - 1;
  const lowest = -scale;
  let a = load<u32>(state);
  let b = load<u32>(state, 4);
  let c = load<u32>(state, 8);
  let d = load<u32>(state, 12);
  const end = x + ((<usize>frames) << 2);
  for (; x < end; x += 4, out += 4) {
    let value = <f64>load<f32>(x) * scale;
    if (dithered) {
      let t = a ^ (a << 11);
      a = b;
      b = c;
      c = d;
      d = d ^ (d >> 19) ^ t ^ (t >> 8);
      value += <f64>d * 2.3283064365386963e-10;
      t = a ^ (a << 11);
      a = b;
      b = c;
      c = d;
      d = d ^ (d >> 19) ^ t ^ (t >> 8);
      value -= <f64>d * 2.3283064365386963e-10;
    }
    value = Math.floor(value + 0.5);
    value = value > highest ? highest : value < lowest ? lowest : value;
    store<i32>(out, <i32>value);
  }
  store<u32>(state, a);
  store<u32>(state, b, 4);
  store<u32>(state, c, 8);
  store<u32>(state, d, 12);
}

/** Whole numbers to little-endian bytes, each sample `stride` bytes after the one before. */
export function encodePcm(x: usize, frames: i32, bytes: i32, stride: i32, out: usize): void {
  const end = x + ((<usize>frames) << 2);
  const step = <usize>stride;
  if (bytes == 2) {
    for (; x < end; x += 4, out += step) store<u16>(out, <u16>load<i32>(x));
  } else if (bytes == 3) {
    for (; x < end; x += 4, out += step) {
      const value = load<i32>(x);
      store<u16>(out, <u16>value);
      store<u8>(out, <u8>(value >> 16), 2);
    }
  } else {
    for (; x < end; x += 4, out += step) store<u32>(out, load<u32>(x));
  }
}
