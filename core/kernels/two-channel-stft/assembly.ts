// Short-time spectra of two channels, one in the real, one in the imaginary parts.

/** f32 of two channels, sample by sample: a, b, a … `n` a multiple of 4. */
export function interleave(a: usize, b: usize, n: i32, out: usize): void {
  const end: usize = a + ((<usize>n) << 2);
  for (; a < end; a += 16, b += 16, out += 32) {
    const x = v128.load(a);
    const y = v128.load(b);
    v128.store(out, v128.shuffle<f32>(x, y, 0, 4, 1, 5));
    v128.store(out, v128.shuffle<f32>(x, y, 2, 6, 3, 7), 16);
  }
}

function reversed(v: v128): v128 {
  return v128.shuffle<f32>(v, v, 3, 2, 1, 0);
}

/**
 * |X|² of both channels from the spectrum of the pair. Hot: 12 vector operations for four bins.
 * @param a,b n / 2 + 1 f32
 */
export function pairPowers(re: usize, im: usize, n: i32, a: usize, b: usize): void {
  const quarter = f32x4.splat(0.25);
  const r0: f32 = load<f32>(re);
  const i0: f32 = load<f32>(im);
  store<f32>(a, r0 * r0);
  store<f32>(b, i0 * i0);
  for (let k: i32 = 1; k <= n >> 1; k += 4) {
    const near: usize = (<usize>k) << 2;
    const far: usize = (<usize>(n - k - 3)) << 2;
    const ir = v128.load(re + near);
    const ii = v128.load(im + near);
    const jr = reversed(v128.load(re + far));
    const ji = reversed(v128.load(im + far));
    const ar = f32x4.add(ir, jr);
    const ai = f32x4.sub(ii, ji);
    const br = f32x4.add(ii, ji);
    const bi = f32x4.sub(jr, ir);
    v128.store(a + near, f32x4.mul(quarter, f32x4.add(f32x4.mul(ar, ar), f32x4.mul(ai, ai))));
    v128.store(b + near, f32x4.mul(quarter, f32x4.add(f32x4.mul(br, br), f32x4.mul(bi, bi))));
  }
}

/** Multiplies the spectra of both channels by gains, a gain a bin. Hot: 14 vector operations for four bins. */
export function pairGains(re: usize, im: usize, n: i32, a: usize, b: usize): void {
  const half = f32x4.splat(0.5);
  store<f32>(re, load<f32>(re) * load<f32>(a));
  store<f32>(im, load<f32>(im) * load<f32>(b));
  for (let k: i32 = 1; k <= n >> 1; k += 4) {
    const near: usize = (<usize>k) << 2;
    const far: usize = (<usize>(n - k - 3)) << 2;
    const ga = v128.load(a + near);
    const gb = v128.load(b + near);
    // X = (a + ib) in bin k, (a* + ib*) in bin −k: what the gains have in common, and what they have not.
    const both = f32x4.mul(half, f32x4.add(ga, gb));
    const apart = f32x4.mul(half, f32x4.sub(ga, gb));
    const ir = v128.load(re + near);
    const ii = v128.load(im + near);
    const jr = reversed(v128.load(re + far));
    const ji = reversed(v128.load(im + far));
    v128.store(re + near, f32x4.add(f32x4.mul(both, ir), f32x4.mul(apart, jr)));
    v128.store(im + near, f32x4.sub(f32x4.mul(both, ii), f32x4.mul(apart, ji)));
    v128.store(re + far, reversed(f32x4.add(f32x4.mul(both, jr), f32x4.mul(apart, ir))));
    v128.store(im + far, reversed(f32x4.sub(f32x4.mul(both, ji), f32x4.mul(apart, ii))));
  }
}

/** Adds a frame of both channels, windowed, to what has been summed up. Hot. */
export function addWindowed(a: usize, b: usize, n: i32, window: usize, sumA: usize, sumB: usize): void {
  const bytes: usize = (<usize>n) << 2;
  for (let at: usize = 0; at < bytes; at += 16) {
    const w = v128.load(window + at);
    v128.store(sumA + at, f32x4.add(v128.load(sumA + at), f32x4.mul(v128.load(a + at), w)));
    v128.store(sumB + at, f32x4.add(v128.load(sumB + at), f32x4.mul(v128.load(b + at), w)));
  }
}
