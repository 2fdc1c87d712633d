/** A master, or a stretch of it, with other tags: its samples as they lie in the file, behind another header. */
import type { ByteSink } from "../files/bytes";
import { openMasterWriter, type MasterWriter } from "../files/master-writer";
import type { SoundFile } from "../files/sound-file";
import type { Tags } from "../files/tags";
import type { Figures } from "../measure";
import type { Layout } from "../audio/layout";
import type { StreamRange } from "../audio/stage";
import type { Frames } from "../audio/units";
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
    broadcast: broadcastOf(tags, recipe),
  });

async function copyFrames(
  file: SoundFile,
  writer: MasterWriter,
  { start, end }: StreamRange,
  work: Work,
): Promise<void> {
  for (let at = start; at < end; at += FRAMES_AT_ONCE) {
    if (work.cancellation?.aborted) throw new Cancelled();
    await writer.writeEncoded(await file.readEncoded(at, Math.min(FRAMES_AT_ONCE, end - at)));
  }
  await writer.finish();
}

/** Writes the bytes that a render with these tags gives. @param file the master, of a container that the core writes */
export async function writeWithTags(file: SoundFile, sink: ByteSink, retagging: Retagging): Promise<void> {
  const writer = await writerFor(file, sink, retagging, file.frames);
  await copyFrames(file, writer, { start: 0, end: file.frames }, retagging);
  await writer.describe?.({ ...broadcastOf(retagging.tags, retagging.recipe), loudness: retagging.figures });
}

/**
 * Writes a stretch of a master as a file of its own: the very samples that it has there.
 * @param file the sound of the master, before anything encoded it
 * @returns what has to be told the figures, once they are measured
 */
export async function writeCut(
  file: SoundFile,
  sink: ByteSink,
  range: StreamRange,
  work: Work,
): Promise<(figures: Figures) => Promise<void>> {
  const writer = await writerFor(file, sink, work, range.end - range.start);
  await copyFrames(file, writer, range, work);
  return async (figures) => writer.describe?.({ ...broadcastOf(work.tags, work.recipe), loudness: figures });
}
