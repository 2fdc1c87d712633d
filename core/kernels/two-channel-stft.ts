/**
 * Short-time spectra of two channels at once, one in the real and one in the imaginary parts, in float32: there, gains
 * on them, and back. By WebAssembly, or its plain twin; the same bits.
 */
import { referenceTransform } from "./reference-spectrum";
import { spectrumTwiddles } from "./spectrum-tables";
import { loadKernels, MemoryPlan } from "./wasm";

/** Spectrum of a pair of frames, unscaled; shape of both [size]. */
export interface TwoChannelSpectrum {
  re: Float32Array;
  im: Float32Array;
}

export interface TwoChannelStft {
  /** Windows `a` and `b` and takes their spectrum; without `b` that channel is silent. */
  forward(a: Float32Array, b: Float32Array | undefined, out: TwoChannelSpectrum): void;
  /** |X|² of each channel, shape [size / 2 + 1]. */
  powers(spectrum: TwoChannelSpectrum, a: Float32Array, b: Float32Array): void;
  /** Multiplies each channel's spectrum by gains, shape [size / 2 + 1]. */
  gain(spectrum: TwoChannelSpectrum, a: Float32Array, b: Float32Array): void;
  /** Takes a pair back to time, windowed, and adds it to what has been summed up. */
  add(spectrum: TwoChannelSpectrum): void;
  /** Gives the first samples of the sums, as many as `a` holds, and moves the sums on by so many. */
  take(a: Float32Array, b: Float32Array): void;
  /** Forgets what has been summed up. */
  clear(): void;
}

/** @param window before and after, the second with `scale`; a power of two of at least 64 */
export const twoChannelStft = (window: Float32Array, scale: number): TwoChannelStft =>
  wasmTwoChannelStft(window, scale) ?? referenceTwoChannelStft(window, scale);

/** Each value twice: as the transform wants its window. */
const doubled = (window: Float32Array): Float32Array =>
  Float32Array.from({ length: 2 * window.length }, (_, i) => window[i >> 1]!);
const scaled = (window: Float32Array, scale: number): Float32Array => window.map((w) => w * scale);

/** By WebAssembly; `undefined` where there is none. */
export function wasmTwoChannelStft(window: Float32Array, scale: number): TwoChannelStft | undefined {
  const size = window.length;
  const factors = spectrumTwiddles(2 * size);
  const plan = new MemoryPlan();
  const [first, second] = [plan.floats(size), plan.floats(size)];
  const input = plan.floats(2 * size);
  const [before, plain, after] = [plan.floats(2 * size), plan.floats(2 * size), plan.floats(size)];
  const [work, twiddles] = [plan.floats(4 * size), plan.floats(factors.length)];
  const [sumA, sumB] = [plan.floats(size), plan.floats(size)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  floats(before).set(doubled(window));
  floats(plain).fill(1);
  floats(after).set(scaled(window, scale));
  floats(twiddles).set(factors);
  const [x, y, sums] = [floats(first), floats(second), [floats(sumA), floats(sumB)]];
  const parts = floats(work);
  const transform = (by: number): number => {
    kernels.interleave(first.at, second.at, size, input.at);
    return kernels.transform(input.at, by, size, work.at, twiddles.at);
  };
  const load = ({ re, im }: TwoChannelSpectrum) => {
    x.set(re);
    y.set(im);
  };
  // Rows of gains and powers lie where the transform works.
  const [rowA, rowB] = [work.at, work.at + 8 * size];
  const bins = size / 2 + 1;
  return {
    forward(a, b, { re, im }) {
      x.set(a);
      if (b) y.set(b);
      else y.fill(0);
      const at = (transform(before.at) - work.at) / 4;
      re.set(parts.subarray(at, at + size));
      im.set(parts.subarray(at + size, at + 2 * size));
    },
    powers(spectrum, a, b) {
      load(spectrum);
      kernels.pairPowers(first.at, second.at, size, rowA, rowB);
      a.set(parts.subarray(0, bins));
      b.set(parts.subarray(2 * size, 2 * size + bins));
    },
    gain(spectrum, a, b) {
      load(spectrum);
      parts.set(a);
      parts.set(b, 2 * size);
      kernels.pairGains(first.at, second.at, size, rowA, rowB);
      spectrum.re.set(x);
      spectrum.im.set(y);
    },
    add({ re, im }) {
      // A forward transform with the parts exchanged is a backward one with the parts exchanged.
      x.set(im);
      y.set(re);
      const at = transform(plain.at);
      kernels.addWindowed(at + 4 * size, at, size, after.at, sumA.at, sumB.at);
    },
    take(a, b) {
      [a, b].forEach((out, c) => {
        out.set(sums[c]!.subarray(0, out.length));
        sums[c]!.copyWithin(0, out.length).fill(0, size - out.length);
      });
    },
    clear: () => sums.forEach((sum) => sum.fill(0)),
  };
}

export function referenceTwoChannelStft(window: Float32Array, scale: number): TwoChannelStft {
  const size = window.length;
  const { fround } = Math;
  const factors = spectrumTwiddles(2 * size);
  const [before, plain] = [doubled(window), new Float32Array(2 * size).fill(1)];
  const after = scaled(window, scale);
  const sums = [new Float32Array(size), new Float32Array(size)] as const;
  const interleaved = (a: Float32Array, b?: Float32Array) =>
    Float32Array.from({ length: 2 * size }, (_, i) => (i % 2 === 0 ? a[i >> 1]! : (b?.[i >> 1] ?? 0)));
  const square = (re: number, im: number) => fround(fround(re * re) + fround(im * im));
  const mixed = (a: number, x: number, b: number, y: number) => fround(fround(a * x) + fround(b * y));
  return {
    forward(a, b, { re, im }) {
      const spectrum = referenceTransform(interleaved(a, b), before, factors);
      re.set(spectrum.re);
      im.set(spectrum.im);
    },
    powers({ re, im }, a, b) {
      a[0] = re[0]! * re[0]!;
      b[0] = im[0]! * im[0]!;
      for (let k = 1; k <= size / 2; k++) {
        const [ir, ii, jr, ji] = [re[k]!, im[k]!, re[size - k]!, im[size - k]!];
        a[k] = 0.25 * square(fround(ir + jr), fround(ii - ji));
        b[k] = 0.25 * square(fround(ii + ji), fround(jr - ir));
      }
    },
    gain({ re, im }, a, b) {
      re[0] = re[0]! * a[0]!;
      im[0] = im[0]! * b[0]!;
      for (let k = 1; k <= size / 2; k++) {
        const both = fround(0.5 * fround(a[k]! + b[k]!));
        const apart = fround(0.5 * fround(a[k]! - b[k]!));
        const [ir, ii, jr, ji] = [re[k]!, im[k]!, re[size - k]!, im[size - k]!];
        re[k] = mixed(both, ir, apart, jr);
        im[k] = mixed(both, ii, -apart, ji);
        re[size - k] = mixed(both, jr, apart, ir);
        im[size - k] = mixed(both, ji, -apart, ii);
      }
    },
    add({ re, im }) {
      const made = referenceTransform(interleaved(im, re), plain, factors);
      [made.im, made.re].forEach((x, c) => {
        for (let i = 0; i < size; i++) sums[c]![i] = sums[c]![i]! + fround(x[i]! * after[i]!);
      });
    },
    take(a, b) {
      [a, b].forEach((out, c) => {
        out.set(sums[c]!.subarray(0, out.length));
        sums[c]!.copyWithin(0, out.length).fill(0, size - out.length);
      });
    },
    clear: () => sums.forEach((sum) => sum.fill(0)),
  };
}
