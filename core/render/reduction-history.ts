import type { Decibels, Seconds } from "../audio/units";
import type { Reductions } from "./chain-stage";

/** What the processors of a chain took off over time. */
export interface ReductionCurves {
  hopSeconds: Seconds;
  /** By entry id: of each of its bands, or of the whole, the most in each hop; dB ≥ 0. */
  of: Record<string, Float32Array[]>;
}

/** Gathers what a chain takes off, hop by hop. */
export class ReductionHistory {
  readonly #rows = new Map<string, Decibels[][]>();

  constructor(readonly hopSeconds: Seconds) {}

  add(reductions: Reductions): void {
    for (const [entry, bands] of Object.entries(reductions)) {
      const rows = this.#rows.get(entry) ?? bands.map((): Decibels[] => []);
      bands.forEach((reduction, band) => rows[band]!.push(reduction));
      this.#rows.set(entry, rows);
    }
  }

  result(): ReductionCurves {
    const of = Object.fromEntries([...this.#rows].map(([id, rows]) => [id, rows.map((row) => Float32Array.from(row))]));
    return { hopSeconds: this.hopSeconds, of };
  }
}
