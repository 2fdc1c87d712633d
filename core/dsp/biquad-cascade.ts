import { pairCascade, type PairCascade, type Section } from "../kernels/biquad-cascade";
import type { Frames, Planar } from "../audio/units";
import type { MatchedFilter } from "./matched-filter";
import type { Stateful } from "./state";

const STRAIGHT = Float64Array.of(1);

/** Sections in a row, and the short FIR filter of a matched one, over any number of channels; two at a time. */
export class SectionCascade implements Stateful {
  readonly #pairs: PairCascade[];

  constructor({ sections, fir }: MatchedFilter, channels: number) {
    this.#pairs = Array.from({ length: Math.ceil(channels / 2) }, () => pairCascade(sections, fir));
  }

  static of(sections: readonly Section[], channels: number): SectionCascade {
    return new SectionCascade({ sections: [...sections], fir: STRAIGHT }, channels);
  }

  copyFrom(other: SectionCascade): void {
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
