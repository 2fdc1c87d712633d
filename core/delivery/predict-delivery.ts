/** What a deliverable will make of an item, before anything is rendered. */
import type { Curves, Figures } from "../measure";
import { processorNamed, settingsOf, type ChainEntry } from "../processors";
import { formatDb } from "../audio/format";
import type { Decibels } from "../audio/units";
import { ANCHORS, LIMITED_FIGURES, type DeliverySpec } from "./spec";
import type { LimitedFigures } from "./compliance";
import { anchorOf, CEILING_ROOM_DB, gainToTarget, limitOn, rangeLevelling, rangeOf } from "./normalisation";
import { deepestAt, gainFor, limitingModel, type LimitingModel } from "./limiting-model";
import { overshootAt, type EncodingOvershoot } from "./encoding-overshoot";
import { figuresAfter, levelsAfter, levelsOf, shifted, type KnownLevels } from "./predict-chain";

/** Limiting deeper than this is told as a warning: it will be heard. */
export const AUDIBLE_LIMITING_DB = 6;

export interface Prediction {
  figures: LimitedFigures;
  /** Gain that the normaliser applies after the chain. */
  gainDb: Decibels;
  /** The deepest that the delivery's limiter will cut; 0 when it is not needed. */
  limitingDb: Decibels;
  /** What the limiter takes, for gains other than this. */
  model: LimitingModel;
  /** What the normaliser does to the loudness range, where the spec has it do so. */
  levelling: ChainEntry | null;
  /** What it would have to be able to do and is not, in sentences. */
  obstacles: string[];
}

export interface DeliveryContext {
  known?: KnownLevels | null;
  albumGainDb?: Decibels | null;
  /** What encoding with loss adds to the peaks; `null` where nothing is lost, or nothing known. */
  overshoot?: EncodingOvershoot | null;
}

/** The figures of the master that a deliverable will give, as it is decoded. */
export function predictDelivery(
  figures: Figures,
  curves: Curves,
  chain: readonly ChainEntry[],
  spec: DeliverySpec,
  context: DeliveryContext = {},
): Prediction {
  const written = predictWritten(figures, curves, chain, spec, context);
  const { overshoot } = context;
  const peak = written.figures.truePeakDbtp;
  if (!overshoot || typeof peak !== "number") return written;
  const over = (depth: Decibels) => Math.max(0, overshootAt(overshoot, depth));
  if (spec.normalise !== "gain and limiter" || peak + over(0) <= spec.ceilingDbtp)
    return { ...written, figures: { ...written.figures, truePeakDbtp: peak + overshootAt(overshoot, 0) } };
  // The delivery's limiter leaves room for what the encoder adds.
  const roomDb = over(written.limitingDb + over(0));
  const lowered = { ...spec, ceilingDbtp: spec.ceilingDbtp - roomDb };
  const limited = predictWritten(figures, curves, chain, lowered, context);
  return { ...limited, figures: { ...limited.figures, truePeakDbtp: spec.ceilingDbtp - CEILING_ROOM_DB } };
}

function predictWritten(
  figures: Figures,
  curves: Curves,
  chain: readonly ChainEntry[],
  spec: DeliverySpec,
  { known = null, albumGainDb = null }: DeliveryContext,
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
  const wantedDb = gainToTarget(spec, levelled, albumGainDb);
  const model = limitingModel(before, anchorOf(spec, levelled), spec);
  const { gainDb, neededDb } = mayCorrect(spec) ? gainFor(model, spec, wantedDb) : { gainDb: wantedDb, neededDb: null };
  const limitingDb = deepestAt(model, gainDb);
  const raised = shifted(before, gainDb);
  const ceilingDbtp = spec.ceilingDbtp - CEILING_ROOM_DB;
  const after =
    limitingDb > 0
      ? processorNamed("limiter").predict(raised, settingsOf({ type: "limiter", bypass: false, ceilingDbtp }))
      : raised;
  const reached = ranged(figuresAfter(figures, source, after));
  return {
    figures: reached,
    gainDb,
    limitingDb,
    levelling,
    model,
    obstacles: obstaclesOf(spec, levelled, reached, limitingDb, neededDb && deepestAt(model, neededDb)),
  };
}

/** Whether the gain is corrected by what limiting takes: not where one gain holds for many. */
export const mayCorrect = (spec: DeliverySpec): boolean =>
  spec.normalise !== "none" && spec.target !== null && spec.gainScope !== "album";

/** What limiting has taken from the anchor; nothing where the level is not brought anywhere. */
export function missingTo(spec: DeliverySpec, targetLevel: number, figures: LimitedFigures): Decibels {
  const value = anchorOf(spec, figures);
  return !mayCorrect(spec) || value === null ? 0 : targetLevel - value;
}

/** What a target would need, what is allowed, what that gives, and what would help. */
export function boundWords(spec: DeliverySpec, neededDb: Decibels, reached: number | null): string {
  const { unit } = ANCHORS[spec.anchor];
  return (
    `${formatDb(spec.target)} ${unit} would need ${formatDb(neededDb)} dB of limiting; ` +
    `${formatDb(spec.maxLimitingDb)} dB at the deepest and ${formatDb(spec.maxLimitingLossLu)} LU lost are allowed, which gives ${formatDb(reached)} ${unit}. ` +
    `Tame the highest peaks, ride the level or compress before delivering, or allow more in the specification.`
  );
}

function obstaclesOf(
  spec: DeliverySpec,
  before: LimitedFigures,
  after: LimitedFigures,
  limitingDb: Decibels,
  /** What the target would need, where that is more than the spec allows. */
  neededLimitingDb: Decibels | null,
): string[] {
  const obstacles: string[] = [];
  const floor = limitOn(spec, "noiseFloorDbfs")?.max;
  if (floor !== undefined && typeof after.noiseFloorDbfs === "number" && after.noiseFloorDbfs > floor)
    obstacles.push(
      `The noise floor of ${formatDb(before.noiseFloorDbfs ?? null)} dBFS would be lifted to ${formatDb(after.noiseFloorDbfs)}: take ${formatDb(after.noiseFloorDbfs - floor)} dB of the noise away first.`,
    );
  if (neededLimitingDb !== null) obstacles.push(boundWords(spec, neededLimitingDb, anchorOf(spec, after)));
  else if (limitingDb > AUDIBLE_LIMITING_DB)
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
