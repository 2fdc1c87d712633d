/** The job that reads a recording: its sound as float, its overview and its figures, in one pass. */
import type pg from "pg";
import { FileProblem } from "@core/files/bytes";
import { CORE_VERSION } from "@core/audio/core-version";
import { Cancelled } from "@core/audio/cancellation";
import { blobs } from "../storage/blobs";
import { rows, transaction, type Queryable } from "../db/database";
import { ProgressPublisher, publish } from "../db/notifications";
import { openRecording, prepareRecording } from "./ingest";
import { enqueueSearch } from "./search-events";
import type { JobContext } from "../queue/job-runner";
import { log } from "../log";
import { editWithin, headOf, projectsUsing } from "../projects/projects";
import { addingCommand, sourceOf } from "../projects/sources";
import { emitWebhookEvent } from "../webhooks/webhooks";
import { explainDiskFull } from "../storage/free-space";

/** The job: reads the original, writes sound and overview, measures. Safe to run again at any time. */
export async function prepareSource({ subject: hash, signal, progress, end }: JobContext): Promise<void> {
  const source = await sourceOf(hash);
  await rows("update source set state = 'preparing' where hash = $1", [hash]);
  const teller = new ProgressPublisher(
    (told) => void publish({ topic: "source", hash, state: "preparing", progress: told }).catch(() => undefined),
  );
  const drafts = { pcm: await blobs.draft(), overview: await blobs.draft() };
  const original = await blobs.open(hash);
  try {
    const recording = await openRecording(original, await blobs.fileOf(hash), source.track);
    const chosen = source.layout_chosen ? source.layout : null;
    const prepared = await prepareRecording(recording, chosen, drafts, signal, (fraction, sketch) => {
      progress("reading and measuring", fraction);
      teller.tell("reading and measuring", fraction, () => ({ sketch: sketch.text() }));
    });
    const pcm = await drafts.pcm.commit();
    const overview = await drafts.overview.commit();
    await transaction(async (client) => {
      await end(client);
      await client.query(
        `update source set state = 'ready', problem = null, container = $2, encoding = $3, bits = $4, layout = $5,
           pcm_hash = $6, overview_hash = $7, figures = $8, warnings = $9, core_version = $10,
           start_seconds = $11, tracks = $12 where hash = $1`,
        [
          hash,
          recording.container,
          recording.encoding,
          recording.bits,
          JSON.stringify(prepared.layout),
          pcm.hash,
          overview.hash,
          JSON.stringify(prepared.figures),
          JSON.stringify(prepared.warnings),
          CORE_VERSION,
          recording.startSeconds ?? null,
          recording.tracks ? JSON.stringify(recording.tracks) : null,
        ],
      );
      if (source.pcm_hash === null) await addMissingItems(hash, client);
      await client.query("update source set events = null, events_version = null where hash = $1", [hash]);
      await enqueueSearch(hash, prepared.figures, (await projectsUsing(hash))[0] ?? null, client);
      await publish({ topic: "source", hash, state: "ready" }, client);
      await tellMeasured(hash, { name: source.name, figures: prepared.figures, problem: null }, client);
    });
    log.info({ source: hash.slice(0, 12), frames: prepared.figures.frames }, "prepared");
  } catch (error) {
    if (error instanceof Cancelled || signal.aborted) throw error;
    if (!(error instanceof FileProblem)) throw explainDiskFull(error as Error);
    // Trying again gives the same: this is the file's own trouble.
    await transaction(async (client) => {
      await end(client);
      await preparationFailed(hash, error.message, client);
      await removeItemsOf(hash, client);
    });
  } finally {
    await original.close();
    await drafts.pcm.discard();
    await drafts.overview.discard();
  }
}

/** Tells whoever listens, for each project with it. */
async function tellMeasured(hash: string, about: Record<string, unknown>, client: Queryable): Promise<void> {
  for (const project of await projectsUsing(hash))
    await emitWebhookEvent("recording.measured", project, { recording: hash, ...about }, client);
}

/** Says why a recording could not be read. */
export async function preparationFailed(hash: string, why: string, client: Queryable): Promise<void> {
  await client.query("update source set state = 'failed', problem = $2 where hash = $1", [hash, why]);
  await publish({ topic: "source", hash, state: "failed" }, client);
  await tellMeasured(hash, { figures: null, problem: why }, client);
}

/** An unreadable file is no item: those that were made of it when it arrived are taken out again. */
async function removeItemsOf(hash: string, client: pg.PoolClient): Promise<void> {
  for (const project of await projectsUsing(hash)) {
    const { document } = await headOf(project, client);
    for (const { id, source } of document.items)
      if (source === hash)
        await editWithin(client, project, { base: null, command: { type: "removeItem", item: id }, author: "intake" });
  }
}

/** What could not be read at first becomes an item once it can. */
async function addMissingItems(hash: string, client: pg.PoolClient): Promise<void> {
  for (const project of await projectsUsing(hash)) {
    const { document } = await headOf(project, client);
    const source = document.sources.find((one) => one.hash === hash);
    if (!source || document.items.some((item) => item.source === hash)) continue;
    const command = addingCommand(hash, source.name);
    await editWithin(client, project, { base: null, command, author: "intake" });
  }
}
