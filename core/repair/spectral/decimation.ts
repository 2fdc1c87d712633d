import { kaiser, kaiserBeta, sinc } from "../../math/kaiser";
import type { Frames } from "../../signal/units";

const STOP_DB = 80;

/** A low-pass for going to every `factor`-th sample and back: flat to 1e-4 up to a quarter of the lower rate. */
export class Decimation {
  readonly #taps: Float64Array;
  /** The taps by the place of what they make within the lower rate's step, in the order of the samples they weigh. */
  readonly #phases: Float64Array[];
  /** Samples to each side that a result depends on. */
  readonly reach: Frames;

  constructor(readonly factor: number) {
    // Pass to 0.25, stop from 0.75 of the lower rate on (what folds then lies above 0.25): Kaiser 1974.
    this.reach = factor === 1 ? 0 : 6 * factor;
    this.#taps = Float64Array.from({ length: 2 * this.reach + 1 }, (_, i) => {
      const d = i - this.reach;
      return factor === 1 ? 1 : (sinc(d / factor) / factor) * kaiser(d / (this.reach + 1), kaiserBeta(STOP_DB));
    });
    this.#phases = Array.from({ length: factor }, (_, phase) => {
      const newest = 2 * this.reach - ((factor - phase) % factor);
      return Float64Array.from({ length: Math.floor(newest / factor) + 1 }, (_, n) => this.#taps[newest - n * factor]!);
    });
  }

  /** Every sample of `x` whose place, `first` + i, is a multiple of the factor; `x` counts as silent outside. Hot. */
  down(x: Float32Array, first: Frames): { y: Float64Array; first: number } {
    const { factor, reach } = this;
    const taps = this.#taps;
    const start = Math.ceil(first / factor);
    const y = new Float64Array(Math.max(0, Math.floor((first + x.length - 1) / factor) - start + 1));
    for (let n = 0; n < y.length; n++) {
      const centre = (start + n) * factor - first;
      const low = Math.max(0, centre - reach);
      const high = Math.min(x.length - 1, centre + reach);
      // Four sums that do not wait for one another.
      let [a, b, c, d] = [0, 0, 0, 0];
      let [i, t] = [low, low - centre + reach];
      for (; i + 3 <= high; i += 4, t += 4) {
        a += x[i]! * taps[t]!;
        b += x[i + 1]! * taps[t + 1]!;
        c += x[i + 2]! * taps[t + 2]!;
        d += x[i + 3]! * taps[t + 3]!;
      }
      for (; i <= high; i++, t++) a += x[i]! * taps[t]!;
      y[n] = a + b + (c + d);
    }
    return { y, first: start };
  }

  /** Takes `y`, brought back to the higher rate, away from `from`…`to` of `x`. Hot. */
  subtract(y: Float64Array, yFirst: number, x: Float32Array, first: Frames, from: Frames, to: Frames): void {
    const { factor, reach } = this;
    let lowest = Math.ceil((first + from - reach) / factor);
    let phase = first + from - reach - (lowest - 1) * factor;
    if (phase === factor) phase = 0;
    for (let i = from; i < to; i++) {
      const taps = this.#phases[phase]!;
      const start = lowest - yFirst;
      const low = start < 0 ? -start : 0;
      const high = Math.min(taps.length, y.length - start);
      let [even, odd] = [0, 0];
      let n = low;
      for (; n + 1 < high; n += 2) {
        even += y[start + n]! * taps[n]!;
        odd += y[start + n + 1]! * taps[n + 1]!;
      }
      if (n < high) even += y[start + n]! * taps[n]!;
      x[i] = x[i]! - (even + odd) * factor;
      if (phase === 0) lowest++;
      if (++phase === factor) phase = 0;
    }
  }
}
