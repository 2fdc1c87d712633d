import { sinCosTurns } from "../../math/elementary";
import { Fft } from "../../math/fft";
import type { Frames, Planar } from "../../signal/units";
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
  readonly #fft: Fft;
  readonly #window: Float64Array;
  readonly #re: Float64Array;
  readonly #im: Float64Array;
  /** Packed spectra, [frame][size]. */
  re = new Float32Array(0);
  im = new Float32Array(0);
  count = 0;
  /** The first frame, in hops from the recording's start. */
  firstFrame = 0;

  constructor(readonly size: number) {
    this.hop = size / HOPS_PER_FRAME;
    this.bins = size / 2 + 1;
    this.#fft = new Fft(size);
    this.#window = Float64Array.from({ length: size }, (_, i) => sinCosTurns((i + 0.5) / (2 * size)).sin);
    this.#re = new Float64Array(size);
    this.#im = new Float64Array(size);
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
    const [re, im, window] = [this.#re, this.#im, this.#window];
    for (let t = 0; t < this.count; t++) {
      const at = (this.firstFrame + t) * hop - first;
      for (let i = 0; i < size; i++) re[i] = a[at + i]! * window[i]!;
      if (b) for (let i = 0; i < size; i++) im[i] = b[at + i]! * window[i]!;
      else im.fill(0);
      this.#fft.forward(re, im);
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
    const [re, im, window] = [this.#re, this.#im, this.#window];
    a.fill(0, from, to);
    b?.fill(0, from, to);
    const scale = 2 / HOPS_PER_FRAME;
    for (let t = 0; t < this.count; t++) {
      const at = (this.firstFrame + t) * hop - first;
      if (at + size <= from || at >= to) continue;
      for (let i = 0; i < size; i++) {
        re[i] = this.re[t * size + i]!;
        im[i] = this.im[t * size + i]!;
      }
      this.#fft.backward(re, im);
      const end = Math.min(size, to - at);
      for (let i = Math.max(0, from - at); i < end; i++) {
        const w = scale * window[i]!;
        a[at + i] = a[at + i]! + re[i]! * w;
        if (b) b[at + i] = b[at + i]! + im[i]! * w;
      }
    }
  }
}

/** Calls `work` with each pair of channels of a block; the last may be alone. */
export function inPairs(
  block: Planar,
  work: (a: Float32Array, b: Float32Array | undefined, first: number) => void,
): void {
  for (let c = 0; c < block.length; c += 2) work(block[c]!, block[c + 1], c);
}
