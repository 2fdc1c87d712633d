import type { Frames } from "../signal/units";

/**
 * Largest of the last `length` values ≥ 0, by van Herk's method: two running maxima over fixed stretches of `length`,
 * three comparisons a value whatever the length.
 */
export class SlidingMaximum {
  readonly #length: Frames;
  /** Values of the stretch that is being filled. */
  readonly #stretch: Float64Array;
  /** Of the stretch before: the largest from each place on. */
  readonly #rest: Float64Array;
  #at = 0;
  #largest = 0;

  constructor(length: Frames) {
    this.#length = length;
    this.#stretch = new Float64Array(length);
    this.#rest = new Float64Array(length + 1);
  }

  /** Goes on from what another one of the same length has seen. */
  copyFrom(other: SlidingMaximum): void {
    this.#stretch.set(other.#stretch);
    this.#rest.set(other.#rest);
    this.#at = other.#at;
    this.#largest = other.#largest;
  }

  /** In place. Hot. */
  process(values: Float64Array, frames: Frames): void {
    const length = this.#length;
    const stretch = this.#stretch;
    const rest = this.#rest;
    for (let i = 0; i < frames; i++) {
      const value = values[i]!;
      stretch[this.#at] = value;
      if (value > this.#largest) this.#largest = value;
      this.#at++;
      const before = rest[this.#at]!;
      values[i] = before > this.#largest ? before : this.#largest;
      if (this.#at === length) {
        let largest = 0;
        for (let k = length - 1; k >= 0; k--) {
          if (stretch[k]! > largest) largest = stretch[k]!;
          rest[k] = largest;
        }
        this.#at = 0;
        this.#largest = 0;
      }
    }
  }
}
