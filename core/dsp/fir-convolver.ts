/** Long FIR filters by overlap-save, two channels in one complex transform (Stockham 1966). */
import { Fft } from "../math/fft";
import { emptyPlanar, type Frames, type Planar } from "../audio/units";

/** Filters every channel with every filter. Steps lie at fixed places, so that block sizes do not matter. */
export class FirConvolver {
  /** Delay of the transforms alone; a filter adds its own. */
  readonly latency: Frames;
  readonly #fft: Fft;
  readonly #taps: Frames;
  readonly #spectra: { re: Float64Array; im: Float64Array }[];
  /** Per channel: what the next transform takes in. */
  readonly #input: Float32Array[];
  /** Per filter and channel: the results of the last transform. */
  readonly #output: Planar[];
  #filled = 0;

  /** @param filters all of the same length; shape [filter][tap] */
  constructor(
    filters: readonly Float64Array[],
    readonly channels: number,
  ) {
    this.#taps = filters[0]!.length;
    let size = 2;
    while (size < 2 * this.#taps) size *= 2;
    this.latency = size - this.#taps + 1;
    this.#fft = new Fft(size);
    this.#spectra = filters.map((taps) => {
      const re = new Float64Array(size);
      const im = new Float64Array(size);
      re.set(taps);
      this.#fft.forward(re, im);
      return { re, im };
    });
    this.#input = emptyPlanar(channels, size);
    this.#output = filters.map(() => emptyPlanar(channels, this.latency));
  }

  /** Shape of the result: [filter][channel][frame]. */
  process(block: Planar, frames: Frames): Planar[] {
    const out = this.#output.map(() => emptyPlanar(this.channels, frames));
    for (let at = 0; at < frames;) {
      const count = Math.min(frames - at, this.latency - this.#filled);
      const to = this.#taps - 1 + this.#filled;
      for (let c = 0; c < this.channels; c++) {
        this.#input[c]!.set(block[c]!.subarray(at, at + count), to);
        this.#output.forEach((planes, f) =>
          out[f]![c]!.set(planes[c]!.subarray(this.#filled, this.#filled + count), at),
        );
      }
      this.#filled += count;
      at += count;
      if (this.#filled === this.latency) this.#transform();
    }
    return out;
  }

  /** Hot: one transform in, one out for each filter, for two channels. */
  #transform(): void {
    const size = this.#fft.length;
    const start = this.#taps - 1;
    for (let c = 0; c < this.channels; c += 2) {
      const re = Float64Array.from(this.#input[c]!);
      const im = c + 1 < this.channels ? Float64Array.from(this.#input[c + 1]!) : new Float64Array(size);
      this.#fft.forward(re, im);
      this.#spectra.forEach((spectrum, f) => {
        const outRe = new Float64Array(size);
        const outIm = new Float64Array(size);
        for (let k = 0; k < size; k++) {
          outRe[k] = re[k]! * spectrum.re[k]! - im[k]! * spectrum.im[k]!;
          outIm[k] = re[k]! * spectrum.im[k]! + im[k]! * spectrum.re[k]!;
        }
        this.#fft.backward(outRe, outIm);
        const planes = this.#output[f]!;
        for (let i = 0; i < this.latency; i++) planes[c]![i] = outRe[start + i]!;
        if (c + 1 < this.channels) for (let i = 0; i < this.latency; i++) planes[c + 1]![i] = outIm[start + i]!;
      });
    }
    for (const x of this.#input) x.copyWithin(0, this.latency);
    this.#filled = 0;
  }
}
