/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { spectrumTwiddles } from "../spectrum/tables";
import { referenceTransform } from "../spectrum/reference";

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

/** Each value twice: as the transform wants its window. */
export const doubled = (window: Float32Array): Float32Array =>
  Float32Array.from({ length: 2 * window.length }, (_, i) => window[i >> 1]!);

export const scaled = (window: Float32Array, scale: number): Float32Array => window.map((w) => w * scale);

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
