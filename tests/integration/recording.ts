/** A recording as intake leaves it, for tests of what is done with recordings: its sound, its overview, its figures. */
import { CORE_VERSION } from "@core/audio/core-version";
import { layoutForChannels } from "@core/audio/layout";
import { framesOf, type Planar } from "@core/audio/units";
import { prepareRecording } from "@server/ingest/ingest";
import { rows } from "@server/db/database";
import { blobs } from "@server/storage/blobs";

export async function addRecording(
  name: string,
  block: Planar,
  sampleRate: number,
): Promise<{ hash: string; pcmHash: string }> {
  const layout = layoutForChannels(block.length);
  const drafts = { pcm: await blobs.draft(), overview: await blobs.draft() };
  const recording = {
    container: "WAV",
    encoding: "32-bit float",
    bits: null,
    sampleRate,
    channels: block.length,
    layout,
    expectedFrames: framesOf(block),
    warnings: [],
    async *blocks() {
      yield block;
      return [];
    },
  };
  const never = new AbortController().signal;
  const { figures } = await prepareRecording(recording as never, layout, drafts, never, () => undefined);
  const [pcm, overview] = [await drafts.pcm.commit(), await drafts.overview.commit()];
  await rows(
    `insert into source (hash, name, bytes, state, layout, pcm_hash, overview_hash, figures, core_version)
     values ($1, $2, 1, 'ready', $3, $1, $4, $5, $6) on conflict do nothing`,
    [pcm.hash, name, JSON.stringify(layout), overview.hash, JSON.stringify(figures), CORE_VERSION],
  );
  return { hash: pcm.hash, pcmHash: pcm.hash };
}
