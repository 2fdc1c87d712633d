/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { exp2 } from "../../math/deterministic-math";
import { SlidingMaximum } from "../../math/sliding-maximum";

export interface LimiterEnvelopeSettings {
  ceiling: number;
  /** Frames of the look-ahead. */
  lookAhead: number;
  /** Frames in which the gain comes back after a peak, 63 % of the way. */
  peakRelease: number;
  /** Frames in which the mean reduction follows upwards and downwards. */
  levelAttack: number;
  levelRelease: number;
  /** Share of the mean reduction that is not let go of between peaks; grows by `levelShareSlope` of that reduction. */
  levelShare: number;
  levelShareSlope: number;
  /** Frames of a block by which steady sound is known: half a period of the lowest tone that is to stay one. */
  block: number;
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
/** Below this a mean reduction is forgotten (−96 dB). */
const FORGOTTEN = exp2(-16);
/** No more of the mean reduction than this is kept. */
const MOST_SHARE = 0.85;

/** Sound is steady while the highest demands of the last four blocks differ by less than this share. */
const STEADY_WITHIN = 0.03;
/** Of steady sound the held gain takes over in these frames, and comes back in those, as multiples of a block. */
const [TAKES_OVER, COMES_BACK] = [0.8, 60];

/** Lengths of the hold and of the two moving averages. */
export function lengthsOf({ lookAhead }: LimiterEnvelopeSettings) {
  const first = Math.floor((lookAhead + 2) / 2);
  return { held: lookAhead + 1, first, second: lookAhead + 2 - first };
}

/** One-pole steps of the settings, by name: what a frame's gain is worked out with. */
export function constantsOf(settings: LimiterEnvelopeSettings) {
  const step = (frames: number) => 1 / (1 + frames);
  return {
    ceiling: settings.ceiling,
    peakStep: step(settings.peakRelease),
    attackStep: step(settings.levelAttack),
    releaseStep: step(settings.levelRelease),
    levelShare: settings.levelShare,
    slope: settings.levelShareSlope,
    shareStep: step(TAKES_OVER * settings.block),
    heldStep: step(COMES_BACK * settings.block),
    block: settings.block,
  };
}
type Constants = ReturnType<typeof constantsOf>;

/**
 * State at the beginning: previous peak, gain after a peak, mean reduction, smallest gain; share of the held gain, held
 * gain, place in the block, its smallest demand, those of the last four blocks, whether they are steady, whether a
 * block is under way.
 */
export const firstState = (): number[] => [0, 1, 0, 1, 0, 1, 0, 1, 1, 1, 1, 1, 0, 0];
const [PREVIOUS, RELEASED, LEVEL, SHARE, HELD, PLACE, LOWEST, BLOCKS, STEADY, UNDER_WAY] = [
  0, 1, 2, 4, 5, 6, 7, 8, 12, 13,
];
/** Where the smallest gain stands in the state. */
export const SMALLEST = 3;

export function referenceLimiterEnvelope(settings: LimiterEnvelopeSettings): LimiterEnvelope {
  const lengths = lengthsOf(settings);
  const constants = constantsOf(settings);
  const held = new SlidingMaximum(lengths.held);
  const first = new MovingSum(lengths.first, UNIT);
  const second = new MovingSum(lengths.second, UNIT * lengths.first);
  const full = UNIT * lengths.first * lengths.second;
  const state = Float64Array.from(firstState());
  let gains = new Float64Array(0);
  return {
    memory: [state, ...held.remembered, ...first.remembered, ...second.remembered],
    process(values, frames) {
      for (let i = 0; i < frames; i++) {
        // A peak between two frames is scaled by the gains of both.
        const peak = values[i]!;
        if (state[PREVIOUS]! > peak) values[i] = state[PREVIOUS]!;
        state[PREVIOUS] = peak;
      }
      held.process(values, frames);
      for (let i = 0; i < frames; i++) values[i] = Math.floor(nextGain(state, constants, values[i]!) * UNIT);
      first.process(values, frames);
      second.process(values, frames);
      for (let i = 0; i < frames; i++) {
        values[i] = values[i]! / full;
        if (values[i]! < state[SMALLEST]!) state[SMALLEST] = values[i]!;
      }
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

/** The gain of a frame before it is smoothed: that after the last peak, or the held one where sound is steady. */
function nextGain(state: Float64Array, constants: Constants, peak: number): number {
  const { ceiling, peakStep, attackStep, releaseStep, levelShare, slope, shareStep, heldStep, block } = constants;
  const demand = peak > ceiling ? ceiling / peak : 1;
  const reduction = 1 - demand;
  let level = state[LEVEL]!;
  level += (reduction > level ? attackStep : releaseStep) * (reduction - level);
  if (level < FORGOTTEN) level = 0;
  state[LEVEL] = level;
  const share = Math.min(MOST_SHARE, levelShare + slope * level);
  const wanted = Math.min(demand, 1 - share * level);
  let released = state[RELEASED]!;
  if (wanted <= released) released = wanted;
  else {
    released += (wanted - released) * peakStep;
    if (wanted - released < ARRIVED) released = wanted;
  }
  state[RELEASED] = released;
  followBlocks(state, block, demand);
  // The lowest of the block that goes on and of the two before it: half a period of 20 Hz at least.
  const lowest = Math.min(state[LOWEST]!, state[BLOCKS + 2]!, state[BLOCKS + 3]!);
  let heldGain = state[HELD]!;
  if (lowest <= heldGain) heldGain = lowest;
  else {
    heldGain += (lowest - heldGain) * heldStep;
    if (lowest - heldGain < ARRIVED) heldGain = lowest;
  }
  state[HELD] = heldGain;
  let heldShare = state[SHARE]!;
  heldShare += (state[STEADY]! - heldShare) * shareStep;
  if (heldShare > 1 - FORGOTTEN) heldShare = 1;
  else if (heldShare < FORGOTTEN) heldShare = 0;
  state[SHARE] = heldShare;
  return Math.min(released, 1 - heldShare * (1 - heldGain));
}

/** Blocks begin with a first demand, and end when four in a row had none: their grid does not depend on silence before. */
function followBlocks(state: Float64Array, length: number, demand: number): void {
  if (demand < 1) state[UNDER_WAY] = 1;
  if (state[UNDER_WAY] === 0) return;
  if (demand < state[LOWEST]!) state[LOWEST] = demand;
  state[PLACE]!++;
  if (state[PLACE]! < length) return;
  state.copyWithin(BLOCKS, BLOCKS + 1, BLOCKS + 4);
  state[BLOCKS + 3] = state[LOWEST]!;
  state[LOWEST] = 1;
  state[PLACE] = 0;
  const last = state.subarray(BLOCKS, BLOCKS + 4);
  const [low, high] = [Math.min(...last), Math.max(...last)];
  state[STEADY] = high < 1 && high - low < STEADY_WITHIN * low ? 1 : 0;
  if (low === 1) state[UNDER_WAY] = 0;
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
