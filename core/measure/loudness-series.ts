import { loudnessWeight } from "../signal/layout";
import type { Frames, Planar } from "../signal/units";
import { KWeightedEnergy } from "./k-weighting";
import type { StreamFormat } from "./measurement";

/** Hops a second: 10 ms, as fine as EBU Tech 3341 cases 13 and 14 need for their maxima. */
export const HOPS_PER_SECOND = 100;
/** Hops between two points that are drawn and gated: 100 ms. */
export const HOPS_PER_POINT = 10;
const MOMENTARY_HOPS = 40;
const SHORT_TERM_HOPS = 300;

/** Loudness of a channel-weighted mean square (BS.1770-5 Annex 1); −Infinity for 0 is left to the caller. */
export const LOUDNESS_OFFSET = -0.691;

/**
 * The weighted mean-square energy of a programme, hop by hop: all loudness figures are functions of it. Keeps the
 * last 3 s of hops and one momentary and one short-term value for each 100 ms of the past.
 */
export class LoudnessSeries {
  readonly #rate: number;
  readonly #weights: number[];
  readonly #filters: KWeightedEnergy[];
  readonly #ring = new Float64Array(SHORT_TERM_HOPS);
  #hop = 0;
  #hopStart: Frames = 0;
  #position: Frames = 0;
  #momentary = new GrowingSeries();
  #shortTerm = new GrowingSeries();
  momentaryMax = 0;
  shortTermMax = 0;
  momentaryMaxSeconds = 0;
  shortTermMaxSeconds = 0;

  constructor(format: StreamFormat) {
    this.#rate = format.sampleRate;
    this.#weights = format.layout.speakers.map(loudnessWeight);
    this.#filters = format.layout.speakers.map(() => new KWeightedEnergy(format.sampleRate));
  }

  process(block: Planar, frames: Frames): void {
    let from = 0;
    while (from < frames) {
      const hopEnd = Math.round(((this.#hop + 1) * this.#rate) / HOPS_PER_SECOND);
      const to = Math.min(frames, from + hopEnd - this.#position);
      for (let c = 0; c < this.#filters.length; c++) {
        if (this.#weights[c] !== 0) this.#filters[c]!.add(block[c]!, from, to);
      }
      this.#position += to - from;
      from = to;
      if (this.#position === hopEnd) this.#closeHop(hopEnd);
    }
  }

  #closeHop(hopEnd: Frames): void {
    const ring = this.#ring;
    let energy = 0;
    for (let c = 0; c < this.#filters.length; c++) energy += this.#weights[c]! * this.#filters[c]!.take();
    ring[this.#hop % SHORT_TERM_HOPS] = energy / Math.max(1, hopEnd - this.#hopStart);
    this.#hopStart = hopEnd;
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
    if (this.#hop % HOPS_PER_POINT === 0) {
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

/** A Float64Array that grows: 8 bytes a value, so that ten hours of 100 ms points take 3 MB. */
export class GrowingSeries {
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
