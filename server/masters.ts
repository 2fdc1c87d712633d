import { deliverableInForce, itemOf } from "@core/project/document";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import type { Master } from "@core/project/views";
import { openSoundFile } from "@core/files/open";
import { readCurves, readOverviewHeader } from "@core/files/overview-file";
import { renderMaster } from "@core/render/master";
import { Cancelled } from "@core/render/stage";
import { blobs, withBlob } from "./blobs";
import { row, rows, transaction } from "./database";
import { ProgressTeller, tell } from "./events";
import { log } from "./log";
import { notFound, Problem } from "./problem";
import { openProject } from "./projects";
import { cancelJobs, enqueue } from "./queue";
import { sourceOf, withSpaceExplained } from "./sources";

export const mastersOf = (project: string): Promise<Master[]> =>
  rows<Master>("select * from master where project_id = $1 order by requested_at desc", [project]);

export async function masterOf(id: string): Promise<Master> {
  const master = await row<Master>("select * from master where id = $1", [id]);
  if (!master) throw notFound("master");
  return master;
}

/** Asks for the master of an item and a deliverable as they are now; gives the one there is when nothing changed. */
export async function requestMaster(project: string, itemId: string, deliverableId: string): Promise<Master> {
  const { document } = await openProject(project);
  const item = itemOf(document, itemId);
  const deliverable = document.deliverables.find(({ id }) => id === deliverableId);
  if (!item || !deliverable || !deliverableInForce(document)) throw notFound("item or deliverable");
  const source = await sourceOf(item.source);
  if (source.state !== "ready" || !source.layout)
    throw new Problem(
      422,
      "Not ready",
      `“${item.name}” is still being read${source.problem ? `: ${source.problem}` : ""}.`,
    );
  const inputs = masterInputs(document, item, deliverable, source.layout);
  const key = masterKey(inputs);
  const asked = await transaction(async (client) => {
    const found = await row<Master>(
      `insert into master (project_id, item_id, deliverable_id, key, inputs) values ($1, $2, $3, $4, $5)
       on conflict (project_id, item_id, deliverable_id, md5(key)) do update set requested_at = now()
       returning *, (xmax = 0) as created`,
      [project, itemId, deliverableId, key, JSON.stringify(inputs)],
      client,
    );
    const master = found as Master & { created: boolean };
    if (!master.created && master.state !== "failed" && master.state !== "cancelled") return { master, fresh: false };
    await client.query("update master set state = 'waiting', problem = null where id = $1", [master.id]);
    await tell({ topic: "master", project, master: master.id, state: "waiting" }, client);
    return { master: { ...master, state: "waiting" as const }, fresh: true };
  });
  // Only now: a worker must find the row when it takes the job.
  if (asked.fresh) await enqueue("render", asked.master.id);
  return asked.master;
}

export async function cancelMaster(id: string): Promise<void> {
  const { project_id } = await masterOf(id);
  await cancelJobs("render", id);
  await rows("update master set state = 'cancelled' where id = $1 and state in ('waiting', 'rendering')", [id]);
  await tell({ topic: "master", project: project_id, master: id, state: "cancelled" });
}

/** The job: renders, reads back, measures. Safe to run again: the same inputs give the same bytes. */
export async function renderMasterJob(id: string, signal: AbortSignal): Promise<void> {
  const master = await masterOf(id);
  if (master.state === "done") return;
  const { inputs, project_id: project } = master;
  await rows("update master set state = 'rendering' where id = $1", [id]);
  const source = await sourceOf(inputs.source);
  if (!source.pcm_hash || !source.overview_hash || !source.figures) throw new Error("The recording is not prepared.");
  const teller = new ProgressTeller(
    (progress) =>
      void tell({ topic: "master", project, master: id, state: "rendering", progress }).catch(() => undefined),
  );
  const curves = await withBlob(source.overview_hash, async (bytes) =>
    readCurves(bytes, await readOverviewHeader(bytes)),
  );
  const pcm = await blobs.open(source.pcm_hash);
  const draft = await blobs.draft();
  const opened: { close(): Promise<void> }[] = [];
  try {
    const file = (await openSoundFile(pcm))!;
    const { curves: _, ...result } = await renderMaster(
      {
        source: file,
        layout: inputs.layout,
        sourceBits: source.bits,
        pieces: inputs.pieces,
        recipe: inputs.recipe,
        title: inputs.title,
        known: { figures: source.figures, curves },
      },
      {
        open: () => draft.restart(),
        readBack: async () => {
          const reading = await draft.readBack();
          opened.push(reading);
          return reading;
        },
      },
      { cancellation: signal, onProgress: ({ stage, fraction }) => teller.tell(stage, fraction) },
    );
    const { hash, bytes } = await draft.commit();
    if (signal.aborted) throw new Cancelled();
    await transaction(async (client) => {
      await client.query(
        `update master set state = 'done', problem = null, file_hash = $2, file_bytes = $3, result = $4, finished_at = now()
         where id = $1 and state <> 'cancelled'`,
        [id, hash, bytes, JSON.stringify(result)],
      );
      await tell({ topic: "master", project, master: id, state: "done" }, client);
    });
    log.info({ master: id, pass: result.verdict?.pass, attempts: result.attempts }, "rendered");
  } catch (error) {
    throw withSpaceExplained(error as Error);
  } finally {
    await pcm.close();
    for (const reading of opened) await reading.close();
    await draft.discard();
  }
}

/** The last word on a render that was tried as often as allowed. */
export async function renderFailed(id: string, message: string): Promise<void> {
  const failed = await row<{ project_id: string }>(
    "update master set state = 'failed', problem = $2 where id = $1 and state in ('waiting', 'rendering') returning project_id",
    [id, message],
  );
  if (failed) await tell({ topic: "master", project: failed.project_id, master: id, state: "failed" });
}
