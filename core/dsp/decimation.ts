import { decimator, type Decimator } from "../kernels/decimator";
import { kaiser, kaiserBeta, sinc } from "../math/kaiser";
import type { Frames } from "../audio/units";

const STOP_DB = 100;
/** The filter's length to each side, in samples of the lower rate. */
export const REACH = 7;

/** A low-pass for going to every `factor`-th sample and back: flat to 1e-5 up to a quarter of the lower rate. */
export class Decimation {
  readonly #line: Decimator;
  /** Samples to each side that a result depends on. */
  readonly reach: Frames;

  constructor(readonly factor: number) {
    // Pass to 0.25, stop from 0.75 of the lower rate on (what folds then lies above 0.25): Kaiser 1974.
    this.reach = factor === 1 ? 0 : REACH * factor;
    const taps = Float32Array.from({ length: 2 * this.reach + 1 }, (_, i) => {
      const d = i - this.reach;
      return factor === 1 ? 1 : (sinc(d / factor) / factor) * kaiser(d / (this.reach + 1), kaiserBeta(STOP_DB));
    });
    this.#line = decimator({ factor, taps });
  }

  /** Every sample of `x` whose place, `first` + i, is a multiple of the factor; `x` counts as silent outside. */
  down(x: Float32Array, first: Frames): { y: Float32Array; first: number } {
    const { factor, reach } = this;
    const start = Math.ceil(first / factor);
    const y = new Float32Array(Math.max(0, Math.floor((first + x.length - 1) / factor) - start + 1));
    const padded = new Float32Array(x.length + 2 * reach);
    padded.set(x, reach);
    this.#line.decimate(padded.subarray(start * factor - first), y);
    return { y, first: start };
  }

  /** Takes `y`, brought back to the higher rate, away from `from`…`to` of `x`. */
  subtract(y: Float32Array, yFirst: number, x: Float32Array, first: Frames, from: Frames, to: Frames): void {
    const { factor } = this;
    const { before, around } = this.#line;
    const lowest = Math.floor((first + from) / factor);
    const steps = Math.ceil((first + to) / factor) - lowest;
    const offset = lowest * factor - first;
    const points = new Float32Array(steps + around);
    const at = lowest - before - yFirst;
    points.set(y.subarray(Math.max(0, at), Math.max(0, at + points.length)), Math.max(0, -at));
    const whole = new Float32Array(steps * factor);
    whole.set(x.subarray(from, to), from - offset);
    this.#line.subtract(points, whole);
    x.set(whole.subarray(from - offset, to - offset), from);
  }
}
