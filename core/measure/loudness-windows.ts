/**
 * Loudness windows over hops of 10 ms of channel-weighted, K-weighted energy: all loudness figures are functions of
 * these. Keeps the last 3 s of hops and one momentary and one short-term value for each 100 ms of the past.
 */
import { HOPS_PER_SECOND, HOPS_PER_BLOCK } from "./analysis-block";
import { GrowableArray, SlidingSum } from "./decimating-series";

const MOMENTARY_HOPS = 40;
const SHORT_TERM_HOPS = 300;

export class LoudnessWindows {
  readonly #momentarySum = new SlidingSum(MOMENTARY_HOPS);
  readonly #shortTermSum = new SlidingSum(SHORT_TERM_HOPS);
  readonly #momentary = new GrowableArray();
  readonly #shortTerm = new GrowableArray();
  #hop = 0;
  momentaryMax = 0;
  shortTermMax = 0;
  momentaryMaxSeconds = 0;
  shortTermMaxSeconds = 0;

  /** Takes the mean square of the next hop. */
  push(meanSquare: number): void {
    this.#momentarySum.push(meanSquare);
    this.#shortTermSum.push(meanSquare);
    this.#hop++;
    const seconds = this.#hop / HOPS_PER_SECOND;
    const { momentary, shortTerm } = this.now();
    if (momentary > this.momentaryMax) {
      this.momentaryMax = momentary;
      this.momentaryMaxSeconds = seconds;
    }
    if (shortTerm > this.shortTermMax) {
      this.shortTermMax = shortTerm;
      this.shortTermMaxSeconds = seconds;
    }
    if (this.#hop % HOPS_PER_BLOCK === 0) {
      this.#momentary.push(momentary);
      this.#shortTerm.push(shortTerm);
    }
  }

  /** Mean squares over 400 ms at each 100 ms; 0 while the window is not full. */
  momentary(): Float64Array {
    return this.#momentary.values();
  }

  /** Mean squares over 3 s at each 100 ms; 0 while the window is not full. */
  shortTerm(): Float64Array {
    return this.#shortTerm.values();
  }

  /** The newest momentary and short-term mean squares; 0 while the window is not full. */
  now(): { momentary: number; shortTerm: number } {
    const mean = (window: SlidingSum) => (window.full ? window.sum / window.length : 0);
    return { momentary: mean(this.#momentarySum), shortTerm: mean(this.#shortTermSum) };
  }
}
