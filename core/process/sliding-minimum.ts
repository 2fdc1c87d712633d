/** Minimum of the last `length` values, by a queue of rising values; starts as if 1 had gone on for ever. */
export class SlidingMinimum {
  readonly #values: Float64Array;
  readonly #times: Float64Array;
  readonly #length: number;
  #head = 0;
  #count = 0;
  #time = 0;

  constructor(length: number) {
    this.#length = length;
    this.#values = new Float64Array(length + 1);
    this.#times = new Float64Array(length + 1);
  }

  next(value: number): number {
    const size = this.#values.length;
    while (this.#count > 0) {
      const last = (this.#head + this.#count - 1) % size;
      if (this.#values[last]! < value) break;
      this.#count--;
    }
    const slot = (this.#head + this.#count) % size;
    this.#values[slot] = value;
    this.#times[slot] = this.#time;
    this.#count++;
    if (this.#times[this.#head]! <= this.#time - this.#length) {
      this.#head = (this.#head + 1) % size;
      this.#count--;
    }
    this.#time++;
    return this.#values[this.#head]!;
  }
}
