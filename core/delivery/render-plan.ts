/** What is fixed before the first pass of a master: source after its chain, channels, rate, and what is measured. */
import { downmixed, downmixMatrix, type DownmixMatrix } from "../audio/downmix";
import type { FrameSource } from "../audio/frame-source";
import { layoutNamed, type Layout } from "../audio/layout";
import type { Stage } from "../audio/stage";
import type { StreamFormat } from "../audio/stream-format";
import { framesOf, type Frames, type Planar } from "../audio/units";
import { ResampleStage, resampledFrames } from "../dsp/resampling";
import { processedSource } from "../render/processed-source";
import type { MasterJob } from "./master-job";
import { outputRate, type Recipe } from "./recipe";
import type { DeliverySpec } from "./spec";

/** What stays the same from pass to pass: the item after its chain, the fold-down, and the master's format. */
export interface RenderPlan {
  job: MasterJob;
  processed: FrameSource;
  format: StreamFormat;
  fold: DownmixMatrix | null;
  frames: Frames;
}

export function planOf(job: MasterJob): RenderPlan {
  const { recipe, source, layout } = job;
  const { channels } = recipe.format;
  const fold = channels === "all" ? null : downmixMatrix(layout, channels);
  const processed = processedSource(source, { ...recipe, clips: job.clips }, layout);
  const sampleRate = outputRate(recipe.format, source.sampleRate);
  const format = { sampleRate, layout: fold ? layoutNamed(channels)! : layout };
  return { job, processed, format, fold, frames: resampledFrames(processed.frames, source.sampleRate, sampleRate) };
}

/** The channels that a master has. */
export const masterLayout = (recipe: Pick<Recipe, "format">, layout: Layout): Layout =>
  recipe.format.channels !== "all" && downmixMatrix(layout, recipe.format.channels)
    ? layoutNamed(recipe.format.channels)!
    : layout;

/** A fold-down as a stage of a stream. */
export class DownmixStage implements Stage {
  constructor(readonly matrix: DownmixMatrix) {}
  push = (block: Planar): Planar => downmixed(block, this.matrix, framesOf(block));
  finish = (): Planar => [];
}

/** Fold-down and sample-rate conversion: all between the chain and the normaliser. */
export function conversionStages({ job, format, fold }: RenderPlan): Stage[] {
  const { sampleRate } = job.source;
  const stages: Stage[] = fold ? [new DownmixStage(fold)] : [];
  if (format.sampleRate !== sampleRate)
    stages.push(
      new ResampleStage(sampleRate, format.sampleRate, format.layout.speakers.length, job.recipe.format.phase),
    );
  return stages;
}

/** What a spec's loudness is measured on. */
export function measuredLayout(layout: Layout, { measuredOn }: Pick<DeliverySpec, "measuredOn">) {
  const fold = measuredOn === "programme" ? null : downmixMatrix(layout, measuredOn);
  return { fold, layout: fold && measuredOn !== "programme" ? layoutNamed(measuredOn)! : layout };
}
