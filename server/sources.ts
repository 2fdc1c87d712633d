import { rm } from "node:fs/promises";
import { FileProblem } from "@core/files/bytes";
import { CORE_VERSION } from "@core/render/recipe";
import { Cancelled } from "@core/render/stage";
import type { Source } from "@core/project/views";
import { layoutSchema, type Layout } from "@core/signal/layout";
import { blobs } from "./blobs";
import { row, rows, transaction } from "./database";
import { ProgressTeller, tell } from "./events";
import { openRecording, prepareRecording } from "./intake";
import { log } from "./log";
import { notFound, Problem } from "./problem";
import { cancelJobs, enqueue } from "./queue";
import { withSpaceExplained } from "./space";

/** Figures that an older core made are as good as none: they are being made anew. */
const SELECT = "select *, case when core_version = $2 then figures end as figures from source";

export const findSources = (hashes: string[]): Promise<Source[]> =>
  rows<Source>(`${SELECT} where hash = any($1)`, [hashes, CORE_VERSION]);

export async function sourceOf(hash: string): Promise<Source> {
  const source = await row<Source>(`${SELECT} where hash = $1`, [hash, CORE_VERSION]);
  if (!source) throw notFound("recording");
  return source;
}

/** Takes a finished upload over and has it prepared, unless the same bytes are here already. */
export async function adoptSource(path: string, hash: string, name: string, bytes: number): Promise<void> {
  await blobs.adopt(path, hash);
  await rm(path, { force: true });
  const added = await row(
    "insert into source (hash, name, bytes) values ($1, $2, $3) on conflict do nothing returning hash",
    [hash, name, bytes],
  );
  const source = await sourceOf(hash);
  if (added || source.state === "failed") await prepareAgain(hash);
}

/** Puts a recording in the queue to be read and measured. */
export async function prepareAgain(hash: string): Promise<void> {
  await cancelJobs("prepare", hash);
  await rows("update source set state = 'waiting', problem = null where hash = $1", [hash]);
  await enqueue("prepare", hash);
  await tell({ topic: "source", hash, state: "waiting" });
}

export async function cancelPreparing(hash: string): Promise<void> {
  await cancelJobs("prepare", hash);
  await rows("update source set state = 'failed', problem = $2 where hash = $1 and state in ('waiting', 'preparing')", [
    hash,
    "Reading was cancelled. The original is kept; it can be read again at any time.",
  ]);
  await tell({ topic: "source", hash, state: "failed" });
}

/** Sets which channel is which, and measures anew: figures depend on it. */
export async function chooseLayout(hash: string, layout: Layout): Promise<void> {
  const source = await sourceOf(hash);
  const channels = source.figures?.channels;
  if (channels !== undefined && channels !== layout.speakers.length)
    throw new Problem(
      422,
      "Layout does not fit",
      `${layout.name} has ${layout.speakers.length} channels; the recording has ${channels}.`,
    );
  await rows("update source set layout = $2, layout_chosen = true where hash = $1", [
    hash,
    JSON.stringify(layoutSchema.parse(layout)),
  ]);
  await prepareAgain(hash);
}

/** The job: reads the original, writes sound and overview, measures. Safe to run again at any time. */
export async function prepareSource(hash: string, signal: AbortSignal): Promise<void> {
  const source = await sourceOf(hash);
  await rows("update source set state = 'preparing' where hash = $1", [hash]);
  const teller = new ProgressTeller(
    (progress) => void tell({ topic: "source", hash, state: "preparing", progress }).catch(() => undefined),
  );
  const drafts = { pcm: await blobs.draft(), overview: await blobs.draft() };
  const original = await blobs.open(hash);
  try {
    const recording = await openRecording(original, await blobs.fileOf(hash));
    const chosen = source.layout_chosen ? source.layout : null;
    const prepared = await prepareRecording(recording, chosen, drafts, signal, (fraction) =>
      teller.tell("reading and measuring", fraction),
    );
    const pcm = await drafts.pcm.commit();
    const overview = await drafts.overview.commit();
    if (signal.aborted) throw new Cancelled();
    await transaction(async (client) => {
      await client.query(
        `update source set state = 'ready', problem = null, container = $2, encoding = $3, bits = $4, layout = $5,
           pcm_hash = $6, overview_hash = $7, figures = $8, warnings = $9, core_version = $10 where hash = $1`,
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
        ],
      );
      await tell({ topic: "source", hash, state: "ready" }, client);
    });
    log.info({ source: hash.slice(0, 12), frames: prepared.figures.frames }, "prepared");
  } catch (error) {
    if (error instanceof Cancelled || signal.aborted) throw error;
    if (!(error instanceof FileProblem)) throw withSpaceExplained(error as Error);
    // Trying again gives the same: this is the file's own trouble.
    await rows("update source set state = 'failed', problem = $2 where hash = $1", [hash, error.message]);
    await tell({ topic: "source", hash, state: "failed" });
  } finally {
    await original.close();
    await drafts.pcm.discard();
    await drafts.overview.discard();
  }
}

/** Has the recordings read again whose figures an older core made. */
export async function prepareOutdated(): Promise<void> {
  const outdated = await rows<{ hash: string }>(
    "select hash from source where state = 'ready' and core_version is distinct from $1",
    [CORE_VERSION],
  );
  for (const { hash } of outdated) await prepareAgain(hash);
}

/** The last word on a job that was tried as often as allowed. */
export async function preparingFailed(hash: string, message: string): Promise<void> {
  await rows("update source set state = 'failed', problem = $2 where hash = $1 and state <> 'ready'", [hash, message]);
  await tell({ topic: "source", hash, state: "failed" });
}
