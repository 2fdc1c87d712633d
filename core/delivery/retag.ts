/** A master with other tags: its samples as they lie in the file, behind a header that says what is said of it now. */
import type { ByteSink } from "../files/bytes";
import { openMasterWriter } from "../files/master-writer";
import type { SoundFile } from "../files/sound-file";
import type { Tags } from "../files/tags";
import type { Figures } from "../measure";
import type { Layout } from "../audio/layout";
import { broadcastOf } from "./write-master";
import { masterLayout } from "./render-plan";
import type { Recipe } from "./recipe";
import { Cancelled, type Cancellation } from "../audio/cancellation";

export interface Retagging {
  recipe: Recipe;
  /** Of the recording. */
  layout: Layout;
  tags: Tags;
  /** As they were measured on the file: the sound is the same. */
  figures: Figures;
  cancellation?: Cancellation;
}

const FRAMES_AT_ONCE = 65_536;

/** Writes the bytes that a render with these tags gives. @param file the master, of a container that the core writes */
export async function writeWithTags(file: SoundFile, sink: ByteSink, retagging: Retagging): Promise<void> {
  const { recipe, layout, tags, figures, cancellation } = retagging;
  const { container, bitDepth } = recipe.format;
  const broadcast = broadcastOf(tags, recipe);
  const writer = await openMasterWriter(sink, {
    container,
    depth: bitDepth,
    sampleRate: file.sampleRate,
    layout: masterLayout(recipe, layout),
    frames: file.frames,
    tags,
    broadcast,
  });
  for (let at = 0; at < file.frames; at += FRAMES_AT_ONCE) {
    if (cancellation?.aborted) throw new Cancelled();
    await writer.writeEncoded(await file.readEncoded(at, FRAMES_AT_ONCE));
  }
  await writer.finish();
  await writer.describe?.({ ...broadcast, loudness: figures });
}
