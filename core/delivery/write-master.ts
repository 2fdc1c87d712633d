/**
 * One pass of a master: chain → fold-down → sample-rate conversion → levelling → gain → limiter → dither → quantise →
 * write. Everything streams: memory does not grow with length.
 */
import type { Hertz } from "../audio/units";
import { finiteOrNull } from "../audio/decibel";
import { stream } from "../audio/stage";
import { framesOf, type Decibels } from "../audio/units";
import { Quantiser } from "../dsp/quantise";
import { openMasterWriter, writtenDepth, type MasterWriter } from "../files/master-writer";
import type { Tags } from "../files/tags";
import { integratedLoudness } from "../measure/gating";
import { RunningLoudness } from "../measure/running-loudness";
import type { ChainEntry } from "../processors";
import { ChainStage } from "../render/chain-stage";
import { isUnprocessed } from "../render/processed-source";
import type { DeliverySettings, MasterJob, MasterOptions, MasterTarget } from "./master-job";
import type { Recipe } from "./recipe";
import { conversionStages, planOf, type RenderPlan } from "./render-plan";

export interface WrittenMaster {
  writer: MasterWriter;
  dithered: boolean;
  /** Of what was written, before anything encoded it; `null` for silence. */
  integratedLufs: number | null;
  /** The deepest that the delivery's limiter cut. */
  limitingDb: Decibels;
}

/** One pass: the programme through the delivery's settings into the target. */
export async function writeMaster(
  plan: RenderPlan,
  settings: DeliverySettings,
  target: Pick<MasterTarget, "open">,
  options: MasterOptions,
  attempt = 1,
): Promise<WrittenMaster> {
  const { job, processed, format, frames } = plan;
  const { container, bitDepth, dither, keepSilence } = job.recipe.format;
  const { gainDb, limiterCeilingDbtp: ceilingDbtp, levelling } = settings;
  const delivery: ChainEntry[] = levelling ? [levelling] : [];
  delivery.push({ type: "gain", bypass: gainDb === 0, gainDb });
  if (ceilingDbtp !== null) delivery.push({ type: "limiter", id: "delivery", bypass: false, ceilingDbtp });
  const last = new ChainStage(delivery, format);
  const writer = await openMasterWriter(await target.open(), {
    container,
    depth: bitDepth,
    ...format,
    frames,
    tags: job.tags,
    broadcast: broadcastOf(job.tags, job.recipe, format.sampleRate),
  });
  const depth = writtenDepth(container, bitDepth);
  const dithered = dither !== "none" && depth !== "32f" && depth !== "32" && bitsShrink(plan, depth, settings);
  const quantiser =
    depth === "32f"
      ? null
      : new Quantiser(format.layout.speakers.length, Number(depth) as 16 | 24 | 32, {
          dither: dithered ? dither : "none",
          sampleRate: format.sampleRate,
          keepSilence,
        });
  const loudness = new RunningLoudness(format);
  await stream(
    processed,
    [...conversionStages(plan), last],
    async (block) => {
      loudness.process(block, framesOf(block));
      if (quantiser) await writer.writeIntegers(quantiser.next(block), framesOf(block));
      else await writer.writeFloat(block, framesOf(block));
    },
    {
      cancellation: options.cancellation,
      onProgress: (fraction) =>
        options.onProgress?.({ stage: attempt === 1 ? "rendering" : `rendering, pass ${attempt}`, fraction }),
    },
  );
  await writer.finish();
  return {
    writer,
    dithered,
    integratedLufs: finiteOrNull(integratedLoudness(loudness.windows.momentary())),
    limitingDb: Math.max(0, ...(last.takeGainReduction()["delivery"] ?? [])),
  };
}

/** The sound of a master whose settings are known: what is written, before anything encodes it. */
export async function renderSound(
  job: MasterJob,
  settings: DeliverySettings,
  target: Pick<MasterTarget, "open">,
  options: MasterOptions = {},
): Promise<void> {
  await writeMaster(planOf(job), settings, target, options);
}

/** What the broadcast extension of a master says of it. */
export const broadcastOf = (tags: Tags, recipe: Pick<Recipe, "spec">, sampleRate: Hertz) => ({
  description: tags.title,
  originator: "Resonum",
  originatorReference: recipe.spec?.id.slice(0, 32) ?? "",
  // No clock in the core: the same recipe gives the same bytes at any time.
  date: "",
  time: "",
  timeReference: Math.round((tags.startSeconds ?? 0) * sampleRate),
});

/** Whether samples are rounded to fewer bits than they have, so that dither is wanted. */
function bitsShrink({ job, format, fold }: RenderPlan, depth: string, settings: DeliverySettings): boolean {
  const same =
    isUnprocessed({ ...job.recipe, clips: job.clips }) &&
    !fold &&
    format.sampleRate === job.source.sampleRate &&
    settings.gainDb === 0 &&
    settings.limiterCeilingDbtp === null &&
    settings.levelling === null;
  return !(same && job.sourceBits !== null && job.sourceBits <= Number(depth));
}
