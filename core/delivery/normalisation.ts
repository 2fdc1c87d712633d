/** What brings a programme to its target: gain to the anchor, and a ride where its range is too wide. */
import { loudnessRange } from "../measure/gating";
import { newChainEntry, processorNamed, settingsOf, type ChainEntry } from "../processors";
import { levellerEnvelope, type LevellerSettings } from "../processors/leveller";
import type { LevelCurves } from "../processors/processor";
import type { Decibels } from "../audio/units";
import { ANCHORS, isPeakAnchored, type DeliverySpec, type Limit, type LimitedFigure } from "./spec";
import type { LimitedFigures } from "./compliance";
import { shortTermOf } from "../measure/short-term-estimate";

/** The limiter aims this far under the ceiling, so that the measured file is not over it by a hair. */
export const CEILING_ROOM_DB = 0.02;
/** Wanted between a figure and a limit that the gain was chosen by. */
const ROOM_DB = 0.3;

/** The limit that a spec sets on each item. */
export const limitOn = (spec: DeliverySpec, figure: LimitedFigure): Limit | undefined =>
  spec.limits.find((limit) => limit.figure === figure && limit.scope !== "album");

/** The figure that a spec's loudness is taken from; `null` where there is nothing to take. */
export const anchorOf = (spec: DeliverySpec, figures: LimitedFigures): number | null =>
  figures[ANCHORS[spec.anchor].figure] ?? null;

/**
 * Gain from `figures` to what the spec aims at; 0 where it leaves the level alone. A noise floor is not lifted over its
 * limit as long as the anchor stays in its range all the same.
 * @param albumGainDb the gain of all items together, for specs that keep their relations
 */
export function gainToTarget(
  spec: DeliverySpec,
  figures: LimitedFigures,
  albumGainDb: Decibels | null = null,
): Decibels {
  const value = anchorOf(spec, figures);
  if (spec.normalise === "none" || spec.target === null || value === null) return 0;
  if (spec.gainScope === "album" && albumGainDb !== null) return albumGainDb;
  const range = limitOn(spec, ANCHORS[spec.anchor].figure);
  const [min, max] = [range?.min ?? -Infinity, range?.max ?? Infinity];
  if (spec.keepWithinRange && range && value >= min && value <= max) return 0;
  // As under a ceiling: a peak that is aimed at is not to be over it by a hair.
  const gain = spec.target - (isPeakAnchored(spec) ? CEILING_ROOM_DB : 0) - value;
  const floor = figures.noiseFloorDbfs;
  const highestFloor = limitOn(spec, "noiseFloorDbfs")?.max;
  if (typeof floor !== "number" || highestFloor === undefined || min === -Infinity) return gain;
  return Math.max(Math.min(gain, highestFloor - ROOM_DB - floor), Math.min(gain, min + ROOM_DB - value));
}

/** The gain that brings the loudest of a running order to the target. */
export function albumGain(spec: DeliverySpec, items: readonly LimitedFigures[]): Decibels {
  const values = items.map((figures) => anchorOf(spec, figures)).filter((value): value is number => value !== null);
  return spec.target === null || values.length === 0 ? 0 : spec.target - Math.max(...values);
}

/** Loudness range of a programme as its momentary loudness suggests; `null` where it is too short. */
export function rangeOf({ momentaryLufs }: LevelCurves): number | null {
  const shortTerm = shortTermOf(momentaryLufs);
  return shortTerm.length === 0 ? null : loudnessRange(shortTerm);
}

const AMOUNT_STEPS = 8;
/** In dB/s: the faster, the more it is heard. */
const RIDE_SPEEDS = [2, 5, 12];

/**
 * A leveller that brings the loudness range to `most`, as gently as that can be; `null` where nothing needs to be done.
 * @param loudness what it rides toward, LUFS
 */
export function levellingTo(most: number, levels: LevelCurves, loudness: number): ChainEntry | null {
  const wide = rangeOf(levels);
  if (wide === null || wide <= most) return null;
  const leveller = processorNamed("leveller");
  const entry: ChainEntry = {
    ...newChainEntry("leveller", "range"),
    targetLufs: Math.round(2 * Math.max(-40, Math.min(-6, loudness))) / 2,
    windowLu: Math.max(0, Math.min(12, Math.round(most / 2) / 2)),
    upDb: 12,
    downDb: 12,
    amountPercent: 100,
  };
  const reached = (ride: ChainEntry): number => rangeOf(leveller.predict(levels, settingsOf(ride))) ?? 0;
  const rides = RIDE_SPEEDS.map((speedDbPerSecond): ChainEntry => {
    const settings = { ...entry, speedDbPerSecond };
    return { ...settings, line: levellerEnvelope(levels, settingsOf(settings) as LevellerSettings) };
  });
  // Slowly, if that is enough; where nothing is, as near as it comes.
  const ride = rides.find((one) => reached(one) <= most) ?? rides.reduce((a, b) => (reached(b) < reached(a) ? b : a));
  let [low, high] = [0, 100];
  for (let step = 0; step < AMOUNT_STEPS; step++) {
    const amount = (low + high) / 2;
    if (reached({ ...ride, amountPercent: amount }) > most) low = amount;
    else high = amount;
  }
  return { ...ride, amountPercent: Math.ceil(high) };
}

/** The leveller that a spec asks for, if it does. */
export function rangeLevelling(spec: DeliverySpec, figures: LimitedFigures, levels: LevelCurves): ChainEntry | null {
  const most = spec.adaptsRange ? limitOn(spec, "loudnessRangeLu")?.max : undefined;
  const range = figures.loudnessRangeLu;
  if (most === undefined || typeof range !== "number" || range <= most) return null;
  // What the curve suggests is scaled to what was measured.
  const suggested = rangeOf(levels) ?? range;
  return levellingTo(((most - ROOM_DB) * suggested) / range, levels, figures.integratedLufs ?? -23);
}
