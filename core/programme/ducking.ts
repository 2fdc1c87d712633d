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

/** Mean square of all channels together from frame `from` to `to`, as a level in dB of a full-scale square. */
function levelDb(block: Planar, from: Frames, to: Frames): number {
  let sum = 0;
  let count = 0;
  for (const channel of block) {
    const end = Math.min(to, channel.length);
    for (let i = from; i < end; i++) sum += channel[i]! * channel[i]!;
    count += Math.max(0, end - from);
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
    if (this.#levels.size >= MOST_KEPT) this.#levels.clear();
    const last = Math.ceil(this.key.frames / this.#step);
    const isInside = (step: number) => step >= 0 && step < last;
    const steps = Array.from({ length: end - first }, (_, i) => first + i);
    const missing = steps.filter((step) => isInside(step) && !this.#levels.has(step));
    if (missing.length > 0) await this.#listen(missing[0]!, missing.at(-1)! + 1);
    return steps.map((step) => isInside(step) && this.#levels.get(step)!);
  }

  /** Keeps which of the steps from `first` to before `end` are above the threshold, in one reading. */
  async #listen(first: number, end: number): Promise<void> {
    const [step, { thresholdDb }] = [this.#step, this.ducker];
    const block = await this.key.read(first * step, (end - first) * step);
    for (let i = 0; i < end - first; i++)
      this.#levels.set(first + i, levelDb(block, i * step, (i + 1) * step) > thresholdDb);
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
    if (active.every((above) => above === active[0])) return gains.fill(active[0] ? down : 1);
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
