import type { Stateful } from "./processor";

type Numbers = Float32Array | Float64Array | Int32Array;

/** Tables that a processor remembers by, as one part of its state: always the same tables in the same order. */
export class Kept implements Stateful {
  constructor(readonly tables: readonly Numbers[]) {}

  copyFrom(other: Kept): void {
    this.tables.forEach((table, n) => table.set(other.tables[n]!));
  }
}
