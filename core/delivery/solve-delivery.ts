/**
 * Gain, ceiling and levelling that bring a programme to its target: solved from the figures before delivery, then
 * adjusted to what the finished file measures.
 */
import type { Decibels } from "../audio/units";
import { stream, type Stage } from "../audio/stage";
import { Measurer, type Measured } from "../measure";
import type { LimitedFigures } from "./compliance";
import type { DeliverySettings, MasterOptions } from "./master-job";
import { anchorOf, CEILING_ROOM_DB, gainToTarget, limitOn, secantGain, type GainTry } from "./normalisation";
import { missingTo, predictDelivery } from "./predict-delivery";
import { DownmixStage, measuredLayout, type RenderPlan } from "./render-plan";
import type { DeliverySpec } from "./spec";

/** Loudness reached within this of the target counts as reached. */
const TOLERANCE_LU = 0.02;

/** Settings for the next pass, and what the passes before it lacked. */
export interface Attempt {
  readonly settings: DeliverySettings;
  readonly tries: readonly GainTry[];
}

export interface Solution {
  settings: DeliverySettings;
  /** The level that the spec's anchor is to have, in its unit. */
  targetLevel: number;
  warnings: string[];
}

/** Settings that change nothing. */
export const UNCHANGED: DeliverySettings = { gainDb: 0, limiterCeilingDbtp: null, levelling: null };

/** First guess of gain, ceiling and levelling, from the figures before delivery. */
export async function solveDelivery(plan: RenderPlan, spec: DeliverySpec, options: MasterOptions): Promise<Solution> {
  if (spec.normalise === "none") return { settings: UNCHANGED, targetLevel: 0, warnings: [] };
  const { figures, curves } = await measureBefore(plan, spec, options);
  const value = anchorOf(spec, figures);
  const albumGainDb = plan.job.albumGainDb ?? null;
  const { gainDb, limitingDb, levelling, obstacles } = predictDelivery(figures, curves, [], spec, { albumGainDb });
  return {
    settings: { gainDb, limiterCeilingDbtp: limitingDb > 0 ? spec.ceilingDbtp - CEILING_ROOM_DB : null, levelling },
    targetLevel: (value ?? 0) + gainToTarget(spec, figures, albumGainDb),
    warnings: [
      ...(value === null && spec.target !== null ? [nothingToAimBy(spec)] : []),
      ...obstacles.filter((obstacle) => obstacle.includes("noise floor")),
    ],
  };
}

const nothingToAimBy = ({ anchor }: DeliverySpec): string =>
  anchor === "dialogue"
    ? "No speech was found: there is no dialogue to bring to the target, and the level was kept."
    : "The programme is silent or shorter than 0.4 s: there is no loudness to bring to the target.";

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

/** The gain corrected by what the target lacks; `null` where it is reached, or is not to be moved. */
export function adjustedGain(
  spec: DeliverySpec,
  targetLevel: number,
  figures: LimitedFigures,
  { settings, tries }: Attempt,
): Attempt | null {
  const missing = missingTo(spec, targetLevel, figures);
  if (Math.abs(missing) <= TOLERANCE_LU || spec.normalise === "none") return null;
  // What was left alone, as it was in its range, is left alone as long as it stays there.
  if (settings.gainDb === 0 && gainToTarget(spec, figures) === 0) return null;
  const tried = [...tries, { gainDb: settings.gainDb, missing }];
  return { settings: { ...settings, gainDb: secantGain(tried) }, tries: tried };
}

/** A lower ceiling where the file's true peak is over; a limiter where there was none. */
function adjustedCeiling(spec: DeliverySpec, figures: LimitedFigures, attempt: Attempt): Attempt | null {
  const over: Decibels = (figures.truePeakDbtp ?? -Infinity) - spec.ceilingDbtp;
  if (over <= 0) return null;
  const { limiterCeilingDbtp: ceiling } = attempt.settings;
  const limiterCeilingDbtp = ceiling === null ? spec.ceilingDbtp - CEILING_ROOM_DB : ceiling - over - 0.01;
  return { ...attempt, settings: { ...attempt.settings, limiterCeilingDbtp } };
}

/** More levelling where the loudness range is still too wide. */
function adjustedRange(spec: DeliverySpec, figures: LimitedFigures, attempt: Attempt): Attempt | null {
  const { levelling } = attempt.settings;
  const most = limitOn(spec, "loudnessRangeLu")?.max;
  const amount = levelling?.amountPercent;
  if (most === undefined || typeof amount !== "number" || amount >= 100 || (figures.loudnessRangeLu ?? 0) <= most)
    return null;
  const more = { ...levelling!, amountPercent: Math.min(100, amount + 10) };
  return { ...attempt, settings: { ...attempt.settings, levelling: more } };
}

/** Ceiling or levelling corrected after a file that measured `figures`; `null` where both are right. */
export const adjustedLimits = (spec: DeliverySpec, figures: LimitedFigures, attempt: Attempt): Attempt | null =>
  (spec.normalise === "gain and limiter" ? adjustedCeiling(spec, figures, attempt) : null) ??
  adjustedRange(spec, figures, attempt);
