/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { exp2 } from "../../math/deterministic-math";
import { SlidingMaximum } from "../../math/sliding-maximum";

export interface LimiterEnvelopeSettings {
  ceiling: number;
  /** Frames in which it lets go, 63 % of the way. */
  releaseFrames: number;
  /** How many times more slowly it lets go where limiting goes on, less one. */
  slower: number;
  /** Share of the running mean that tells for how long it has gone on, for each frame. */
  sustainStep: number;
  /** Frames of the look-ahead, and for how many more the least gain is held. */
  lookAhead: number;
  hold: number;
}

export interface LimiterEnvelope {
  /** All that it remembers. */
  readonly memory: readonly Float64Array[];
  /**
   * From the peaks of the next intervals to the gains of the frames `lookAhead` earlier, in place; up to
   * MOST_FRAMES.
   * @returns whether there may be a gain other than 1
   */
  process(values: Float64Array, frames: number): boolean;
  /** Makes `out` of as many samples of `x` as there were gains last, times these gains. */
  apply(x: Float32Array, out: Float32Array): void;
  /** The smallest gain since the last call. */
  takeMinimumGain(): number;
}

/** The most frames at once. */
export const MOST_FRAMES = 2048;

export const UNIT = exp2(30);

/** Below this distance a release has arrived (−144 dB). */
const ARRIVED = exp2(-24);

/** Below this it is forgotten that limiting went on. */
const FORGOTTEN = exp2(-10);

/** Lengths of the hold and of the two moving averages. */
export function lengthsOf({ lookAhead, hold }: LimiterEnvelopeSettings) {
  const first = Math.floor((lookAhead + 2) / 2);
  return { held: lookAhead + hold + 1, first, second: lookAhead + 2 - first };
}

export function referenceLimiterEnvelope(settings: LimiterEnvelopeSettings): LimiterEnvelope {
  const { ceiling, releaseFrames, slower, sustainStep } = settings;
  const lengths = lengthsOf(settings);
  const held = new SlidingMaximum(lengths.held);
  const first = new MovingSum(lengths.first, UNIT);
  const second = new MovingSum(lengths.second, UNIT * lengths.first);
  const full = UNIT * lengths.first * lengths.second;
  const state = Float64Array.of(0, 1, 0, 1);
  let gains = new Float64Array(0);
  return {
    memory: [state, ...held.remembered, ...first.remembered, ...second.remembered],
    process(values, frames) {
      let [previous, released, sustained, smallest] = state as unknown as [number, number, number, number];
      for (let i = 0; i < frames; i++) {
        // A peak between two frames is scaled by the gains of both.
        const peak = values[i]!;
        if (previous > peak) values[i] = previous;
        previous = peak;
      }
      held.process(values, frames);
      for (let i = 0; i < frames; i++) {
        const peak = values[i]!;
        const wanted = peak > ceiling ? ceiling / peak : 1;
        if (wanted <= released) released = wanted;
        else {
          released += (wanted - released) / (1 + releaseFrames * (1 + slower * sustained));
          if (wanted - released < ARRIVED) released = wanted;
        }
        sustained += ((wanted < 1 ? 1 : 0) - sustained) * sustainStep;
        if (sustained < FORGOTTEN) sustained = 0;
        values[i] = Math.floor(released * UNIT);
      }
      first.process(values, frames);
      second.process(values, frames);
      for (let i = 0; i < frames; i++) {
        values[i] = values[i]! / full;
        if (values[i]! < smallest) smallest = values[i]!;
      }
      state.set([previous, released, sustained, smallest]);
      gains = values.slice(0, frames);
      return gains.some((gain) => gain !== 1);
    },
    apply: (x, out) => gains.forEach((gain, i) => (out[i] = x[i]! * gain)),
    takeMinimumGain() {
      const least = state[SMALLEST]!;
      state[SMALLEST] = 1;
      return least;
    },
  };
}

/** Sum of the last `length` whole numbers, exact; starts as if `initial` had gone on for ever. */
class MovingSum {
  readonly #ring: Float64Array;
  /** The sum, and the place that is overwritten next. */
  readonly #state: Float64Array;

  constructor(length: number, initial: number) {
    this.#ring = new Float64Array(length).fill(initial);
    this.#state = Float64Array.of(length * initial, 0);
  }

  get remembered(): readonly Float64Array[] {
    return [this.#ring, this.#state];
  }

  /** In place. */
  process(values: Float64Array, count: number): void {
    let [sum, next] = this.#state as unknown as [number, number];
    for (let i = 0; i < count; i++) {
      const value = values[i]!;
      sum += value - this.#ring[next]!;
      this.#ring[next] = value;
      next = (next + 1) % this.#ring.length;
      values[i] = sum;
    }
    this.#state.set([sum, next]);
  }
}

/** Places in the state: the smallest gain, and whether it is at rest. */
export const [SMALLEST, AT_REST] = [3, 10];
