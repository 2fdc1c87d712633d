/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { fastDbToGain, fastPowerToDb } from "../../math/fast-math";

/** What a level asks for: reduction on one side of a threshold, in dB, by straight lines with a soft knee between. */
export interface StaticCurve {
  /** 1: above the threshold; −1: below it. */
  direction: 1 | -1;
  thresholdDb: number;
  /** dB of reduction for each dB beyond the threshold. */
  slope: number;
  kneeDb: number;
  /** It is reduced by this at most, in dB. */
  maxReductionDb: number;
}

/** How it gets there. Shares are of the way to go, for each group of `steps` frames. */
export interface GainSmootherSettings {
  attack: number;
  release: number;
  /** How many times more slowly it lets go after holding on for long, less one; 0: always alike. */
  slower: number;
  sustainShare: number;
  /** What is asked for is worked out anew every so many frames; between two of them the gain goes straight. */
  steps: number;
}

/** What it remembers; `largest` is the most reduction since it was last looked at. Reductions in dB. */
export interface GainSmootherState {
  reduction: number;
  sustain: number;
  largest: number;
  /** Gains at both ends of the group that it is in; below 0 before the first. */
  from: number;
  target: number;
  /** Frames left of it. */
  left: number;
}

export const freshState = (): GainSmootherState => ({
  reduction: 0,
  sustain: 0,
  largest: 0,
  from: -1,
  target: -1,
  left: 0,
});

/** The gain is at `gainDb` less the reduction. A power up to `quiet` asks for the reduction `atRest`. */
export interface Rest {
  quiet: number;
  atRest: number;
  gainDb: number;
}

/** From powers to gains, in place. */
export type GainSmoother = (
  values: Float64Array,
  frames: number,
  settings: GainSmootherSettings,
  curve: StaticCurve,
  rest: Rest,
  state: GainSmootherState,
) => void;

/** Below this distance the reduction has arrived, in dB. */
const ARRIVED = 1e-5;

/** A reduction above this counts as held on to, in dB. */
const HELD = 0.1;

/** Reduction in dB that `curve` asks for at a level in dB. */
export function reductionAt(
  { direction, thresholdDb, slope, kneeDb, maxReductionDb }: StaticCurve,
  levelDb: number,
): number {
  const over = direction * (levelDb - thresholdDb);
  const inKnee = over + kneeDb / 2;
  let wanted = 0;
  if (2 * over >= kneeDb) wanted = slope * over;
  else if (2 * over > -kneeDb) wanted = (slope * inKnee * inKnee) / (2 * kneeDb);
  return wanted > maxReductionDb ? maxReductionDb : wanted;
}

export const referenceGainSmoother: GainSmoother = (
  values,
  frames,
  settings,
  curve,
  { quiet, atRest, gainDb },
  state,
) => {
  const { attack, release, slower, sustainShare, steps } = settings;
  let { reduction, sustain, largest, from, target, left } = state;
  for (let i = 0; i < frames; i++) {
    if (left === 0) {
      const power = values[i]!;
      const wanted = power <= quiet ? atRest : reductionAt(curve, fastPowerToDb(power));
      const way = wanted - reduction;
      if (Math.abs(way) < ARRIVED) reduction = wanted;
      else reduction += way * (way > 0 ? attack : release / (1 + slower * sustain));
      if (slower > 0) {
        sustain += ((reduction > HELD ? 1 : 0) - sustain) * sustainShare;
        if (sustain < ARRIVED) sustain = 0;
      }
      if (reduction > largest) largest = reduction;
      const next = fastDbToGain(gainDb - reduction);
      from = target < 0 ? next : target;
      target = next;
      left = steps;
    }
    left--;
    values[i] = target - ((target - from) / steps) * left;
  }
  Object.assign(state, { reduction, sustain, largest, from, target, left });
};

/** All that the kernel is told, in its order. */
export const SETTINGS_SIZE = 13;

export const settingsInOrder = (
  { attack, release, slower, sustainShare, steps }: GainSmootherSettings,
  { direction, thresholdDb, slope, kneeDb, maxReductionDb }: StaticCurve,
  { quiet, atRest, gainDb }: Rest,
): readonly number[] => [
  ...[attack, release, slower, sustainShare, steps],
  ...[direction, thresholdDb, slope, kneeDb, maxReductionDb],
  ...[quiet, atRest, gainDb],
];

/** What the kernel remembers, in its order, and back. */
export const STATE_SIZE = 6;

export const stateInOrder = ({
  reduction,
  sustain,
  largest,
  from,
  target,
  left,
}: GainSmootherState): readonly number[] => [...[reduction, sustain, largest], ...[from, target, left]];

export const stateOf = (kept: Float64Array): GainSmootherState => {
  const [reduction, sustain, largest, from, target, left] = [...kept] as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  return { reduction, sustain, largest, from, target, left };
};
