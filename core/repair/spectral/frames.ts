import { sinCosTurns } from "../../math/elementary";
import { complexTransform, type ComplexTransform } from "../../kernels/complex-transform";
import type { Frames, Hertz, Planar, Seconds } from "../../signal/units";
import type { Place } from "../repair";

/** Overlap: each sample lies in four frames. */
export const HOPS_PER_FRAME = 4;

/**
 * Short-time spectra of two channels at once (one real, one imaginary), in frames that lie at whole multiples of the
 * hop from the recording's start, so that they are the same whatever block they are taken from. Window: the root of
 * a Hann window, before and after.
 */
export class SpectralFrames {
  readonly hop: Frames;
  readonly bins: number;
  readonly #window: Float32Array;
  readonly #forward: ComplexTransform;
  readonly #backward: ComplexTransform;
  /** Packed spectra, [frame][size]. */
  re = new Float32Array(0);
  im = new Float32Array(0);
  count = 0;
  /** The first frame, in hops from the recording's start. */
  firstFrame = 0;

  constructor(readonly size: number) {
    this.hop = size / HOPS_PER_FRAME;
    this.bins = size / 2 + 1;
    this.#window = Float32Array.from({ length: size }, (_, i) => sinCosTurns((i + 0.5) / (2 * size)).sin);
    this.#forward = complexTransform(size, this.#window);
    this.#backward = complexTransform(size, new Float32Array(size).fill(1));
  }

  /** Takes the spectra of all whole frames of a block; `b` may be missing. */
  analyse(a: Float32Array, b: Float32Array | undefined, first: Frames): void {
    const { size, hop } = this;
    this.firstFrame = Math.ceil(first / hop);
    this.count = Math.max(0, Math.floor((first + a.length - size) / hop) - this.firstFrame + 1);
    if (this.re.length < this.count * size) {
      this.re = new Float32Array(this.count * size);
      this.im = new Float32Array(this.count * size);
    }
    const { input, re, im } = this.#forward;
    for (let t = 0; t < this.count; t++) {
      const at = (this.firstFrame + t) * hop - first;
      for (let i = 0, j = 0; i < size; i++, j += 2) {
        input[j] = a[at + i]!;
        input[j + 1] = b ? b[at + i]! : 0;
      }
      this.#forward.run();
      this.re.set(re, t * size);
      this.im.set(im, t * size);
    }
  }

  /** |X|² of both channels in frame `t`. Hot. */
  powers(t: number, a: Float32Array, b: Float32Array, at = 0): void {
    const { size, bins, re, im } = this;
    const base = t * size;
    for (let k = 0; k < bins; k++) {
      const i = base + k;
      const j = base + ((size - k) & (size - 1));
      const ar = re[i]! + re[j]!;
      const ai = im[i]! - im[j]!;
      const br = im[i]! + im[j]!;
      const bi = re[j]! - re[i]!;
      a[at + k] = 0.25 * (ar * ar + ai * ai);
      b[at + k] = 0.25 * (br * br + bi * bi);
    }
  }

  /** Multiplies frame `t` of each channel by gains, a gain a bin. Hot. */
  apply(t: number, a: Float32Array, b: Float32Array, at = 0): void {
    const { size, bins, re, im } = this;
    const base = t * size;
    for (let k = 0; k < bins; k++) {
      const i = base + k;
      const j = base + ((size - k) & (size - 1));
      // X = (a + ib) in bin k, (a* + ib*) in bin −k: what the gains have in common, and what they have not.
      const both = 0.5 * (a[at + k]! + b[at + k]!);
      const apart = 0.5 * (a[at + k]! - b[at + k]!);
      const [ir, ii, jr, ji] = [re[i]!, im[i]!, re[j]!, im[j]!];
      re[i] = both * ir + apart * jr;
      im[i] = both * ii - apart * ji;
      re[j] = both * jr + apart * ir;
      im[j] = both * ji - apart * ii;
    }
  }

  /** Puts what the frames have become in the place of `from`…`to` of the channels. */
  synthesise(a: Float32Array, b: Float32Array | undefined, { first, from, to }: Place): void {
    const { size, hop } = this;
    const window = this.#window;
    // A forward transform with the parts exchanged is a backward one with the parts exchanged.
    const { input, re: outIm, im: outRe } = this.#backward;
    a.fill(0, from, to);
    b?.fill(0, from, to);
    const scale = 2 / HOPS_PER_FRAME / size;
    for (let t = 0; t < this.count; t++) {
      const at = (this.firstFrame + t) * hop - first;
      if (at + size <= from || at >= to) continue;
      for (let i = t * size, j = 0; j < 2 * size; i++, j += 2) {
        input[j] = this.im[i]!;
        input[j + 1] = this.re[i]!;
      }
      this.#backward.run();
      const end = Math.min(size, to - at);
      for (let i = Math.max(0, from - at); i < end; i++) {
        const w = scale * window[i]!;
        a[at + i] = a[at + i]! + outRe[i]! * w;
        if (b) b[at + i] = b[at + i]! + outIm[i]! * w;
      }
    }
  }
}

/** Samples of a frame at a rate: the power of two nearest to `seconds`, at least 256. */
export function frameNear(seconds: Seconds, sampleRate: Hertz): Frames {
  let size = 256;
  while (size * Math.SQRT2 < seconds * sampleRate) size *= 2;
  return size;
}

/** Calls `work` with each pair of channels of a block; the last may be alone. */
export function inPairs(
  block: Planar,
  work: (a: Float32Array, b: Float32Array | undefined, first: number) => void,
): void {
  for (let c = 0; c < block.length; c += 2) work(block[c]!, block[c + 1], c);
}
