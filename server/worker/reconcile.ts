/** Sees to it that what is asked for and what the queue holds agree, whatever was interrupted in between. */
import type { Figures } from "@core/measure";
import { subjectOf } from "@core/project/subjects";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { knownRecordings } from "@core/project/views";
import { rows, transaction, type Queryable } from "../db/database";
import { publish } from "../db/notifications";
import { deliverDue } from "../delivery/automatic-delivery";
import { enqueueSubmission } from "../delivery/submission";
import { enqueueRender } from "../rendering/masters";
import { enqueueMissingSearches } from "../ingest/search-events";
import { openProject } from "../projects/projects";
import { emptyBin } from "../projects/shelves";
import { requestDueBackup } from "../operations/scheduled-backups";
import { dropJob } from "../queue/queue";
import { enqueuePreparation, findSources, prepareOutdated } from "../projects/sources";
import { sweep } from "../storage/sweeper";

const RECONCILE_LOCK = 0x5e51;
const SWEEP_EVERY_MS = 10 * 60_000;
let sweptAt = 0;

/** One worker at a time looks after everything. */
export async function reconcile(): Promise<void> {
  await transaction(async (client) => {
    const [turn] = await rows<{ mine: boolean }>(
      "select pg_try_advisory_xact_lock($1) as mine",
      [RECONCILE_LOCK],
      client,
    );
    if (!turn?.mine) return;
    await queueWhatWaits(client);
    await enqueueMissingSearches(client);
    await prepareOutdated();
    await cancelUnwantedJobs();
    await emptyBin(client);
    await requestDueBackup();
    await deliverDue();
    await client.query("delete from edit where made_at < now() - interval '30 days'");
  });
  if (Date.now() - sweptAt < SWEEP_EVERY_MS) return;
  sweptAt = Date.now();
  await sweep({ dryRun: false });
}

/** That a row has no job; rows and jobs change together, so one look at both tells what was left. */
const withoutJob = (queue: string, subject: string) =>
  `not exists (select 1 from job where job.queue = '${queue}' and job.subject = ${subject}::text)`;

/** What waits has a job: both are written together, but earlier versions did not. */
async function queueWhatWaits(client: Queryable): Promise<void> {
  const sources = await rows<{ hash: string; name: string; bytes: number }>(
    `select hash, name, bytes from source where state in ('waiting', 'preparing') and ${withoutJob("prepare", "hash")}`,
  );
  for (const source of sources) await enqueuePreparation(source, client);
  const masters = await rows<{ id: string; project_id: string; figures: Figures | null }>(
    `select master.id, project_id, figures from master left join source on source.hash = inputs->>'source'
     where master.state in ('waiting', 'rendering') and not inputs ? 'cut' and ${withoutJob("render", "master.id")}`,
  );
  // A file of a programme has no job of its own: where the whole is not under way, it is to be asked for again.
  await client.query(
    `update master set state = 'cancelled' where state in ('waiting', 'rendering') and inputs ? 'cut'
       and requested_at < now() - interval '30 seconds' and not exists (
         select 1 from master whole where whole.project_id = master.project_id and not whole.inputs ? 'cut'
           and whole.deliverable_id = master.deliverable_id and whole.state in ('waiting', 'rendering'))`,
  );
  for (const one of masters) await enqueueRender(one, one.figures, client);
  const submissions = await rows<{ id: string; project_id: string; count: number }>(
    `select id, project_id, coalesce(jsonb_array_length(masters), 1) as count from submission
     where state = 'waiting' and ${withoutJob("submission", "id")}`,
  );
  for (const { id, project_id, count } of submissions) await enqueueSubmission(id, project_id, count, client);
}

/** Stops masters that nobody wants any more: of items that are gone, or of settings that have changed since. */
export async function cancelUnwantedJobs(): Promise<void> {
  const busy = await rows<{ id: string; project_id: string; item_id: string; deliverable_id: string; key: string }>(
    "select id, project_id, item_id, deliverable_id, key from master where state in ('waiting', 'rendering')",
  );
  for (const project of new Set(busy.map(({ project_id }) => project_id))) {
    const { document } = await openProject(project);
    const known = knownRecordings(await findSources(document.sources.map(({ hash }) => hash)));
    for (const { id, project_id, item_id, deliverable_id, key } of busy) {
      if (project_id !== project) continue;
      const item = subjectOf(document, item_id);
      const deliverable = document.deliverables.find((one) => one.id === deliverable_id);
      const inputs = item && deliverable ? masterInputs(document, item, deliverable, known) : undefined;
      // While a recording is read anew, nothing can be said.
      if (inputs === null || (inputs && masterKey(inputs) === key)) continue;
      await transaction(async (client) => {
        await dropJob("render", id, client);
        await client.query(
          "update master set state = 'cancelled' where id = $1 and state in ('waiting', 'rendering')",
          [id],
        );
        await publish({ topic: "master", project, master: id, state: "cancelled" }, client);
      });
    }
  }
}
