/**
 * How far encoding with loss lifts the true peak of a sound, measured without encoding all of it: the second around each
 * of its highest peaks goes through gain, limiter and encoder, and is measured as it is decoded.
 */
import { stream } from "../audio/stage";
import type { Decibels, Seconds } from "../audio/units";
import { framesOfClip } from "../edit-list/clip";
import type { ByteSource } from "../files/bytes";
import { openSoundFile } from "../files/open";
import { Measurer, type Curves } from "../measure";
import type { EncodingOvershoot } from "./encoding-overshoot";
import { excerptClips } from "./loudest-excerpts";
import type { MasterOptions, MasterTarget } from "./master-job";
import { conversionStages, planOf, type RenderPlan } from "./render-plan";
import { measureFile } from "./verify-master";
import { writeMaster } from "./write-master";

/** Limited peaks lie closer to each other, so that more of them are lifted: it is measured at these depths. */
const LIMITING_DB: readonly Decibels[] = [0, 3, 8];
/** Sounds are encoded where masters have their peaks: what a codec adds goes with the level. */
const REFERENCE_CEILING_DBTP = -1;

/** Margin for what the excerpts do not show of the whole. */
const MARGIN_DB: Decibels = 0.25;
/** The first room under the ceiling, before anything is known of the encoder. */
const FIRST_ROOM_DB: Decibels = 0.5;
/** The room is corrected so often. */
const TRIALS = 3;

/** A master of the loudest excerpts alone, its chain and cuts done. */
function excerptPlan({ job, processed }: RenderPlan, { samplePeakDbfs }: Curves): RenderPlan {
  const clips = excerptClips(samplePeakDbfs, processed);
  return planOf({ ...job, source: processed, clips, recipe: { ...job.recipe, repairs: [], chain: [] } });
}

async function truePeakBefore(plan: RenderPlan): Promise<number | null> {
  const measurer = new Measurer(plan.format);
  await stream(plan.processed, conversionStages(plan), (block) => measurer.process(block));
  return measurer.result().figures.truePeakDbtp;
}

async function encodedTruePeak(
  plan: RenderPlan,
  settings: { gainDb: Decibels; limiterCeilingDbtp: number | null },
  target: MasterTarget,
  options: MasterOptions,
): Promise<number> {
  await writeMaster(plan, { ...settings, levelling: null }, target, { cancellation: options.cancellation });
  await target.encode?.();
  return peakWithinExcerpts(plan, await target.readBack());
}

/** Without the ends of each: there sound begins and ends at once, which encoders answer with peaks that the whole has not. */
const END_SECONDS: Seconds = 0.1;

async function peakWithinExcerpts({ job: { clips, source }, format }: RenderPlan, bytes: ByteSource): Promise<number> {
  if (!clips) return (await measureFile(bytes, format.layout)).figures.truePeakDbtp ?? -Infinity;
  const file = (await openSoundFile(bytes))!;
  const end = Math.round(END_SECONDS * file.sampleRate);
  let [at, peak] = [0, -Infinity];
  for (const clip of clips) {
    const length = Math.round((framesOfClip(clip) * file.sampleRate) / source.sampleRate);
    const measurer = new Measurer({ ...format, sampleRate: file.sampleRate });
    measurer.process(await file.read(at + end, length - 2 * end));
    peak = Math.max(peak, measurer.result().figures.truePeakDbtp ?? -Infinity);
    at += length;
  }
  return peak;
}

/**
 * Overshoot of a sound that is encoded as `plan` says.
 * @param curves of the sound after its chain; the sample peaks tell where it is highest
 * @param target that encodes; what was written to it is forgotten
 * @returns `null` for silence
 */
export async function measureOvershoot(
  plan: RenderPlan,
  curves: Curves,
  target: MasterTarget,
  options: MasterOptions = {},
): Promise<EncodingOvershoot | null> {
  const excerpts = excerptPlan(plan, curves);
  const before = await truePeakBefore(excerpts);
  if (before === null || !Number.isFinite(before)) return null;
  const overshootDb: Decibels[] = [];
  for (const depth of LIMITING_DB) {
    const settings = {
      gainDb: REFERENCE_CEILING_DBTP - before + depth,
      limiterCeilingDbtp: depth > 0 ? REFERENCE_CEILING_DBTP : null,
    };
    overshootDb.push((await encodedTruePeak(excerpts, settings, target, options)) - REFERENCE_CEILING_DBTP);
  }
  return { limitingDb: LIMITING_DB, overshootDb };
}

/** Gain, and the limiter's ceiling, with so much room for the encoder under the one of the spec. */
export type SettingsFor = (roomDb: Decibels) => { gainDb: Decibels; limiterCeilingDbtp: number | null };

/**
 * Room that a limiter leaves under a ceiling, so that what is encoded keeps below it: found on the loudest excerpts.
 * @param ceilingDbtp that the decoded file is to keep
 */
export async function encoderRoom(
  plan: RenderPlan,
  curves: Curves,
  ceilingDbtp: number,
  settingsFor: SettingsFor,
  target: MasterTarget,
  options: MasterOptions,
): Promise<Decibels> {
  // Under a picture the whole is encoded at once.
  if (!target.encode || plan.job.recipe.format.container === "video") return FIRST_ROOM_DB;
  const excerpts = excerptPlan(plan, curves);
  let roomDb = FIRST_ROOM_DB;
  for (let trial = 0; trial < TRIALS; trial++) {
    options.onProgress?.({ stage: "trying the encoder", fraction: trial / TRIALS });
    const settings = settingsFor(roomDb);
    const overDb = (await encodedTruePeak(excerpts, settings, target, options)) - ceilingDbtp + MARGIN_DB;
    const isInside = overDb <= 0 && (settings.limiterCeilingDbtp === null || overDb >= -MARGIN_DB || roomDb === 0);
    if (isInside) break;
    roomDb = Math.max(0, roomDb + overDb);
  }
  return roomDb;
}
