/** Tables that grow with a recording. */

/** A Float32Array that grows: rows of `columns` values. */
export class GrowableTable {
  #values: Float32Array;
  #length = 0;

  constructor(readonly columns = 1) {
    this.#values = new Float32Array(columns * 1024);
  }

  get rows(): number {
    return this.#length / this.columns;
  }

  /** Adds a row of zeros and gives it, to be filled at once. */
  addRow(): Float32Array {
    if (this.#length === this.#values.length) {
      const larger = new Float32Array(this.#length * 2);
      larger.set(this.#values);
      this.#values = larger;
    }
    this.#length += this.columns;
    return this.#values.subarray(this.#length - this.columns, this.#length);
  }

  push(value: number): void {
    this.addRow()[0] = value;
  }

  /** A view of the values so far. */
  values(): Float32Array {
    return this.#values.subarray(0, this.#length);
  }
}

/** A Float64Array that grows: 8 bytes a value, so that ten hours of 100 ms points take 3 MB. */
export class GrowableArray {
  #values = new Float64Array(1024);
  #length = 0;

  push(value: number): void {
    if (this.#length === this.#values.length) {
      const larger = new Float64Array(this.#length * 2);
      larger.set(this.#values);
      this.#values = larger;
    }
    this.#values[this.#length++] = value;
  }

  /** A view of the values so far. */
  values(): Float64Array {
    return this.#values.subarray(0, this.#length);
  }
}

/** Values held at most, over all columns: 16 MB. */
const MOST_VALUES = 4_194_304;

/**
 * Sums over time in bounded memory: when the table is full, each two rows become one of twice the length. So ten hours
 * of 24 channels take no more room than ten minutes; only the steps are coarser.
 */
export class DecimatingSeries {
  readonly #rowsMost: number;
  #table: GrowableTable;
  #fold = 1;
  #parts = 0;
  #row: Float32Array | undefined;

  constructor(
    readonly columns: number,
    most = MOST_VALUES,
  ) {
    this.#rowsMost = Math.max(2, 2 * Math.floor(most / columns / 2));
    this.#table = new GrowableTable(columns);
  }

  /** How many rows as they came make one of the table. */
  get fold(): number {
    return this.#fold;
  }

  /** The row that the next sums are added to. */
  next(): Float32Array {
    if (this.#parts === 0) {
      if (this.#table.rows === this.#rowsMost) this.#halve();
      this.#row = this.#table.addRow();
    }
    this.#parts = (this.#parts + 1) % this.#fold;
    return this.#row!;
  }

  #halve(): void {
    const full = this.#table.values();
    const half = new GrowableTable(this.columns);
    for (let row = 0; row < this.#rowsMost; row += 2) {
      const sum = half.addRow();
      for (let column = 0; column < this.columns; column++)
        sum[column] = full[row * this.columns + column]! + full[(row + 1) * this.columns + column]!;
    }
    this.#table = half;
    this.#fold *= 2;
  }

  values(): Float32Array {
    return this.#table.values();
  }
}

/**
 * Sum of the last `length` numbers. Each is the sum of the rest of one block and the beginning of the next, both only
 * ever added to: what was loud leaves nothing behind, as it would if it were subtracted again.
 */
export class SlidingSum {
  readonly #rest: Float64Array;
  readonly #block: Float64Array;
  #beginning = 0;
  #count = 0;

  constructor(readonly length: number) {
    this.#rest = new Float64Array(length + 1);
    this.#block = new Float64Array(length);
  }

  push(value: number): void {
    const at = this.#count % this.length;
    if (at === 0 && this.#count > 0) {
      for (let i = this.length - 1; i >= 0; i--) this.#rest[i] = this.#rest[i + 1]! + this.#block[i]!;
      this.#beginning = 0;
    }
    this.#block[at] = value;
    this.#beginning += value;
    this.#count++;
  }

  get full(): boolean {
    return this.#count >= this.length;
  }

  get sum(): number {
    if (this.#count === 0) return 0;
    const filled = ((this.#count - 1) % this.length) + 1;
    return this.#rest[filled]! + this.#beginning;
  }
}
