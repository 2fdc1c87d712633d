/**
 * Consistent sparse declipping, A-SPADE (Kitić, Bertin, Gribonval 2015; Záviška et al. 2018): in each frame, the
 * waveform that needs the fewest frequencies, keeps every sample that was not clipped, and at those that were goes at
 * least as far as they do.
 */
import { sinCosTurns } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import type { Frames } from "../audio/units";

/** Spectra are taken of twice the frame, zero-padded: half-bin frequencies help sparsity. */
const REDUNDANCY = 2;
const HOPS = 4;
/** Done when what is left over is this part of the frame's own size … */
const DONE = 0.02;
const MOST_FREQUENCIES = 600;
/** So many more frequencies are let in from round to round. */
const MORE_EACH_ROUND = 2;

export class Declipper {
  readonly #fft: Fft;
  readonly #window: Float64Array;
  readonly #re: Float64Array;
  readonly #im: Float64Array;
  readonly #zr: Float64Array;
  readonly #zi: Float64Array;
  readonly #ur: Float64Array;
  readonly #ui: Float64Array;
  readonly #sizes: Float64Array;
  readonly #order: Float64Array;
  readonly hop: Frames;

  constructor(readonly size: Frames) {
    const points = size * REDUNDANCY;
    this.hop = size / HOPS;
    this.#fft = new Fft(points);
    this.#window = Float64Array.from({ length: size }, (_, i) => sinCosTurns((i + 0.5) / (2 * size)).sin);
    [this.#re, this.#im, this.#zr, this.#zi, this.#ur, this.#ui] = Array.from(
      { length: 6 },
      () => new Float64Array(points),
    ) as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array, Float64Array];
    this.#sizes = new Float64Array(points / 2 + 1);
    this.#order = new Float64Array(points / 2 + 1);
  }

  /**
   * Restores `from`…`to` of `x`. `clipped` is 1 where a sample was cut at the top, −1 at the bottom, 0 where it is
   * as it was. Frames lie at whole multiples of the hop from the recording's start.
   */
  restore(x: Float32Array, clipped: Int8Array, first: Frames, from: Frames, to: Frames): void {
    const { size, hop } = this;
    const window = this.#window;
    const out = new Float64Array(to - from);
    const weight = new Float64Array(to - from);
    const frame = new Float64Array(size);
    const wanted = new Float64Array(size);
    const kinds = new Int8Array(size);
    for (let n = Math.floor((first + from - size) / hop) + 1; n * hop < first + to; n++) {
      const at = n * hop - first;
      if (at < 0 || at + size > x.length) continue;
      let any = false;
      for (let i = 0; i < size; i++) {
        kinds[i] = clipped[at + i]!;
        any ||= kinds[i] !== 0;
      }
      if (!any) continue;
      for (let i = 0; i < size; i++) wanted[i] = x[at + i]! * window[i]!;
      this.#solve(wanted, kinds, frame);
      for (let i = Math.max(0, from - at); i < Math.min(size, to - at); i++) {
        out[at + i - from]! += frame[i]! * window[i]!;
        weight[at + i - from]! += window[i]! * window[i]!;
      }
    }
    for (let i = from; i < to; i++) {
      if (clipped[i] === 0 || weight[i - from]! < 1e-3) continue;
      const restored = out[i - from]! / weight[i - from]!;
      x[i] = clipped[i]! > 0 ? Math.max(x[i]!, restored) : Math.min(x[i]!, restored);
    }
  }

  #solve(wanted: Float64Array, kinds: Int8Array, x: Float64Array): void {
    const { size } = this;
    const [re, im, zr, zi, ur, ui] = [this.#re, this.#im, this.#zr, this.#zi, this.#ur, this.#ui];
    const points = re.length;
    x.set(wanted);
    ur.fill(0);
    ui.fill(0);
    let energy = 0;
    for (let i = 0; i < size; i++) energy += wanted[i]! * wanted[i]!;
    const enough = DONE * DONE * energy * points;
    re.fill(0);
    im.fill(0);
    re.set(x);
    this.#fft.forward(re, im);
    for (let kept = 1; kept <= MOST_FREQUENCIES; kept += MORE_EACH_ROUND) {
      // z: the largest `kept` frequencies of A·x + u.
      const half = points / 2;
      for (let k = 0; k <= half; k++) {
        zr[k] = re[k]! + ur[k]!;
        zi[k] = im[k]! + ui[k]!;
        this.#sizes[k] = zr[k]! * zr[k]! + zi[k]! * zi[k]!;
      }
      const least = this.#nthLargest(kept);
      for (let k = 0; k <= half; k++) if (this.#sizes[k]! < least) zr[k] = zi[k] = 0;
      // x: what comes nearest to z − u and keeps to what is known.
      for (let k = 0; k <= half; k++) {
        re[k] = zr[k]! - ur[k]!;
        im[k] = zi[k]! - ui[k]!;
        if (k > 0 && k < half) {
          re[points - k] = re[k]!;
          im[points - k] = -im[k]!;
        }
      }
      this.#fft.backward(re, im);
      for (let i = 0; i < size; i++) {
        const kind = kinds[i]!;
        const known = wanted[i]!;
        x[i] = kind === 0 ? known : kind > 0 ? Math.max(known, re[i]!) : Math.min(known, re[i]!);
      }
      re.set(x);
      re.fill(0, size);
      im.fill(0);
      this.#fft.forward(re, im);
      let off = 0;
      for (let k = 0; k <= half; k++) {
        const dr = re[k]! - zr[k]!;
        const di = im[k]! - zi[k]!;
        ur[k]! += dr;
        ui[k]! += di;
        off += (k === 0 || k === half ? 1 : 2) * (dr * dr + di * di);
      }
      if (off <= enough) break;
    }
  }

  /** The n-th largest of the sizes, by partition. */
  #nthLargest(n: number): number {
    const list = this.#order;
    list.set(this.#sizes);
    let low = 0;
    let high = list.length - 1;
    const k = Math.min(list.length - 1, n - 1);
    while (low < high) {
      const pivot = list[(low + high) >> 1]!;
      let i = low;
      let j = high;
      while (i <= j) {
        while (list[i]! > pivot) i++;
        while (list[j]! < pivot) j--;
        if (i <= j) {
          const held = list[i]!;
          list[i++] = list[j]!;
          list[j--] = held;
        }
      }
      if (k <= j) high = j;
      else if (k >= i) low = i;
      else break;
    }
    return list[k]!;
  }
}
