type Numbers = Float32Array | Float64Array | Int32Array;

/** Something that remembers what passed it, and can go on from what another one of its kind remembers. */
export interface Stateful {
  copyFrom(other: this): void;
}

/** Tables that a processor remembers by, as one part of its state: always the same tables in the same order. */
export class StateTables implements Stateful {
  constructor(readonly tables: readonly Numbers[]) {}

  copyFrom(other: StateTables): void {
    this.tables.forEach((table, n) => table.set(other.tables[n]!));
  }
}
