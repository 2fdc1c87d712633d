/** What a deliverable will make of an item, before anything is rendered. */
import type { Curves, Figures } from "../measure";
import { processorNamed, settingsOf, type ChainEntry } from "../processors";
import { formatDb } from "../audio/format";
import type { Decibels } from "../audio/units";
import { ANCHORS, LIMITED_FIGURES, type DeliverySpec } from "./spec";
import type { LimitedFigures } from "./compliance";
import {
  anchorOf,
  CEILING_ROOM_DB,
  gainToTarget,
  limitOn,
  rangeLevelling,
  rangeOf,
  secantGain,
  type GainTry,
} from "./normalisation";
import { figuresAfter, highestOf, levelsAfter, levelsOf, shifted, type KnownLevels } from "./predict-chain";

/** Limiting deeper than this is told as a warning: it will be heard. */
export const AUDIBLE_LIMITING_DB = 6;
const PASSES = 6;
const NEAR_LU = 0.01;

export interface Prediction {
  figures: LimitedFigures;
  /** Gain that the normaliser applies after the chain. */
  gainDb: Decibels;
  /** The deepest that the delivery's limiter will cut; 0 when it is not needed. */
  limitingDb: Decibels;
  /** What the normaliser does to the loudness range, where the spec has it do so. */
  levelling: ChainEntry | null;
  /** What it would have to be able to do and is not, in sentences. */
  obstacles: string[];
}

export interface DeliveryContext {
  known?: KnownLevels | null;
  albumGainDb?: Decibels | null;
}

/** The figures of the master that a deliverable will give. */
export function predictDelivery(
  figures: Figures,
  curves: Curves,
  chain: readonly ChainEntry[],
  spec: DeliverySpec,
  { known = null, albumGainDb = null }: DeliveryContext = {},
): Prediction {
  const source = levelsOf(figures, curves);
  const processed = levelsAfter(figures, curves, chain, known);
  const now = figuresAfter(figures, source, processed);
  const levelling = rangeLevelling(spec, now, processed);
  const leveller = processorNamed("leveller");
  const before = levelling ? leveller.predict(processed, settingsOf(levelling)) : processed;
  const range = levelling && rangeOf(before);
  const ranged = (after: LimitedFigures): LimitedFigures =>
    range === null ? after : { ...after, loudnessRangeLu: Math.min(range, now.loudnessRangeLu ?? range) };
  const levelled = figuresAfter(figures, source, before);
  let gainDb = gainToTarget(spec, levelled, albumGainDb);
  const targetLevel = (anchorOf(spec, levelled) ?? 0) + gainDb;
  const ceilingDbtp = spec.ceilingDbtp - CEILING_ROOM_DB;
  let after = shifted(before, gainDb);
  let limitingDb = 0;
  if (highestOf(after.peakDb) + after.intersampleDb > ceilingDbtp && spec.normalise === "gain and limiter") {
    const limiter = processorNamed("limiter");
    const settings = settingsOf({ type: "limiter", bypass: false, ceilingDbtp });
    const tries: GainTry[] = [];
    for (let pass = 0; pass < PASSES; pass++) {
      after = limiter.predict(shifted(before, gainDb), settings);
      const missing = missingTo(spec, targetLevel, figuresAfter(figures, source, after));
      if (Math.abs(missing) < NEAR_LU) break;
      tries.push({ gainDb, missing });
      gainDb = secantGain(tries);
    }
    limitingDb = highestOf(shifted(before, gainDb).peakDb) + before.intersampleDb - ceilingDbtp;
  }
  const reached = ranged(figuresAfter(figures, source, after));
  return {
    figures: reached,
    gainDb,
    limitingDb,
    levelling,
    obstacles: obstaclesOf(spec, levelled, reached, limitingDb),
  };
}

/** What limiting has taken from the anchor; nothing where the level is not brought anywhere. */
export function missingTo(spec: DeliverySpec, targetLevel: number, figures: LimitedFigures): Decibels {
  const value = anchorOf(spec, figures);
  return spec.target === null || spec.gainScope === "album" || value === null ? 0 : targetLevel - value;
}

function obstaclesOf(
  spec: DeliverySpec,
  before: LimitedFigures,
  after: LimitedFigures,
  limitingDb: Decibels,
): string[] {
  const obstacles: string[] = [];
  const floor = limitOn(spec, "noiseFloorDbfs")?.max;
  if (floor !== undefined && typeof after.noiseFloorDbfs === "number" && after.noiseFloorDbfs > floor)
    obstacles.push(
      `The noise floor of ${formatDb(before.noiseFloorDbfs ?? null)} dBFS would be lifted to ${formatDb(after.noiseFloorDbfs)}: take ${formatDb(after.noiseFloorDbfs - floor)} dB of the noise away first.`,
    );
  if (limitingDb > AUDIBLE_LIMITING_DB)
    obstacles.push(
      `The limiter would have to cut ${formatDb(limitingDb)} dB, which is heard: tame the highest peaks or compress first.`,
    );
  const { label, unit } = ANCHORS[spec.anchor];
  if (spec.target !== null && spec.normalise !== "none" && anchorOf(spec, before) === null)
    obstacles.push(`${label} cannot be told, so there is nothing to bring to ${formatDb(spec.target)} ${unit}.`);
  const range = limitOn(spec, "loudnessRangeLu");
  if (range?.max !== undefined && (after.loudnessRangeLu ?? 0) > range.max)
    obstacles.push(
      `The loudness range of ${formatDb(after.loudnessRangeLu ?? null)} ${LIMITED_FIGURES.loudnessRangeLu.unit} is wider than ${formatDb(range.max)}: ride the level with a leveller first.`,
    );
  return obstacles;
}
