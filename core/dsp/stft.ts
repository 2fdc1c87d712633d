import { sinCosTurns } from "../math/deterministic-math";
import { twoChannelStft, type TwoChannelStft, type TwoChannelSpectrum } from "../kernels/two-channel-stft";
import type { Frames, Hertz, Planar, Seconds } from "../audio/units";
import type { BlockContext } from "../audio/block-context";

/** Overlap: each sample lies in four frames, where nothing else is asked for. */
export const STFT_OVERLAP = 4;

/**
 * Short-time spectra of two channels at once (one real, one imaginary), in frames that lie at whole multiples of the
 * hop from the recording's start, so that they are the same whatever block they are taken from. Window: the root of
 * a Hann window, before and after.
 */
export class Stft {
  readonly hop: Frames;
  readonly bins: number;
  readonly #pair: TwoChannelStft;
  /** Packed spectra, [frame][size]. */
  re = new Float32Array(0);
  im = new Float32Array(0);
  count = 0;
  /** The first frame, in hops from the recording's start. */
  firstFrame = 0;

  /** @param overlap frames that each sample lies in: 2 or more */
  constructor(
    readonly size: number,
    readonly overlap = STFT_OVERLAP,
  ) {
    this.hop = size / overlap;
    this.bins = size / 2 + 1;
    const window = Float32Array.from({ length: size }, (_, i) => sinCosTurns((i + 0.5) / (2 * size)).sin);
    this.#pair = twoChannelStft(window, 2 / overlap / size);
  }

  #spectrum(t: number): TwoChannelSpectrum {
    const [from, to] = [t * this.size, (t + 1) * this.size];
    return { re: this.re.subarray(from, to), im: this.im.subarray(from, to) };
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
    for (let t = 0; t < this.count; t++) {
      const at = (this.firstFrame + t) * hop - first;
      this.#pair.forward(a.subarray(at, at + size), b?.subarray(at, at + size), this.#spectrum(t));
    }
  }

  /** |X|² of both channels in frame `t`, in `a` and `b` from `at` on. */
  powers(t: number, a: Float32Array, b: Float32Array, at = 0): void {
    const end = at + this.bins;
    this.#pair.powers(this.#spectrum(t), a.subarray(at, end), b.subarray(at, end));
  }

  /** Multiplies frame `t` of each channel by gains, a gain a bin. */
  apply(t: number, a: Float32Array, b: Float32Array, at = 0): void {
    const end = at + this.bins;
    this.#pair.gain(this.#spectrum(t), a.subarray(at, end), b.subarray(at, end));
  }

  /** Puts what the frames have become in the place of `from`…`to` of the channels. */
  synthesise(a: Float32Array, b: Float32Array | undefined, { first, from, to }: BlockContext): void {
    const { size, hop } = this;
    const [sumA, sumB] = [new Float32Array(hop), new Float32Array(hop)];
    a.fill(0, from, to);
    b?.fill(0, from, to);
    this.#pair.clear();
    // Each frame makes the samples up to the next one whole; the last frame leaves the rest of itself.
    for (let t = 0; t < this.count + this.overlap - 1; t++) {
      const at = (this.firstFrame + t) * hop - first;
      const end = at + (t < this.count ? size : hop);
      if (end <= from || at >= to) continue;
      if (t < this.count) this.#pair.add(this.#spectrum(t));
      this.#pair.take(sumA, sumB);
      const [low, high] = [Math.max(from, at), Math.min(to, at + hop)];
      if (high <= low) continue;
      a.set(sumA.subarray(low - at, high - at), low);
      b?.set(sumB.subarray(low - at, high - at), low);
    }
  }
}

/** Samples of a frame at a rate: the power of two nearest to `seconds`, at least 256. */
export function frameLengthNear(seconds: Seconds, sampleRate: Hertz): Frames {
  let size = 256;
  while (size * Math.SQRT2 < seconds * sampleRate) size *= 2;
  return size;
}

/** Calls `work` with each pair of channels of a block; the last may be alone. */
export function forChannelPairs(
  block: Planar,
  work: (a: Float32Array, b: Float32Array | undefined, first: number) => void,
): void {
  for (let c = 0; c < block.length; c += 2) work(block[c]!, block[c + 1], c);
}
