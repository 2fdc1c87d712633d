/**
 * Gain of a lane that yields to others. Where the other's level in a step of 10 ms is above the threshold the lane is
 * down; it goes down before that, over the attack, and comes up after hold and release. So its gain at any frame is told
 * by what lies near it, and does not depend on where reading began.
 */
import { dbToGain, powerToDb } from "../audio/decibel";
import type { FrameSource } from "../audio/frame-source";
import { sinCosTurns } from "../math/deterministic-math";
import type { Frames, Hertz, Planar } from "../audio/units";
import type { Ducker } from "./programme";

const STEPS_PER_SECOND = 100;
/** Steps of which the level is kept. */
const MOST_KEPT = 60_000;

/** Mean square of all channels together, as a level in dB of a full-scale square. */
function levelDb(block: Planar): number {
  let sum = 0;
  let count = 0;
  for (const channel of block) {
    for (const v of channel) sum += v * v;
    count += channel.length;
  }
  return count === 0 ? -Infinity : powerToDb(sum / count);
}

export class DuckingGain {
  readonly #step: Frames;
  readonly #levels = new Map<number, boolean>();

  constructor(
    readonly ducker: Ducker,
    /** Sound of the lanes that it yields to. */
    readonly key: FrameSource,
    readonly sampleRate: Hertz,
  ) {
    this.#step = Math.round(sampleRate / STEPS_PER_SECOND);
  }

  /** Which steps from `first` to before `end` are above the threshold. */
  async #active(first: number, end: number): Promise<boolean[]> {
    const last = Math.ceil(this.key.frames / this.#step);
    const known: boolean[] = [];
    for (let step = first; step < end; step++) {
      const isInside = step >= 0 && step < last;
      let above = isInside ? this.#levels.get(step) : false;
      if (above === undefined) {
        above = levelDb(await this.key.read(step * this.#step, this.#step)) > this.ducker.thresholdDb;
        if (this.#levels.size >= MOST_KEPT) this.#levels.clear();
        this.#levels.set(step, above);
      }
      known.push(above);
    }
    return known;
  }

  /** Gains of frames `start` … `start + count`. */
  async read(start: Frames, count: Frames): Promise<Float64Array> {
    const { attackSeconds, holdSeconds, releaseSeconds, rangeDb, shape } = this.ducker;
    const toFrames = (seconds: number): Frames => Math.round(seconds * this.sampleRate);
    const [attack, hold, release] = [toFrames(attackSeconds), toFrames(holdSeconds), toFrames(releaseSeconds)];
    const step = this.#step;
    const first = Math.floor((start - hold - release) / step) - 1;
    const end = Math.ceil((start + count + attack) / step) + 1;
    const active = await this.#active(first, end);
    const gains = new Float64Array(count);
    const down = dbToGain(-rangeDb);
    // The last frame that was above before, and the first that will be.
    let since = -Infinity;
    let index = 0;
    let next = 0;
    for (let i = 0; i < count; i++) {
      const frame = start + i;
      for (; first + index <= Math.floor(frame / step); index++) if (active[index]) since = (first + index + 1) * step;
      next = Math.max(next, index);
      while (next < active.length && !active[next]) next++;
      const ago = frame - since;
      const until = next < active.length ? (first + next) * step - frame : Infinity;
      const after = ago <= hold ? 1 : release > 0 ? 1 - (ago - hold) / release : 0;
      const before = attack > 0 ? 1 - until / attack : 0;
      const depth = Math.max(0, Math.min(1, Math.max(after, before)));
      if (depth === 0 || depth === 1) gains[i] = depth === 0 ? 1 : down;
      else gains[i] = dbToGain(-rangeDb * (shape === "linear" ? depth : (1 - sinCosTurns(depth / 2).cos) / 2));
    }
    return gains;
  }
}
