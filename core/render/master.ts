/**
 * From a source and a recipe to a master that was read back and measured. The order at the end is: chain →
 * sample-rate conversion → normalise → limit → dither → quantise → write → read back → measure.
 * Everything streams: memory does not grow with length.
 */
import { arrangedSource } from "../arrange/arranged-source";
import type { Piece } from "../arrange/piece";
import type { ByteSink, ByteSource } from "../files/bytes";
import { openSoundFile } from "../files/open";
import type { FrameSource } from "../files/sound-file";
import { WavWriter } from "../files/wav-writer";
import { Measurer, type Curves, type Figures } from "../measure";
import { integratedLoudness } from "../measure/gating";
import { measureSource } from "../measure/measure-source";
import { RunningLoudness } from "../measure/running-loudness";
import type { StreamFormat } from "../measure/measurement";
import type { ChainEntry } from "../process";
import { isAtWork } from "../repair";
import { repairedSource } from "../repair/repaired-source";
import { finiteOrNull } from "../signal/decibel";
import type { Layout } from "../signal/layout";
import { framesOf, type Decibels, type Planar } from "../signal/units";
import { specNamed } from "../spec";
import { check, type Verdict } from "../spec/verdict";
import { ChainStage } from "./chain-stage";
import { AUDIBLE_LIMITING_DB, CEILING_ROOM_DB, gainToTarget, predictDelivery } from "./predict";
import { Quantiser } from "./quantise";
import type { Recipe } from "./recipe";
import { ResampleStage } from "./resample";
import { stream, type Cancellation, type Stage } from "./stage";

/** Loudness reached within this of the target counts as reached. */
const TOLERANCE_LU = 0.02;
const MAX_ATTEMPTS = 10;

export interface MasterJob {
  source: FrameSource;
  layout: Layout;
  /** Depth of an integer source, `null` for float: decides whether bits shrink. */
  sourceBits: number | null;
  /** What of the source the item is made of; absent for all of it. */
  pieces?: readonly Piece[] | null;
  recipe: Recipe;
  /** For the `bext` chunk. */
  title: string;
  /** Figures of the source, if they are known: spares a pass where nothing comes before the normaliser. */
  known?: { figures: Figures; curves: Curves } | undefined;
}

/** Where a master goes. `open` starts afresh and forgets what was written before. */
export interface MasterTarget {
  open(): Promise<ByteSink>;
  readBack(): Promise<ByteSource>;
}

export interface MasterOptions {
  cancellation?: Cancellation;
  onProgress?: ((progress: { stage: string; fraction: number }) => void) | undefined;
}

export interface MasterResult {
  figures: Figures;
  curves: Curves;
  /** `null` when the recipe names no spec. */
  verdict: Verdict | null;
  gainDb: Decibels;
  /** Ceiling of the delivery's limiter, `null` when it was not needed. */
  limiterCeilingDbtp: number | null;
  /** The deepest it cut. */
  limitingDb: Decibels;
  /** How many times the programme was rendered until it was right. */
  attempts: number;
  dithered: boolean;
  warnings: string[];
}

/** Renders, reads back, measures and corrects until the master is within its spec, or says why it is not. */
export async function renderMaster(
  asked: MasterJob,
  target: MasterTarget,
  options: MasterOptions = {},
): Promise<MasterResult> {
  const repaired = repairedSource(asked.source, asked.recipe.repairs, { content: "" });
  const job = { ...asked, source: arrangedSource(repaired, asked.pieces) };
  const { recipe, source, layout } = job;
  const spec = recipe.spec ? specNamed(recipe.spec) : undefined;
  const sampleRate = recipe.format.sampleRate ?? source.sampleRate;
  const format: StreamFormat = { sampleRate, layout };
  const warnings: string[] = [];

  let gainDb = 0;
  let ceilingDbtp: number | null = null;
  if (spec && spec.normalise !== "none") {
    const { figures, curves } = await measureBefore(job, sampleRate, options);
    if (figures.integratedLufs === null) {
      warnings.push("The programme is silent or shorter than 0.4 s: there is no loudness to bring to the target.");
    }
    gainDb = gainToTarget(spec, figures.integratedLufs);
    const peak = (figures.truePeakDbtp ?? -Infinity) + gainDb;
    if (peak > spec.ceilingDbtp - CEILING_ROOM_DB && spec.normalise === "gain and limiter") {
      ceilingDbtp = spec.ceilingDbtp - CEILING_ROOM_DB;
      gainDb = predictDelivery(figures, curves, [], spec).gainDb;
    }
  }

  const dithered =
    recipe.format.bits !== "32f" && recipe.format.bits !== "32" && bitsShrink(job, sampleRate, gainDb, ceilingDbtp);
  for (let attempt = 1; ; attempt++) {
    const pass = await writePass(job, { format, gainDb, ceilingDbtp, dithered }, target, options, attempt);
    const missing =
      spec && ceilingDbtp !== null ? gainToTarget({ ...spec, keepWithinRange: false }, pass.integratedLufs) : 0;
    if (Math.abs(missing) > TOLERANCE_LU && attempt < MAX_ATTEMPTS) {
      gainDb += missing;
      continue;
    }
    const { figures, curves } = await measureFile(await target.readBack(), layout, (fraction) =>
      options.onProgress?.({ stage: "measuring the file", fraction }),
    );
    const over = spec && ceilingDbtp !== null ? (figures.truePeakDbtp ?? -Infinity) - spec.ceilingDbtp : 0;
    if (over > 0 && ceilingDbtp !== null && attempt < MAX_ATTEMPTS) {
      ceilingDbtp -= over + 0.01;
      continue;
    }
    await pass.writer.describe({ ...identity(job), loudness: figures });
    if (spec && Math.abs(missing) > 0.05)
      warnings.push(`The loudness could not be brought nearer to its target than ${Math.abs(missing).toFixed(2)} LU.`);
    if (pass.limitingDb > AUDIBLE_LIMITING_DB) {
      warnings.push(
        `The limiter cuts up to ${pass.limitingDb.toFixed(1)} dB, which will be heard. Lower the highest peaks, or compress, before delivering.`,
      );
    }
    return {
      figures,
      curves,
      verdict: spec ? check(spec, figures) : null,
      gainDb,
      limiterCeilingDbtp: ceilingDbtp,
      limitingDb: pass.limitingDb,
      attempts: attempt,
      dithered,
      warnings,
    };
  }
}

const identity = (job: MasterJob) => ({
  description: job.title,
  originator: "Resonum",
  originatorReference: job.recipe.spec ?? "",
  // No clock in the core: the same recipe gives the same bytes at any time.
  date: "",
  time: "",
});

function bitsShrink(job: MasterJob, sampleRate: number, gainDb: number, ceilingDbtp: number | null): boolean {
  const same =
    isUntouched(job.recipe) &&
    sampleRate === job.source.sampleRate &&
    gainDb === 0 &&
    ceilingDbtp === null &&
    !job.pieces;
  return !(same && job.sourceBits !== null && job.sourceBits <= Number(job.recipe.format.bits));
}

const isUntouched = ({ chain, repairs }: Recipe): boolean =>
  chain.every((entry) => entry.bypass) && !repairs.some(isAtWork);

/** Chain and sample-rate conversion: all that comes before the normaliser. */
function stagesBefore(job: MasterJob, sampleRate: number): Stage[] {
  const { source, layout, recipe } = job;
  const chain = new ChainStage(recipe.chain, { sampleRate: source.sampleRate, layout });
  const stages: Stage[] = [checked(chain)];
  if (sampleRate !== source.sampleRate) stages.push(new ResampleStage(source.sampleRate, sampleRate, source.channels));
  return stages;
}

/** A master is never made with a processor that failed. @throws Error that names it */
function checked(chain: ChainStage): Stage {
  const sound = (block: Planar): Planar => {
    const [failure] = chain.failures;
    if (failure) throw new Error(`${failure.why} Bypass it or change its settings, and render again.`);
    return block;
  };
  return { push: (block) => sound(chain.push(block)), finish: () => sound(chain.finish()) };
}

async function measureBefore(job: MasterJob, sampleRate: number, options: MasterOptions) {
  const nothingBefore = isUntouched(job.recipe) && sampleRate === job.source.sampleRate;
  if (job.known && nothingBefore && !job.pieces) return job.known;
  const measurer = new Measurer({ sampleRate, layout: job.layout });
  await stream(job.source, stagesBefore(job, sampleRate), (block) => measurer.process(block), {
    cancellation: options.cancellation,
    onProgress: (fraction) => options.onProgress?.({ stage: "measuring", fraction }),
  });
  return measurer.result();
}

interface PassSettings {
  format: StreamFormat;
  gainDb: Decibels;
  ceilingDbtp: number | null;
  dithered: boolean;
}

/** One render into the target. */
async function writePass(
  job: MasterJob,
  settings: PassSettings,
  target: MasterTarget,
  options: MasterOptions,
  attempt: number,
) {
  const { format, gainDb, ceilingDbtp, dithered } = settings;
  const { bits } = job.recipe.format;
  const delivery: ChainEntry[] = [{ type: "gain", bypass: gainDb === 0, gainDb }];
  if (ceilingDbtp !== null) delivery.push({ type: "limiter", id: "delivery", bypass: false, ceilingDbtp });
  const last = new ChainStage(delivery, format);
  const writer = await WavWriter.open(await target.open(), { ...format, format: bits, broadcast: identity(job) });
  const quantiser =
    bits === "32f" ? null : new Quantiser(job.layout.speakers.length, Number(bits) as 16 | 24 | 32, dithered);
  const loudness = new RunningLoudness(format);
  await stream(
    job.source,
    [...stagesBefore(job, format.sampleRate), last],
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
    integratedLufs: finiteOrNull(integrated),
    limitingDb: Math.max(0, ...(last.takeReductions()["delivery"] ?? [])),
  };
}

/** Measures a sound file as it lies in storage. `layout` overrules what the file says. */
export async function measureFile(
  source: ByteSource,
  layout: Layout,
  onProgress?: (fraction: number) => void,
): Promise<{ figures: Figures; curves: Curves }> {
  const file = await openSoundFile(source);
  if (!file) throw new Error("The rendered file cannot be read back.");
  return measureSource(file, layout, { onProgress });
}
