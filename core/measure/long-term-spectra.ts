import { HANN_ENERGY } from "../kernels/spectrum/tables";
import type { Hertz } from "../audio/units";
import { SPECTRA_PER_SECOND, type SegmentSpectra } from "./analysis-block";

/** Spectra of a whole recording: mean squares of each channel and bin, put together from its segments. */
export class LongTermSpectra {
  #points = 0;
  #count = 0;
  #seconds = 0;
  #sums: Float64Array[] = [];
  #largest: Float32Array[] = [];
  #floors: Float32Array[] = [];

  add({ count, seconds, points, sums, largest, floors }: SegmentSpectra): void {
    if (this.#points === 0) {
      this.#points = points;
      this.#sums = sums.map((sum) => new Float64Array(sum.length));
      this.#largest = sums.map((sum) => new Float32Array(sum.length));
      this.#floors = sums.map((sum) => new Float32Array(sum.length).fill(Infinity));
    }
    this.#count += count;
    this.#seconds += seconds;
    sums.forEach((sum, c) => {
      const [total, most, least] = [this.#sums[c]!, this.#largest[c]!, this.#floors[c]!];
      for (let k = 0; k < sum.length; k++) {
        total[k]! += sum[k]!;
        if (largest[c]![k]! > most[k]!) most[k] = largest[c]![k]!;
        if (floors[c]![k]! < least[k]!) least[k] = floors[c]![k]!;
      }
    });
  }

  get known(): boolean {
    return this.#count > 0;
  }

  /** Whole seconds that were seen: without one there is no floor. */
  get seconds(): number {
    return this.#seconds;
  }

  binWidth(sampleRate: Hertz): Hertz {
    return sampleRate / this.#points;
  }

  /** Mean square of a bin of |X|², one-sided. */
  get #scale(): number {
    return 2 / (this.#points * this.#points * HANN_ENERGY);
  }

  average(channel: number): Float64Array {
    return this.#sums[channel]!.map((sum) => (sum * this.#scale) / this.#count);
  }

  peak(channel: number): Float64Array {
    return Float64Array.from(this.#largest[channel]!, (power) => power * this.#scale);
  }

  /** Mean over the quietest second of each bin by itself: noise floor. */
  floor(channel: number): Float64Array {
    return Float64Array.from(this.#floors[channel]!, (sum) => (sum * this.#scale) / SPECTRA_PER_SECOND);
  }

  /** Mean over channels of one of the spectra. */
  mean(of: "average" | "peak" | "floor"): Float64Array {
    const all = this.#sums.map((_, c) => this[of](c));
    return all[0]!.map((_, k) => all.reduce((sum, spectrum) => sum + spectrum[k]!, 0) / all.length);
  }
}
