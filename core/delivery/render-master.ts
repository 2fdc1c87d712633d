/**
 * From a source and a recipe to a master that was read back and measured: solve → write → verify → adjust, until the
 * file is within its spec or as near as it comes.
 */
import { isOwnContainer } from "../files/containers";
import type { Measured } from "../measure";
import { check, type LimitedFigures } from "./compliance";
import { limitViolations } from "./limit-violations";
import type { DeliverySettings, MasterJob, MasterOptions, MasterResult, MasterTarget } from "./master-job";
import { AUDIBLE_LIMITING_DB, missingTo } from "./predict-delivery";
import { fileFacts } from "./recipe";
import { planOf, type RenderPlan } from "./render-plan";
import { adjustedGain, adjustedLimits, solveDelivery, UNCHANGED, type Attempt, type Solution } from "./solve-delivery";
import type { DeliverySpec } from "./spec";
import { measureMaster } from "./verify-master";
import { broadcastOf, writeMaster, type WrittenMaster } from "./write-master";

/** Further from the target than this is told. */
const TOLD_LU = 0.05;
const MAX_ATTEMPTS = 12;

/** Renders, reads back, measures and corrects until the master is within its spec, or says why it is not. */
export async function renderMaster(
  job: MasterJob,
  target: MasterTarget,
  options: MasterOptions = {},
): Promise<MasterResult> {
  const plan = planOf(job);
  const { spec } = job.recipe;
  const solution: Solution = spec
    ? await solveDelivery(plan, spec, options)
    : { settings: UNCHANGED, targetLevel: 0, warnings: [] };
  let attempt: Attempt = { settings: solution.settings, tries: [] };
  for (let count = 1; ; count++) {
    const written = await writeMaster(plan, attempt.settings, target, options, count);
    const mayAdjust = spec !== undefined && count < MAX_ATTEMPTS;
    const gainFrom = (figures: LimitedFigures) =>
      mayAdjust ? adjustedGain(spec, solution.targetLevel, figures, attempt) : null;
    const early = spec && isKnownEarly(plan, spec);
    let next = early ? gainFrom(written) : null;
    if (!next) {
      const verified = await verify(plan, target, options);
      next = early ? null : gainFrom(verified.figures);
      next ??= mayAdjust ? adjustedLimits(spec, verified.figures, attempt) : null;
      if (!next) {
        await written.writer.describe?.({ ...broadcastOf(job.tags, job.recipe), loudness: verified.figures });
        return resultOf(plan, solution, attempt.settings, written, verified, count);
      }
    }
    attempt = next;
  }
}

/** Whether the loudness of what was written is that of the file, so that one that misses its target need not be read back. */
const isKnownEarly = ({ job }: RenderPlan, spec: DeliverySpec): boolean =>
  spec.anchor === "programme" && spec.measuredOn === "programme" && isOwnContainer(job.recipe.format.container);

/** Encodes what was written where the container wants it, and measures the file. */
async function verify({ job, format }: RenderPlan, target: MasterTarget, options: MasterOptions): Promise<Measured> {
  if (!isOwnContainer(job.recipe.format.container)) {
    options.onProgress?.({ stage: "encoding", fraction: 0 });
    await target.encode?.();
  }
  return measureMaster(await target.readBack(), format.layout, job.recipe.spec, (fraction) =>
    options.onProgress?.({ stage: "measuring the file", fraction }),
  );
}

function resultOf(
  { job, format }: RenderPlan,
  { targetLevel, warnings }: Solution,
  settings: DeliverySettings,
  { dithered, limitingDb }: WrittenMaster,
  { figures, curves }: Measured,
  attempts: number,
): MasterResult {
  const { spec } = job.recipe;
  const missing = spec && settings.gainDb !== 0 ? Math.abs(missingTo(spec, targetLevel, figures)) : 0;
  return {
    ...settings,
    figures,
    curves,
    verdict: spec
      ? check(spec, figures, fileFacts(job.recipe.format, job.source.sampleRate, format.layout.name))
      : null,
    places: spec ? limitViolations(spec, curves) : [],
    limitingDb,
    attempts,
    dithered,
    warnings: [
      ...warnings,
      ...(missing > TOLD_LU
        ? [`The loudness could not be brought nearer to its target than ${missing.toFixed(2)} LU.`]
        : []),
      ...(limitingDb > AUDIBLE_LIMITING_DB
        ? [
            `The limiter cuts up to ${limitingDb.toFixed(1)} dB, which will be heard. Lower the highest peaks, or compress, before delivering.`,
          ]
        : []),
    ],
  };
}
