/**
 * From a source and a recipe to a master that was read back and measured. The order at the end is: chain → fold-down →
 * sample-rate conversion → normalise → limit → dither → quantise → write → encode → read back → measure.
 * Everything streams: memory does not grow with length.
 */
import type { Clip } from "../edit-list/clip";
import type { ByteSink, ByteSource } from "../files/bytes";
import { openMasterWriter, writtenDepth } from "../files/master-writer";
import { openSoundFile } from "../files/open";
import type { FrameSource } from "../audio/frame-source";
import type { Tags } from "../files/tags";
import { Measurer, type Curves, type Figures, type Measured } from "../measure";
import { integratedLoudness } from "../measure/gating";
import { measureSource } from "../measure/measure-source";
import { RunningLoudness } from "../measure/running-loudness";
import type { StreamFormat } from "../audio/stream-format";
import type { ChainEntry } from "../processors";
import { finiteOrNull } from "../audio/decibel";
import { downmixed, downmixMatrix, type DownmixMatrix } from "../audio/downmix";
import { layoutNamed, type Layout } from "../audio/layout";
import { framesOf, type Decibels, type Frames, type Planar } from "../audio/units";
import { isOwnContainer } from "../files/containers";
import { limitViolations, type LimitViolation } from "./limit-violations";
import type { DeliverySpec } from "./spec";
import { check, type LimitedFigures, type Verdict } from "./compliance";
import { ChainStage } from "../render/chain-stage";
import { anchorOf, CEILING_ROOM_DB, GainSearch, gainToTarget, limitOn } from "./normalisation";
import { AUDIBLE_LIMITING_DB, missingTo, predictDelivery } from "./predict-delivery";
import { Quantiser } from "../dsp/quantise";
import { fileFacts, outputRate, type Recipe } from "./recipe";
import { ResampleStage, resampledFrames } from "../dsp/resampling";
import { stream, type Stage } from "../audio/stage";
import { type Cancellation } from "../audio/cancellation";
import { isUnprocessed, processedSource } from "../render/processed-source";

/** Loudness reached within this of the target counts as reached. */
const TOLERANCE_LU = 0.02;
/** … and further from it than this is told. */
const TOLD_LU = 0.05;
const MAX_ATTEMPTS = 12;

export interface MasterJob {
  source: FrameSource;
  layout: Layout;
  /** Depth of an integer source, `null` for float: decides whether bits shrink. */
  sourceBits: number | null;
  /** What of the source the item is made of; absent for all of it. */
  clips?: readonly Clip[] | null;
  recipe: Recipe;
  tags: Tags;
  /** The gain of the whole running order, for specs that keep its relations. */
  albumGainDb?: Decibels | null;
  /** Figures after repairs, pieces and chain, if they are known: spares a pass. */
  known?: Measured | undefined;
}

/** Where a master goes. `open` starts afresh and forgets what was written before. */
export interface MasterTarget {
  open(): Promise<ByteSink>;
  /** Makes the file of what was written, for containers that the core does not write. */
  encode?(): Promise<void>;
  /** The sound of the finished file, decoded where it is encoded. */
  readBack(): Promise<ByteSource>;
}

export interface MasterOptions {
  cancellation?: Cancellation | undefined;
  onProgress?: ((progress: { stage: string; fraction: number }) => void) | undefined;
}

/** What the solver chose: with it, one pass gives the master. */
export interface DeliverySettings {
  gainDb: Decibels;
  /** Ceiling of the delivery's limiter, `null` when it was not needed. */
  limiterCeilingDbtp: number | null;
  /** What was done to the loudness range, `null` for nothing. */
  levelling: ChainEntry | null;
}

export interface MasterResult extends DeliverySettings {
  figures: Figures;
  curves: Curves;
  /** `null` when the recipe names no spec. */
  verdict: Verdict | null;
  /** Where limits are broken that hold at any time. */
  places: LimitViolation[];
  /** The deepest it cut. */
  limitingDb: Decibels;
  /** How many times the programme was rendered until it was right. */
  attempts: number;
  dithered: boolean;
  warnings: string[];
}

/** What stays the same from pass to pass. */
interface Plan {
  job: MasterJob;
  worked: FrameSource;
  format: StreamFormat;
  fold: DownmixMatrix | null;
  frames: Frames;
}

function planOf(job: MasterJob): Plan {
  const { recipe, source, layout } = job;
  const { channels } = recipe.format;
  const fold = channels === "all" ? null : downmixMatrix(layout, channels);
  const worked = processedSource(source, { ...recipe, clips: job.clips }, layout);
  const sampleRate = outputRate(recipe.format, source.sampleRate);
  const format = { sampleRate, layout: fold ? layoutNamed(channels)! : layout };
  return { job, worked, format, fold, frames: resampledFrames(worked.frames, source.sampleRate, sampleRate) };
}

/** The channels that a master has. */
export const masterLayout = (recipe: Pick<Recipe, "format">, layout: Layout): Layout =>
  recipe.format.channels !== "all" && downmixMatrix(layout, recipe.format.channels)
    ? layoutNamed(recipe.format.channels)!
    : layout;

/** Renders, reads back, measures and corrects until the master is within its spec, or says why it is not. */
export async function renderMaster(
  job: MasterJob,
  target: MasterTarget,
  options: MasterOptions = {},
): Promise<MasterResult> {
  const plan = planOf(job);
  const { spec } = job.recipe;
  const warnings: string[] = [];
  const { settled, aim } = spec
    ? await settle(plan, spec, options, warnings)
    : { settled: { gainDb: 0, limiterCeilingDbtp: null, levelling: null }, aim: 0 };
  const canLimit = spec?.normalise === "gain and limiter";
  const search = new GainSearch();

  for (let attempt = 1; ; attempt++) {
    const pass = await writePass(plan, settled, target, options, attempt);
    const quick =
      spec?.anchor === "programme" && spec.measuredOn === "programme" && isOwnContainer(job.recipe.format.container);
    const last = attempt >= MAX_ATTEMPTS;
    if (spec && quick && !last && correctGain(spec, aim, { integratedLufs: pass.integratedLufs }, settled, search))
      continue;
    if (!isOwnContainer(job.recipe.format.container)) {
      options.onProgress?.({ stage: "encoding", fraction: 0 });
      await target.encode?.();
    }
    const { figures, curves } = await measureMaster(await target.readBack(), plan.format.layout, spec, (fraction) =>
      options.onProgress?.({ stage: "measuring the file", fraction }),
    );
    if (spec && !last) {
      if (!quick && correctGain(spec, aim, figures, settled, search)) continue;
      if (canLimit && correctCeiling(spec, figures, settled)) continue;
      if (correctRange(spec, figures, settled)) continue;
    }
    await pass.writer.describe?.({ ...broadcastOf(job.tags, job.recipe), loudness: figures });
    const missing = spec && settled.gainDb !== 0 ? missingTo(spec, aim, figures) : 0;
    if (Math.abs(missing) > TOLD_LU)
      warnings.push(`The loudness could not be brought nearer to its target than ${Math.abs(missing).toFixed(2)} LU.`);
    if (pass.limitingDb > AUDIBLE_LIMITING_DB)
      warnings.push(
        `The limiter cuts up to ${pass.limitingDb.toFixed(1)} dB, which will be heard. Lower the highest peaks, or compress, before delivering.`,
      );
    const file = fileFacts(job.recipe.format, job.source.sampleRate, plan.format.layout.name);
    return {
      ...settled,
      figures,
      curves,
      verdict: spec ? check(spec, figures, file) : null,
      places: spec ? limitViolations(spec, curves) : [],
      limitingDb: pass.limitingDb,
      attempts: attempt,
      dithered: pass.dithered,
      warnings,
    };
  }
}

/** The sound of a master whose settings are settled: what is written, before anything encodes it. */
export async function renderSound(
  job: MasterJob,
  settled: DeliverySettings,
  target: Pick<MasterTarget, "open">,
  options: MasterOptions = {},
): Promise<void> {
  await writePass(planOf(job), settled, target, options, 1);
}

/** First guess of gain, ceiling and ride, from the figures before delivery. */
async function settle(plan: Plan, spec: DeliverySpec, options: MasterOptions, warnings: string[]) {
  const { job } = plan;
  const nothing: DeliverySettings = { gainDb: 0, limiterCeilingDbtp: null, levelling: null };
  if (spec.normalise === "none") return { settled: nothing, aim: 0 };
  const { figures, curves } = await measureBefore(plan, spec, options);
  const value = anchorOf(spec, figures);
  if (value === null && spec.target !== null)
    warnings.push(
      spec.anchor === "dialogue"
        ? "No speech was found: there is no dialogue to bring to the target, and the level was kept."
        : "The programme is silent or shorter than 0.4 s: there is no loudness to bring to the target.",
    );
  const context = { albumGainDb: job.albumGainDb ?? null };
  const prediction = predictDelivery(figures, curves, [], spec, context);
  const limiterCeilingDbtp = prediction.limitingDb > 0 ? spec.ceilingDbtp - CEILING_ROOM_DB : null;
  const aim = (value ?? 0) + gainToTarget(spec, figures, context.albumGainDb);
  warnings.push(...prediction.obstacles.filter((obstacle) => obstacle.includes("noise floor")));
  return { settled: { gainDb: prediction.gainDb, limiterCeilingDbtp, levelling: prediction.levelling }, aim };
}

/** Each correction changes what is settled, and says whether it did. */
function correctGain(
  spec: DeliverySpec,
  aim: number,
  figures: LimitedFigures,
  settled: DeliverySettings,
  search: GainSearch,
): boolean {
  const missing = missingTo(spec, aim, figures);
  if (Math.abs(missing) <= TOLERANCE_LU || spec.normalise === "none") return false;
  // What was left alone, as it was in its range, is left alone as long as it stays there.
  if (settled.gainDb === 0 && gainToTarget(spec, figures) === 0) return false;
  settled.gainDb = search.next(settled.gainDb, missing);
  return true;
}

function correctCeiling(spec: DeliverySpec, figures: LimitedFigures, settled: DeliverySettings): boolean {
  const over = (figures.truePeakDbtp ?? -Infinity) - spec.ceilingDbtp;
  if (over <= 0) return false;
  settled.limiterCeilingDbtp =
    settled.limiterCeilingDbtp === null ? spec.ceilingDbtp - CEILING_ROOM_DB : settled.limiterCeilingDbtp - over - 0.01;
  return true;
}

function correctRange(spec: DeliverySpec, figures: LimitedFigures, settled: DeliverySettings): boolean {
  const most = limitOn(spec, "loudnessRangeLu")?.max;
  const amount = settled.levelling?.amountPercent;
  if (most === undefined || typeof amount !== "number" || amount >= 100 || (figures.loudnessRangeLu ?? 0) <= most)
    return false;
  settled.levelling = { ...settled.levelling!, amountPercent: Math.min(100, amount + 10) };
  return true;
}

/** What the broadcast extension of a master says of it. */
export const broadcastOf = (tags: Tags, recipe: Pick<Recipe, "spec">) => ({
  description: tags.title,
  originator: "Resonum",
  originatorReference: recipe.spec?.id.slice(0, 32) ?? "",
  // No clock in the core: the same recipe gives the same bytes at any time.
  date: "",
  time: "",
});

function bitsShrink({ job, format, fold }: Plan, depth: string, settled: DeliverySettings): boolean {
  const same =
    isUnprocessed({ ...job.recipe, clips: job.clips }) &&
    !fold &&
    format.sampleRate === job.source.sampleRate &&
    settled.gainDb === 0 &&
    settled.limiterCeilingDbtp === null &&
    settled.levelling === null;
  return !(same && job.sourceBits !== null && job.sourceBits <= Number(depth));
}

class FoldStage implements Stage {
  constructor(readonly matrix: DownmixMatrix) {}
  push = (block: Planar): Planar => downmixed(block, this.matrix, framesOf(block));
  finish = (): Planar => [];
}

/** Fold-down and sample-rate conversion: all between the chain and the normaliser. */
function stagesBefore({ job, format, fold }: Plan): Stage[] {
  const { sampleRate } = job.source;
  const stages: Stage[] = fold ? [new FoldStage(fold)] : [];
  if (format.sampleRate !== sampleRate)
    stages.push(
      new ResampleStage(sampleRate, format.sampleRate, format.layout.speakers.length, job.recipe.format.phase),
    );
  return stages;
}

/** Figures before the normaliser, at the item's own rate: those of the master are corrected on the file. */
async function measureBefore({ job, worked, fold, format }: Plan, spec: DeliverySpec, options: MasterOptions) {
  if (job.known && !fold && spec.measuredOn === "programme") return job.known;
  const measured = measuredLayout(format.layout, spec);
  const stages: Stage[] = [
    ...(fold ? [new FoldStage(fold)] : []),
    ...(measured.fold ? [new FoldStage(measured.fold)] : []),
  ];
  const measurer = new Measurer({ sampleRate: worked.sampleRate, layout: measured.layout });
  await stream(worked, stages, (block) => measurer.process(block), {
    cancellation: options.cancellation,
    onProgress: (fraction) => options.onProgress?.({ stage: "measuring", fraction }),
  });
  return measurer.result();
}

/** What a spec's loudness is measured on. */
function measuredLayout(layout: Layout, { measuredOn }: Pick<DeliverySpec, "measuredOn">) {
  const fold = measuredOn === "programme" ? null : downmixMatrix(layout, measuredOn);
  return { fold, layout: fold && measuredOn !== "programme" ? layoutNamed(measuredOn)! : layout };
}

/** One render into the target. */
async function writePass(
  plan: Plan,
  settled: DeliverySettings,
  target: Pick<MasterTarget, "open">,
  options: MasterOptions,
  attempt: number,
) {
  const { job, worked, format, frames } = plan;
  const { container, bitDepth, dither, keepSilence } = job.recipe.format;
  const { gainDb, limiterCeilingDbtp: ceilingDbtp, levelling } = settled;
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
    broadcast: broadcastOf(job.tags, job.recipe),
  });
  const depth = writtenDepth(container, bitDepth);
  const dithered = dither !== "none" && depth !== "32f" && depth !== "32" && bitsShrink(plan, depth, settled);
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
    worked,
    [...stagesBefore(plan), last],
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
  const integrated = integratedLoudness(loudness.windows.momentary());
  return {
    writer,
    dithered,
    integratedLufs: finiteOrNull(integrated),
    limitingDb: Math.max(0, ...(last.takeGainReduction()["delivery"] ?? [])),
  };
}

/** Measures a sound file as it lies in storage. `layout` overrules what the file says. */
export async function measureFile(
  source: ByteSource,
  layout: Layout,
  onProgress?: (fraction: number) => void,
): Promise<Measured> {
  const file = await openSoundFile(source);
  if (!file) throw new Error("The rendered file cannot be read back.");
  return measureSource(file, layout, { onProgress });
}

/** Figures of a master; where its spec is measured on a fold-down, the loudness is that of the fold-down. */
async function measureMaster(
  source: ByteSource,
  layout: Layout,
  spec: DeliverySpec | undefined,
  onProgress: (fraction: number) => void,
): Promise<Measured> {
  const measured = await measureFile(source, layout, onProgress);
  const { fold, layout: foldedLayout } = measuredLayout(layout, spec ?? { measuredOn: "programme" });
  if (!fold) return measured;
  const file = (await openSoundFile(source))!;
  const measurer = new Measurer({ sampleRate: file.sampleRate, layout: foldedLayout });
  await stream(file, [new FoldStage(fold)], (block) => measurer.process(block));
  const { integratedLufs, momentaryMaxLufs, shortTermMaxLufs, loudnessRangeLu } = measurer.result().figures;
  return {
    ...measured,
    figures: { ...measured.figures, integratedLufs, momentaryMaxLufs, shortTermMaxLufs, loudnessRangeLu },
  };
}
