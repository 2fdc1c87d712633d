import { kaiser, kaiserBeta, sinc } from "../../math/kaiser";
import type { Frames } from "../../signal/units";

const STOP_DB = 80;

/** A low-pass for going to every `factor`-th sample and back: flat to 1e-4 up to a quarter of the lower rate. */
export class Decimation {
  readonly #taps: Float64Array;
  /** Samples to each side that a result depends on. */
  readonly reach: Frames;

  constructor(readonly factor: number) {
    // Pass to 0.25, stop from 0.75 of the lower rate on (what folds then lies above 0.25): Kaiser 1974.
    this.reach = factor === 1 ? 0 : 6 * factor;
    this.#taps = Float64Array.from({ length: 2 * this.reach + 1 }, (_, i) => {
      const d = i - this.reach;
      return factor === 1 ? 1 : (sinc(d / factor) / factor) * kaiser(d / (this.reach + 1), kaiserBeta(STOP_DB));
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
      let sum = 0;
      for (let i = low, t = low - centre + reach; i <= high; i++, t++) sum += x[i]! * taps[t]!;
      y[n] = sum;
    }
    return { y, first: start };
  }

  /** Takes `y`, brought back to the higher rate, away from `from`…`to` of `x`. Hot. */
  subtract(y: Float64Array, yFirst: number, x: Float32Array, first: Frames, from: Frames, to: Frames): void {
    const { factor, reach } = this;
    const taps = this.#taps;
    for (let i = from; i < to; i++) {
      const place = first + i;
      const low = Math.max(yFirst, Math.ceil((place - reach) / factor));
      const high = Math.min(yFirst + y.length - 1, Math.floor((place + reach) / factor));
      let sum = 0;
      for (let n = low, t = place - low * factor + reach; n <= high; n++, t -= factor) sum += y[n - yFirst]! * taps[t]!;
      x[i] = x[i]! - sum * factor;
    }
  }
}
