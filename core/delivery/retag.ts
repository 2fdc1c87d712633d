/** A master, or a stretch of it, with other tags: its samples as they lie in the file, behind another header. */
import type { ByteSink } from "../files/bytes";
import { Quantiser } from "../dsp/quantise";
import { openMasterWriter, writtenDepth, type MasterWriter } from "../files/master-writer";
import type { SoundFile } from "../files/sound-file";
import type { Tags } from "../files/tags";
import type { Figures } from "../measure";
import type { Layout } from "../audio/layout";
import type { StreamRange } from "../audio/stage";
import type { Frames, Seconds } from "../audio/units";
import { fadeGain, newFade } from "../programme/fade";
import { broadcastOf } from "./write-master";
import { masterLayout } from "./render-plan";
import type { Recipe } from "./recipe";
import { Cancelled, type Cancellation } from "../audio/cancellation";

interface Work {
  recipe: Recipe;
  /** Of the recording. */
  layout: Layout;
  tags: Tags;
  cancellation?: Cancellation;
}

export interface Retagging extends Work {
  /** As they were measured on the file: the sound is the same. */
  figures: Figures;
}

const FRAMES_AT_ONCE = 65_536;

const writerFor = (file: SoundFile, sink: ByteSink, { recipe, layout, tags }: Work, frames: Frames) =>
  openMasterWriter(sink, {
    container: recipe.format.container,
    depth: recipe.format.bitDepth,
    sampleRate: file.sampleRate,
    layout: masterLayout(recipe, layout),
    frames,
    tags,
    broadcast: broadcastOf(tags, recipe, file.sampleRate),
  });

/** Goes through a stretch in pieces. @throws Cancelled */
async function eachPiece(
  { start, end }: StreamRange,
  { cancellation }: Work,
  each: (at: Frames, count: Frames) => Promise<void>,
): Promise<void> {
  for (let at = start; at < end; at += FRAMES_AT_ONCE) {
    if (cancellation?.aborted) throw new Cancelled();
    await each(at, Math.min(FRAMES_AT_ONCE, end - at));
  }
}

const copyFrames = (file: SoundFile, writer: MasterWriter, range: StreamRange, work: Work): Promise<void> =>
  eachPiece(range, work, async (at, count) => writer.writeEncoded(await file.readEncoded(at, count)));

/** How a stretch comes and goes. */
interface Fades {
  fadeInSeconds?: Seconds | undefined;
  fadeOutSeconds?: Seconds | undefined;
}

/** Writes frames of a stretch of `whole` at gains that rise and fall, rounded as the recipe says. */
async function writeFaded(
  file: SoundFile,
  writer: MasterWriter,
  range: StreamRange,
  whole: StreamRange,
  work: Work & Fades,
): Promise<void> {
  const { container, bitDepth, dither, keepSilence } = work.recipe.format;
  const { sampleRate } = file;
  const depth = writtenDepth(container, bitDepth);
  const quantiser =
    depth === "32f"
      ? null
      : new Quantiser(file.channels, Number(depth) as 16 | 24 | 32, {
          dither: depth === "32" ? "none" : dither,
          sampleRate,
          keepSilence,
        });
  const gainAt = (distance: Frames, seconds: Seconds | undefined) =>
    seconds ? fadeGain(newFade(seconds), (distance + 0.5) / (seconds * sampleRate)) : 1;
  await eachPiece(range, work, async (at, count) => {
    const block = await file.read(at, count);
    for (let i = 0; i < count; i++) {
      const gain =
        gainAt(at + i - whole.start, work.fadeInSeconds) * gainAt(whole.end - 1 - at - i, work.fadeOutSeconds);
      for (const samples of block) samples[i]! *= gain;
    }
    if (quantiser) await writer.writeIntegers(quantiser.next(block), count);
    else await writer.writeFloat(block, count);
  });
}

/** Writes the bytes that a render with these tags gives. @param file the master, of a container that the core writes */
export async function writeWithTags(file: SoundFile, sink: ByteSink, retagging: Retagging): Promise<void> {
  const writer = await writerFor(file, sink, retagging, file.frames);
  await copyFrames(file, writer, { start: 0, end: file.frames }, retagging);
  await writer.finish();
  await writer.describe?.({
    ...broadcastOf(retagging.tags, retagging.recipe, file.sampleRate),
    loudness: retagging.figures,
  });
}

/**
 * Writes a stretch of a master as a file of its own: the very samples that it has there, but for those that fade.
 * @param file the sound of the master, before anything encoded it
 * @returns what has to be told the figures, once they are measured
 */
export async function writeCut(
  file: SoundFile,
  sink: ByteSink,
  range: StreamRange,
  work: Work & Fades,
): Promise<(figures: Figures) => Promise<void>> {
  const { start, end } = range;
  const writer = await writerFor(file, sink, work, end - start);
  const framesOf = (seconds: Seconds = 0) => Math.min(end - start, Math.round(seconds * file.sampleRate));
  const [risen, falls] = [start + framesOf(work.fadeInSeconds), end - framesOf(work.fadeOutSeconds)];
  const copied = risen < falls ? { start: risen, end: falls } : { start: end, end };
  await writeFaded(file, writer, { start, end: copied.start }, range, work);
  await copyFrames(file, writer, copied, work);
  await writeFaded(file, writer, { start: copied.end, end }, range, work);
  await writer.finish();
  return async (figures) =>
    writer.describe?.({ ...broadcastOf(work.tags, work.recipe, file.sampleRate), loudness: figures });
}
