/**
 * Gain, ceiling and levelling that bring a programme to its target: solved from the figures before delivery, then
 * adjusted to what the finished file measures.
 */
import type { Decibels } from "../audio/units";
import { isLossy } from "../files/containers";
import { stream, type Stage } from "../audio/stage";
import { Measurer, type Measured } from "../measure";
import { encoderRoom } from "./measure-overshoot";
import type { LimitedFigures } from "./compliance";
import type { DeliverySettings, MasterOptions, MasterTarget } from "./master-job";
import { correctedGain, deepestAt, lossSlope, type GainTry, type LimitingModel } from "./limiting-model";
import { anchorOf, CEILING_ROOM_DB, gainToTarget, limitOn } from "./normalisation";
import { boundWords, mayCorrect, missingTo, predictDelivery } from "./predict-delivery";
import { DownmixStage, measuredLayout, type RenderPlan } from "./render-plan";
import { ANCHORS, type DeliverySpec } from "./spec";

/** Loudness reached within this of the target counts as reached; of what is encoded, the peak comes before it. */
const TOLERANCE_LU = 0.02;
const ENCODED_TOLERANCE_LU = 0.1;
/** The ceiling is lowered by so much more than a file was over it. */
const EXTRA_ROOM_DB = 0.01;
/** Encoding moves peaks anew each time: a file that is over lowers the ceiling by so many times as much. */
const ENCODED_STEP = 1.5;
const MOST_ENCODED_SLOPE = 0.4;
/** The level of an encoded file is corrected so often; then it stays if it is in its range. */
const MOST_ENCODED_CORRECTIONS = 2;

/** Settings for the next pass, and what the passes before it showed. */
export interface Attempt {
  readonly settings: DeliverySettings;
  readonly tries: readonly GainTry[];
}

export interface Solution {
  settings: DeliverySettings;
  /** The level that the spec's anchor is to have, in its unit. */
  targetLevel: number;
  /** What the limiter takes, as the figures before delivery tell. */
  model: LimitingModel | null;
  warnings: string[];
  /** Left under the ceiling for what an encoder adds. */
  roomDb: Decibels;
}

/** Settings that change nothing. */
export const UNCHANGED: DeliverySettings = { gainDb: 0, limiterCeilingDbtp: null, levelling: null };

/** First guess of gain, ceiling and levelling, from the figures before delivery, and from excerpts where they are encoded. */
export async function solveDelivery(
  plan: RenderPlan,
  spec: DeliverySpec,
  target: MasterTarget,
  options: MasterOptions,
): Promise<Solution> {
  if (spec.normalise === "none") return { settings: UNCHANGED, targetLevel: 0, model: null, warnings: [], roomDb: 0 };
  const { figures, curves } = await measureBefore(plan, spec, options);
  const value = anchorOf(spec, figures);
  const albumGainDb = plan.job.albumGainDb ?? null;
  const predicted = (roomDb: Decibels) =>
    predictDelivery(figures, curves, [], { ...spec, ceilingDbtp: spec.ceilingDbtp - roomDb }, { albumGainDb });
  const { model, levelling, obstacles } = predicted(0);
  const settingsFor = (roomDb: Decibels) => {
    const { gainDb } = predicted(roomDb);
    const limits = deepestAt(model, gainDb + roomDb) > 0;
    return { gainDb, limiterCeilingDbtp: limits ? limiterCeiling(spec, roomDb) : null };
  };
  const isLimited = spec.normalise === "gain and limiter" && isLossy(plan.job.recipe.format.container);
  const roomDb = isLimited ? await encoderRoom(plan, curves, spec.ceilingDbtp, settingsFor, target, options) : 0;
  return {
    settings: { ...settingsFor(roomDb), levelling },
    targetLevel: (value ?? 0) + gainToTarget(spec, figures, albumGainDb),
    model,
    warnings: [
      ...(value === null && spec.target !== null ? [nothingToAimBy(spec)] : []),
      ...obstacles.filter((obstacle) => obstacle.includes("noise floor")),
    ],
    roomDb,
  };
}

const limiterCeiling = (spec: DeliverySpec, roomDb: Decibels): number => spec.ceilingDbtp - CEILING_ROOM_DB - roomDb;

const nothingToAimBy = ({ anchor }: DeliverySpec): string =>
  anchor === "dialogue"
    ? "No speech was found: there is no dialogue to bring to the target, and the level was kept."
    : "The programme is silent or shorter than 0.4 s: there is no level to bring to the target.";

/** Figures before the normaliser, at the item's own rate: those of the master are corrected on the file. */
async function measureBefore(
  { job, processed, fold, format }: RenderPlan,
  spec: DeliverySpec,
  options: MasterOptions,
): Promise<Measured> {
  if (job.known && !fold && spec.measuredOn === "programme") return job.known;
  const measured = measuredLayout(format.layout, spec);
  const stages: Stage[] = [
    ...(fold ? [new DownmixStage(fold)] : []),
    ...(measured.fold ? [new DownmixStage(measured.fold)] : []),
  ];
  const measurer = new Measurer({ sampleRate: processed.sampleRate, layout: measured.layout });
  await stream(processed, stages, (block) => measurer.process(block), {
    cancellation: options.cancellation,
    onProgress: (fraction) => options.onProgress?.({ stage: "measuring", fraction }),
  });
  return measurer.result();
}

/**
 * Gain, ceiling and levelling for the next pass, all three corrected at once by what a file measures; `null` where they
 * are right, or come no nearer.
 * @param encoded whether the file is encoded with loss, which moves its peaks anew each time
 */
export function adjusted(
  spec: DeliverySpec,
  solution: Solution,
  figures: LimitedFigures,
  attempt: Attempt,
  encoded: boolean,
): Attempt | null {
  if (spec.normalise === "none") return null;
  const limiterCeilingDbtp = adjustedCeiling(spec, solution, figures, attempt.settings, encoded);
  const levelling = adjustedRange(spec, figures, attempt.settings);
  const lowered = limiterCeilingDbtp !== attempt.settings.limiterCeilingDbtp;
  const gain = adjustedGain(spec, solution, figures, attempt, limiterCeilingDbtp, encoded);
  const tolerance = encoded ? ENCODED_TOLERANCE_LU : TOLERANCE_LU;
  // Encoded anew at a higher gain, peaks would be over again: the peak wins, and the level where it fails by itself.
  const [corrections, range] = [attempt.tries.length, limitOn(spec, ANCHORS[spec.anchor].figure)];
  const level = anchorOf(spec, figures) ?? -Infinity;
  const isInRange = range !== undefined && level >= (range.min ?? -Infinity) && level <= (range.max ?? Infinity);
  const settled = encoded && ((lowered && corrections > 1) || (isInRange && corrections >= MOST_ENCODED_CORRECTIONS));
  const moved =
    !settled && gain !== null && Math.abs(gain.missing) > tolerance && gain.gainDb !== attempt.settings.gainDb;
  if (!lowered && !moved && levelling === attempt.settings.levelling) return null;
  return {
    settings: { gainDb: moved ? gain.gainDb : attempt.settings.gainDb, limiterCeilingDbtp, levelling },
    tries: gain?.tries ?? attempt.tries,
  };
}

/** Gains nearer to each other than this are the same. */
const SAME_GAIN_DB = 0.005;

/** The gain corrected by what the target lacks; `null` where the level is not to be moved. */
function adjustedGain(
  spec: DeliverySpec,
  { model, targetLevel }: Solution,
  figures: LimitedFigures,
  { settings, tries }: Attempt,
  ceilingDbtp: number | null,
  encoded: boolean,
): { gainDb: Decibels; missing: Decibels; tries: readonly GainTry[] } | null {
  if (!mayCorrect(spec) || model?.level == null) return null;
  // What was left alone, as it was in its range, is left alone as long as it stays there.
  if (settings.gainDb === 0 && gainToTarget(spec, figures) === 0) return null;
  const missing = missingTo(spec, targetLevel, figures);
  const lossDb = missing - (targetLevel - model.level - settings.gainDb);
  // A ceiling that is lowered takes as much as so much more gain would.
  const loweredBy = (ceiling: number | null) => spec.ceilingDbtp - CEILING_ROOM_DB - (ceiling ?? spec.ceilingDbtp);
  const before = Math.max(0, loweredBy(settings.limiterCeilingDbtp));
  const further = Math.max(0, loweredBy(ceilingDbtp)) - before;
  const tried = [...tries, { gainDb: settings.gainDb + before, lossDb }];
  // Encoding moves the loudness as well: tries say less of the limiter then, and a long step less still.
  const slope = encoded ? lossSlope(model, tried.slice(-1), MOST_ENCODED_SLOPE) : lossSlope(model, tried);
  const corrected = correctedGain(model, spec, tried, missing + slope * further, slope);
  const gainDb = corrected.gainDb - before;
  return {
    gainDb: Math.abs(gainDb - settings.gainDb) < SAME_GAIN_DB ? settings.gainDb : gainDb,
    missing,
    tries: tried,
  };
}

/** A lower ceiling where the file's true peak is over; a limiter where there was none. */
function adjustedCeiling(
  spec: DeliverySpec,
  { roomDb }: Solution,
  figures: LimitedFigures,
  { limiterCeilingDbtp: ceiling }: DeliverySettings,
  encoded: boolean,
): number | null {
  const over: Decibels = (figures.truePeakDbtp ?? -Infinity) - spec.ceilingDbtp;
  if (spec.normalise !== "gain and limiter" || over <= 0) return ceiling;
  return ceiling === null
    ? limiterCeiling(spec, roomDb)
    : ceiling - (encoded ? ENCODED_STEP : 1) * over - EXTRA_ROOM_DB;
}

/** More levelling where the loudness range is still too wide. */
function adjustedRange(spec: DeliverySpec, figures: LimitedFigures, { levelling }: DeliverySettings) {
  const most = limitOn(spec, "loudnessRangeLu")?.max;
  const amount = levelling?.amountPercent;
  if (most === undefined || typeof amount !== "number" || amount >= 100 || (figures.loudnessRangeLu ?? 0) <= most)
    return levelling;
  return { ...levelling!, amountPercent: Math.min(100, amount + 10) };
}

/** Why a target was not reached, where limiting was bounded. */
export function boundWarning(
  spec: DeliverySpec,
  { model, targetLevel }: Solution,
  { settings, tries }: Attempt,
  reached: number,
): string | null {
  if (model?.level == null || !mayCorrect(spec) || settings.limiterCeilingDbtp === null) return null;
  const missing = targetLevel - reached;
  const last = { gainDb: settings.gainDb, lossDb: missing - (targetLevel - model.level - settings.gainDb) };
  const { neededDb } = correctedGain(model, spec, [...tries, last], missing);
  if (neededDb === null || missing <= TOLERANCE_LU) return null;
  return boundWords(spec, deepestAt(model, neededDb), reached);
}
