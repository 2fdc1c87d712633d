/**
 * From a source and a recipe to a master that was read back and measured: solve → write → verify → adjust, until the
 * file is within its spec or as near as it comes.
 */
import { isLossy, isOwnContainer } from "../files/containers";
import type { Measured } from "../measure";
import { check, type LimitedFigures } from "./compliance";
import { limitViolations } from "./limit-violations";
import type { MasterJob, MasterOptions, MasterResult, MasterTarget } from "./master-job";
import { AUDIBLE_LIMITING_DB, missingTo } from "./predict-delivery";
import { fileFacts } from "./recipe";
import { foldWarning, planOf, type RenderPlan } from "./render-plan";
import { anchorOf } from "./normalisation";
import { adjusted, boundWarning, solveDelivery, UNCHANGED, type Attempt, type Solution } from "./solve-delivery";
import type { DeliverySpec } from "./spec";
import { measureMaster } from "./verify-master";
import { broadcastOf, writeMaster, type WrittenMaster } from "./write-master";

/** Further from the target than this is told. */
const TOLD_LU = 0.05;
/** Passes at most; encoded ones need one more as a rule, since encoding moves their peaks. */
const [MAX_ATTEMPTS, MAX_ENCODED_ATTEMPTS] = [4, 5];

/** Renders, reads back, measures and corrects until the master is within its spec, or says why it is not. */
export async function renderMaster(
  job: MasterJob,
  target: MasterTarget,
  options: MasterOptions = {},
): Promise<MasterResult> {
  const plan = planOf(job);
  const { spec } = job.recipe;
  const solution: Solution = spec
    ? await solveDelivery(plan, spec, target, options)
    : { settings: UNCHANGED, targetLevel: 0, model: null, warnings: [], roomDb: 0 };
  const encoded = isLossy(job.recipe.format.container);
  const most = encoded ? MAX_ENCODED_ATTEMPTS : MAX_ATTEMPTS;
  let attempt: Attempt = { settings: solution.settings, tries: [] };
  for (let count = 1; ; count++) {
    const written = await writeMaster(plan, attempt.settings, target, options, count);
    const next = (figures: LimitedFigures) =>
      spec !== undefined && count < most ? adjusted(spec, solution, figures, attempt, encoded) : null;
    // One that misses its target need not be read back.
    let following = spec && isKnownEarly(plan, spec) ? next(written) : null;
    if (!following) {
      const verified = await verify(plan, target, options);
      following = next(verified.figures);
      if (!following) {
        await written.writer.describe?.({
          ...broadcastOf(job.tags, job.recipe, plan.format.sampleRate),
          loudness: verified.figures,
        });
        return resultOf(plan, solution, attempt, written, verified, count);
      }
    }
    attempt = following;
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
  solution: Solution,
  attempt: Attempt,
  { dithered, limitingDb }: WrittenMaster,
  { figures, curves }: Measured,
  attempts: number,
): MasterResult {
  const { spec } = job.recipe;
  const { settings } = attempt;
  const folded = foldWarning(job.recipe, job.layout);
  const missing = spec && settings.gainDb !== 0 ? Math.abs(missingTo(spec, solution.targetLevel, figures)) : 0;
  const bound = spec ? boundWarning(spec, solution, attempt, anchorOf(spec, figures) ?? -Infinity) : null;
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
      ...(folded ? [folded] : []),
      ...solution.warnings,
      ...(bound ? [bound] : []),
      ...(missing > TOLD_LU && !bound
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
