/** Looks recordings through for clicks, mouth noise, breaths and plosives, once, while nothing else is to be done. */
import { searchEvents } from "@core/events/sought-events";
import { CORE_VERSION } from "@core/audio/core-version";
import { openSoundFile } from "@core/files/open";
import type { Figures } from "@core/measure";
import { rows, transaction, type Queryable } from "../db/database";
import { publish } from "../db/notifications";
import { sourceOf } from "../projects/sources";
import type { JobContext } from "../queue/job-runner";
import { BACKGROUND, enqueue } from "../queue/queue";
import { withBlob } from "../storage/blobs";

/** Seconds of channels; what is longer is looked through only where a person asks for it, in Repair. */
const MOST_CHANNEL_SECONDS = 6 * 3600;
const MOSTLY_SPEECH_PERCENT = 40;
/** Seconds of a worker for each second of a channel. */
const COST = 1 / 14;

type Sought = Pick<Figures, "durationSeconds" | "channels">;

/** Puts a recording that was read in the queue to be looked through, behind everything that somebody waits for. */
export async function enqueueSearch(hash: string, figures: Sought, project: string | null, client: Queryable) {
  const channelSeconds = figures.durationSeconds * figures.channels;
  if (channelSeconds > MOST_CHANNEL_SECONDS) return;
  const costSeconds = 1 + channelSeconds * COST;
  await enqueue({ queue: "search", subject: hash, project, costSeconds, priority: BACKGROUND }, client);
}

/** Recordings that were read and never looked through: those that came before there was a search. */
export async function enqueueMissingSearches(client: Queryable): Promise<void> {
  const missing = await rows<{ hash: string; figures: Figures; project_id: string | null }>(
    `select hash, figures, (select project_id from project_blob p where p.hash = source.hash limit 1) as project_id
     from source where state = 'ready' and figures is not null and events_version is null
       and (figures->>'durationSeconds')::float8 * (figures->>'channels')::float8 <= ${MOST_CHANNEL_SECONDS}
       and not exists (select 1 from job where queue = 'search' and subject = source.hash)`,
    [],
    client,
  );
  for (const { hash, figures, project_id } of missing) await enqueueSearch(hash, figures, project_id, client);
}

/** The job. Safe to run again at any time. */
export async function searchEventsJob({ subject: hash, signal, progress, end }: JobContext): Promise<void> {
  const { pcm_hash, figures } = await sourceOf(hash);
  if (!pcm_hash || !figures) return; // being read anew: it is put in the queue again then
  const events = await withBlob(pcm_hash, async (bytes) =>
    searchEvents((await openSoundFile(bytes))!, figures.dialoguePercent > MOSTLY_SPEECH_PERCENT, {
      cancellation: signal,
      onProgress: (fraction) => progress("looking for clicks and breaths", fraction),
    }),
  );
  await transaction(async (client) => {
    await end(client);
    await client.query("update source set events = $2, events_version = $3 where hash = $1", [
      hash,
      JSON.stringify(events),
      CORE_VERSION,
    ]);
    await publish({ topic: "source", hash, state: "ready" }, client);
  });
}

/** Nothing is told of what could not be looked through; it is not tried again. */
export async function searchEventsFailed(hash: string, _why: string, client: Queryable): Promise<void> {
  await client.query("update source set events_version = $2 where hash = $1", [hash, CORE_VERSION]);
}
