/**
 * What a limiter at a ceiling takes from the level that a spec aims by, told from level curves: how much of it is lost at
 * a gain, and how much gain is allowed. The solver corrects it by what a rendered file measures.
 */
import type { Decibels } from "../audio/units";
import { processorNamed, settingsOf } from "../processors";
import type { LevelCurves } from "../processors/processor";
import { CEILING_ROOM_DB } from "./normalisation";
import { highestOf, loudnessOf, shifted } from "./predict-chain";
import type { DeliverySpec } from "./spec";

/** Gains are found to within this. */
const NEAR_DB = 0.005;
/** No gain above this is looked for: nothing that has any sound needs more. */
const MOST_GAIN_DB = 80;
/** The search for a gain ends after so many steps, the bisection of a bound as well: each goes through all curves. */
const MOST_STEPS = 12;

export interface LimitingModel {
  /** The anchor's level before any gain; `null` where it cannot be told. */
  level: number | null;
  /** Gain above which the limiter has something to do. */
  headroomDb: Decibels;
  /** Loss of that level at a gain. */
  lossAt(gainDb: Decibels): Decibels;
}

/** @param before levels that the gain is applied to; @param level that of the anchor in them */
export function limitingModel(before: LevelCurves, level: number | null, spec: DeliverySpec): LimitingModel {
  const ceilingDbtp = spec.ceilingDbtp - CEILING_ROOM_DB;
  const limiter = processorNamed("limiter");
  const settings = settingsOf({ type: "limiter", bypass: false, ceilingDbtp });
  const headroomDb =
    spec.normalise === "gain and limiter" ? ceilingDbtp - highestOf(before.peakDb) - before.intersampleDb : Infinity;
  return {
    level,
    headroomDb,
    lossAt: (gainDb) =>
      level === null || gainDb <= headroomDb
        ? 0
        : loudnessOf(before) + gainDb - loudnessOf(limiter.predict(shifted(before, gainDb), settings)),
  };
}

/** The deepest cut at a gain. */
export const deepestAt = ({ headroomDb }: LimitingModel, gainDb: Decibels): Decibels =>
  Math.max(0, gainDb - headroomDb);

export interface BoundedGain {
  gainDb: Decibels;
  /** What the target would need, where it is more than is allowed. */
  neededDb: Decibels | null;
}

/** The gain that brings `wantedDb` more of the anchor after limiting, within the depth and the loss that the spec allows. */
export function gainFor(model: LimitingModel, spec: DeliverySpec, wantedDb: Decibels): BoundedGain {
  if (wantedDb <= model.headroomDb) return { gainDb: wantedDb, neededDb: null };
  const tries: GainTry[] = [];
  let needed = wantedDb;
  while (tries.length < MOST_STEPS) {
    const lossDb = model.lossAt(needed);
    const missing = wantedDb + lossDb - needed;
    if (Math.abs(missing) < NEAR_DB) break;
    tries.push({ gainDb: needed, lossDb });
    needed = Math.min(MOST_GAIN_DB, needed + missing / (1 - lossSlope(model, tries)));
  }
  const byDepth = Math.min(needed, model.headroomDb + spec.maxLimitingDb);
  const allowed = model.lossAt(byDepth) <= spec.maxLimitingLossLu ? byDepth : gainAtLoss(model, spec, byDepth);
  return allowed < needed ? { gainDb: allowed, neededDb: needed } : { gainDb: needed, neededDb: null };
}

/** The highest gain below `high` that loses no more than the spec allows, by bisection. */
function gainAtLoss(model: LimitingModel, spec: DeliverySpec, high: Decibels): Decibels {
  let low = model.headroomDb;
  for (let step = 0; step < MOST_STEPS; step++) {
    const middle = (low + high) / 2;
    if (model.lossAt(middle) <= spec.maxLimitingLossLu) low = middle;
    else high = middle;
  }
  return low;
}

/** A gain that was tried, and what it lost of the anchor's level. */
export interface GainTry {
  readonly gainDb: Decibels;
  readonly lossDb: Decibels;
}

/** A decibel of gain gives at least this much of one: else steps would be without bounds. */
const LEAST_YIELD = 0.25;
/** A gain that is bounded is left where it is within this of its bound. */
const AT_BOUND_DB = 0.3;
/** Over so many decibels the model tells how much of each is lost. */
const SLOPE_DB = 0.5;

/** Share of a further decibel of gain that is lost: by the last two tries, before by the model, at most `most`. */
export function lossSlope(model: LimitingModel, tries: readonly GainTry[], most = 1 - LEAST_YIELD): number {
  const [before, last] = [tries.at(-2), tries.at(-1)!];
  const apart = before ? last.gainDb - before.gainDb : 0;
  const slope =
    before && Math.abs(apart) > NEAR_DB
      ? (last.lossDb - before.lossDb) / apart
      : (model.lossAt(last.gainDb + SLOPE_DB) - model.lossAt(last.gainDb - SLOPE_DB)) / (2 * SLOPE_DB);
  return Math.max(0, Math.min(most, slope));
}

/**
 * The next gain after `tries`, of which there is one at least, by the secant method, within the bounds of the spec.
 * @param missingDb what the anchor lacked with the last one
 */
export function correctedGain(
  model: LimitingModel,
  spec: DeliverySpec,
  tries: readonly GainTry[],
  missingDb: Decibels,
  slope = lossSlope(model, tries),
): BoundedGain {
  const last = tries.at(-1)!;
  const needed = last.gainDb + missingDb / (1 - slope);
  const byDepth = model.headroomDb + spec.maxLimitingDb;
  const byLoss = slope > 0 ? last.gainDb + (spec.maxLimitingLossLu - last.lossDb) / slope : Infinity;
  const allowed = Math.min(byDepth, byLoss);
  // As near to a bound as this, one more pass would gain nothing that is heard.
  const isAtBound = last.gainDb <= byDepth + NEAR_DB && Math.abs(allowed - last.gainDb) <= AT_BOUND_DB;
  if (allowed < needed - NEAR_DB && isAtBound) return { gainDb: last.gainDb, neededDb: needed };
  return allowed < needed - NEAR_DB ? { gainDb: allowed, neededDb: needed } : { gainDb: needed, neededDb: null };
}
