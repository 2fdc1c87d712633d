import type { Section } from "../signal/butterworth";
import type { Frames, Planar } from "../signal/units";
import type { MatchedFilter } from "./matched-filter";

/** States below this are set to 0: subnormal numbers are slow and inaudible. */
const SMALLEST = 1e-30;

/** Sections in a row and a short FIR filter, over any number of channels; state in float64. */
export class SectionCascade {
  readonly #sections: readonly Section[];
  readonly #fir: Float64Array;
  /** Per channel: two states a section. */
  readonly #states: Float64Array[];
  /** Per channel: the last inputs of the FIR filter, newest first. */
  readonly #past: Float64Array[];

  constructor({ sections, fir }: MatchedFilter, channels: number) {
    this.#sections = sections;
    this.#fir = fir;
    this.#states = Array.from({ length: channels }, () => new Float64Array(2 * sections.length));
    this.#past = Array.from({ length: channels }, () => new Float64Array(fir.length));
  }

  /** In place; shape [channel][frame]. Hot: five multiplications a section and sample, and one a tap. */
  process(block: Planar, frames: Frames): void {
    const fir = this.#fir;
    const taps = fir.length;
    for (let c = 0; c < this.#states.length; c++) {
      const x = block[c]!;
      const state = this.#states[c]!;
      const work = scratch(frames);
      for (let i = 0; i < frames; i++) work[i] = x[i]!;
      this.#sections.forEach(([b0, b1, b2, a1, a2], n) => {
        let s1 = state[2 * n]!;
        let s2 = state[2 * n + 1]!;
        for (let i = 0; i < frames; i++) {
          const v = work[i]!;
          const y = b0 * v + s1;
          s1 = b1 * v - a1 * y + s2;
          s2 = b2 * v - a2 * y;
          work[i] = y;
        }
        state[2 * n] = Math.abs(s1) < SMALLEST ? 0 : s1;
        state[2 * n + 1] = Math.abs(s2) < SMALLEST ? 0 : s2;
      });
      const past = this.#past[c]!;
      for (let i = 0; i < frames; i++) {
        for (let k = taps - 1; k > 0; k--) past[k] = past[k - 1]!;
        past[0] = work[i]!;
        let sum = 0;
        for (let k = 0; k < taps; k++) sum += fir[k]! * past[k]!;
        x[i] = sum;
      }
    }
  }
}

let held = new Float64Array(0);
function scratch(frames: Frames): Float64Array {
  if (held.length < frames) held = new Float64Array(frames);
  return held;
}
