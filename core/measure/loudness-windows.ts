/**
 * Loudness windows over hops of 10 ms of channel-weighted, K-weighted energy: all loudness figures are functions of
 * these. Keeps the last 3 s of hops and one momentary and one short-term value for each 100 ms of the past.
 */
import { HOPS_PER_SECOND, HOPS_PER_TICK } from "./tick";
import { GrowingSeries } from "./series";

const MOMENTARY_HOPS = 40;
const SHORT_TERM_HOPS = 300;

export class LoudnessWindows {
  readonly #ring = new Float64Array(SHORT_TERM_HOPS);
  #hop = 0;
  #momentary = new GrowingSeries();
  #shortTerm = new GrowingSeries();
  momentaryMax = 0;
  shortTermMax = 0;
  momentaryMaxSeconds = 0;
  shortTermMaxSeconds = 0;

  /** Takes the mean square of the next hop. */
  push(meanSquare: number): void {
    this.#ring[this.#hop % SHORT_TERM_HOPS] = meanSquare;
    this.#hop++;
    const seconds = this.#hop / HOPS_PER_SECOND;
    const momentary = this.#mean(MOMENTARY_HOPS);
    const shortTerm = this.#mean(SHORT_TERM_HOPS);
    if (momentary > this.momentaryMax) {
      this.momentaryMax = momentary;
      this.momentaryMaxSeconds = seconds;
    }
    if (shortTerm > this.shortTermMax) {
      this.shortTermMax = shortTerm;
      this.shortTermMaxSeconds = seconds;
    }
    if (this.#hop % HOPS_PER_TICK === 0) {
      this.#momentary.push(momentary);
      this.#shortTerm.push(shortTerm);
    }
  }

  /** Mean square of the last `hops` hops; 0 until as many have passed. Summed afresh, so no error builds up. */
  #mean(hops: number): number {
    if (this.#hop < hops) return 0;
    const ring = this.#ring;
    let sum = 0;
    let index = (this.#hop - hops) % SHORT_TERM_HOPS;
    for (let i = 0; i < hops; i++) {
      sum += ring[index]!;
      if (++index === SHORT_TERM_HOPS) index = 0;
    }
    return sum / hops;
  }

  /** Mean squares over 400 ms at each 100 ms; 0 while the window is not full. */
  momentary(): Float64Array {
    return this.#momentary.values();
  }

  /** Mean squares over 3 s at each 100 ms; 0 while the window is not full. */
  shortTerm(): Float64Array {
    return this.#shortTerm.values();
  }

  /** The newest momentary and short-term mean squares. */
  now(): { momentary: number; shortTerm: number } {
    return { momentary: this.#mean(MOMENTARY_HOPS), shortTerm: this.#mean(SHORT_TERM_HOPS) };
  }
}
