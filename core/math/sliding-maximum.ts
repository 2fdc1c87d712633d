/**
 * Largest of the last `length` values ≥ 0, by van Herk's method: two running maxima over fixed stretches of `length`,
 * three comparisons a value whatever the length.
 */
export class SlidingMaximum {
  readonly #length: number;
  /** Values of the stretch that is being filled. */
  readonly #stretch: Float64Array;
  /** Of the stretch before: the largest from each place on. */
  readonly #rest: Float64Array;
  /** The place in the stretch, and its largest value so far. */
  readonly #state = new Float64Array(2);

  constructor(length: number) {
    this.#length = length;
    this.#stretch = new Float64Array(length);
    this.#rest = new Float64Array(length + 1);
  }

  /** All that it remembers. */
  get remembered(): readonly Float64Array[] {
    return [this.#stretch, this.#rest, this.#state];
  }

  /** Goes on from what another one of the same length has seen. */
  copyFrom(other: SlidingMaximum): void {
    this.remembered.forEach((table, n) => table.set(other.remembered[n]!));
  }

  /** In place. Hot. */
  process(values: Float64Array, frames: number): void {
    const length = this.#length;
    const stretch = this.#stretch;
    const rest = this.#rest;
    let at = this.#state[0]!;
    let largest = this.#state[1]!;
    for (let i = 0; i < frames; i++) {
      const value = values[i]!;
      stretch[at] = value;
      if (value > largest) largest = value;
      at++;
      const before = rest[at]!;
      values[i] = before > largest ? before : largest;
      if (at === length) {
        let kept = 0;
        for (let k = length - 1; k >= 0; k--) {
          if (stretch[k]! > kept) kept = stretch[k]!;
          rest[k] = kept;
        }
        at = 0;
        largest = 0;
      }
    }
    this.#state[0] = at;
    this.#state[1] = largest;
  }
}
