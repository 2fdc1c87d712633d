import { twoChannelCascade, type TwoChannelCascade, type Biquad } from "../kernels/biquad-cascade";
import type { Frames, Planar } from "../audio/units";
import type { MatchedFilter } from "./matched-filter";
import type { Stateful } from "./state";

const STRAIGHT = Float64Array.of(1);

/** Sections in a row, and the short FIR filter of a matched one, over any number of channels; two at a time. */
export class BiquadCascade implements Stateful {
  readonly #pairs: TwoChannelCascade[];

  constructor({ sections, fir }: MatchedFilter, channels: number) {
    this.#pairs = Array.from({ length: Math.ceil(channels / 2) }, () => twoChannelCascade(sections, fir));
  }

  static of(sections: readonly Biquad[], channels: number): BiquadCascade {
    return new BiquadCascade({ sections: [...sections], fir: STRAIGHT }, channels);
  }

  copyFrom(other: BiquadCascade): void {
    this.#pairs.forEach((pair, n) => pair.goOnFrom(other.#pairs[n]!.passed));
  }

  /** In place; shape [channel][frame]. */
  process(block: Planar, frames: Frames): void {
    this.#pairs.forEach((pair, n) => {
      const second = block[2 * n + 1];
      pair.process(block[2 * n]!.subarray(0, frames), second?.subarray(0, frames));
    });
  }
}
