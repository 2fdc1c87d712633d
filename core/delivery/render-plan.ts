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
import { CONTAINER_ABOUT } from "../files/containers";
import { outputRate, type MasterFormat, type Recipe } from "./recipe";
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
  const folded = foldOf(recipe.format, layout);
  const fold = folded && downmixMatrix(layout, folded);
  const processed = processedSource(source, { ...recipe, clips: job.clips }, layout);
  const sampleRate = outputRate(recipe.format, source.sampleRate);
  const format = { sampleRate, layout: folded ? layoutNamed(folded)! : layout };
  return { job, processed, format, fold, frames: resampledFrames(processed.frames, source.sampleRate, sampleRate) };
}

/** The channels that a master has. */
export function masterLayout({ format }: Pick<Recipe, "format">, layout: Layout): Layout {
  const folded = foldOf(format, layout);
  return folded ? layoutNamed(folded)! : layout;
}

type Folded = Exclude<MasterFormat["channels"], "all">;

/** What a master is folded down to: what is asked for, or as many channels as its kind of file holds; `null` for nothing. */
function foldOf({ channels, container }: Pick<MasterFormat, "channels" | "container">, layout: Layout): Folded | null {
  const { mostChannels } = CONTAINER_ABOUT[container];
  const fits = ({ speakers }: Layout) => speakers.length <= mostChannels;
  const asked: Folded[] = channels === "all" ? [] : [channels];
  const holds: Folded[] = fits(layout) ? [] : (["5.1", "stereo"] as const).filter((name) => fits(layoutNamed(name)!));
  return [...asked, ...holds].find((name) => fits(layoutNamed(name)!) && downmixMatrix(layout, name)) ?? null;
}

/** What is said of a master that has fewer channels than its item though nobody asked for that; `null` of others. */
export function foldWarning({ format }: Pick<Recipe, "format">, layout: Layout): string | null {
  const folded = foldOf(format, layout);
  if (!folded || folded === format.channels) return null;
  const { name, mostChannels } = CONTAINER_ABOUT[format.container];
  return `Folded down from ${layout.name} to ${folded}: ${name} holds no more than ${mostChannels} channels.`;
}

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
