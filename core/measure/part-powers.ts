import type { Hertz } from "../audio/units";
import { HOPS_PER_PART, HOPS_PER_BLOCK, hopStart, PARTS_PER_BLOCK, type AnalysisBlock } from "./analysis-block";

/** Parts of 50 ms in the half second that noise floors and RMS extremes are read over. */
export const HALF_SECOND_PARTS = 10;

/** Mean squares over the 50 ms parts of ticks. */
export class PartPowers {
  readonly #perChannel: Float64Array;

  constructor(
    readonly channels: number,
    readonly sampleRate: Hertz,
  ) {
    this.#perChannel = new Float64Array(channels);
  }

  /** Calls `found` with each whole part: mean square over all channels, of each channel, first and last frame. */
  each(
    { index, hops, energy }: AnalysisBlock,
    found: (all: number, perChannel: Float64Array, start: number, end: number) => void,
  ): void {
    for (let part = 0; part < PARTS_PER_BLOCK && (part + 1) * HOPS_PER_PART <= hops; part++) {
      const first = part * HOPS_PER_PART;
      const start = hopStart(index * HOPS_PER_BLOCK + first, this.sampleRate);
      const end = hopStart(index * HOPS_PER_BLOCK + first + HOPS_PER_PART, this.sampleRate);
      let all = 0;
      for (let c = 0; c < this.channels; c++) {
        let sum = 0;
        for (let hop = first; hop < first + HOPS_PER_PART; hop++) sum += energy[c * HOPS_PER_BLOCK + hop]!;
        this.#perChannel[c] = sum / (end - start);
        all += sum;
      }
      found(all / ((end - start) * this.channels), this.#perChannel, start, end);
    }
  }
}
