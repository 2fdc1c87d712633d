/**
 * Handing masters over: asked for at once, done by a worker, with what the receiver said to each file. Which masters, and
 * the state that they are of, is settled when it is asked for; what was accepted is not sent again after an interruption.
 */
import type { Submission } from "@core/project/views";
import { row, rows, transaction, type Queryable } from "../db/database";
import { documentAt } from "../projects/document-history";
import { publish } from "../db/notifications";
import type { JobContext } from "../queue/job-runner";
import { log } from "../log";
import { deliveryOf, deliveryOfDocument, type Delivery } from "./documents";
import { notFound, Problem } from "../problem";
import { openProject } from "../projects/projects";
import { enqueue } from "../queue/queue";
import { emitWebhookEvent } from "../webhooks/webhooks";
import { receivers } from "./receivers";

const COLUMNS =
  'id, project_id, receiver, deliverable_id, state, problem, files, jsonb_array_length(masters) as "fileCount", asked_at';

export const submissionsOf = (project: string): Promise<Submission[]> =>
  rows<Submission>(`select ${COLUMNS} from submission where project_id = $1 order by asked_at desc limit 60`, [
    project,
  ]);

export const submissionOf = (id: string): Promise<Submission | undefined> =>
  row<Submission>(`select ${COLUMNS} from submission where id = $1`, [id]);

/** Seconds that a file is expected to take. */
const FILE_SECONDS = 0.5;

/** Asks for the finished masters of a deliverable to be handed over. @throws Problem where there are none */
export async function requestSubmission(project: string, receiver: string, deliverable: string): Promise<Submission> {
  if (!receivers().some(({ id }) => id === receiver)) throw notFound("receiver");
  const { head, document } = await openProject(project);
  const { masters } = await deliveryOfDocument(project, document);
  const ready = masters.filter((one) => one.deliverable.id === deliverable).map(({ master }) => master.id);
  if (ready.length === 0)
    throw new Problem(409, "Nothing to submit", "No master of this deliverable is finished: render it first.");
  return transaction(async (client) => {
    const asked = (await row<Submission>(
      `insert into submission (project_id, receiver, deliverable_id, head, masters) values ($1, $2, $3, $4, $5)
       returning ${COLUMNS}`,
      [project, receiver, deliverable, head, JSON.stringify(ready)],
      client,
    ))!;
    await enqueueSubmission(asked.id, project, ready.length, client);
    await publish({ topic: "project", project }, client);
    return asked;
  });
}

export const enqueueSubmission = (id: string, project: string, files: number, client: Queryable): Promise<void> =>
  enqueue({ queue: "submission", subject: id, project, costSeconds: 1 + files * FILE_SECONDS }, client);

interface Asked extends Omit<Submission, "fileCount"> {
  head: number | null;
  masters: string[] | null;
}

/** What is handed over: the masters that were asked for, in the state in which they were. */
async function deliveryAsked({ project_id: project, deliverable_id, head, masters }: Asked): Promise<Delivery> {
  const delivery =
    head === null ? await deliveryOf(project) : await deliveryOfDocument(project, await documentAt(head));
  const wanted = delivery.masters.filter(({ deliverable, master }) =>
    masters === null ? deliverable.id === deliverable_id : masters.includes(master.id),
  );
  if (masters !== null && wanted.length < masters.length)
    throw new Error("Not all masters that were asked for are there any more: render them, then submit again.");
  return { ...delivery, masters: wanted };
}

/** The job. Safe to run again: what was accepted is not sent twice. */
export async function runSubmission({ subject: id, signal, progress, end }: JobContext): Promise<void> {
  const asked = await row<Asked>("select * from submission where id = $1", [id]);
  if (!asked || asked.state !== "waiting") return;
  const receiver = receivers().find((one) => one.id === asked.receiver);
  if (!receiver) throw new Error("This receiver is not set up on this machine.");
  const delivery = await deliveryAsked(asked);
  const files = asked.files.filter(({ accepted }) => accepted);
  await receiver.take({
    id,
    delivery,
    signal,
    accepted: new Set(files.map(({ name }) => name)),
    async said(file) {
      files.push(file);
      progress("submitting", files.length / delivery.masters.length);
      await rows("update submission set files = $2 where id = $1 and state = 'waiting'", [id, JSON.stringify(files)]);
      await publish({ topic: "project", project: asked.project_id });
    },
  });
  const state = files.length > 0 && files.every(({ accepted }) => accepted) ? "accepted" : "refused";
  await transaction(async (client) => {
    await end(client);
    await settle(id, state, null, client);
  });
  log.info({ submission: id, receiver: receiver.id, state }, "handed over");
}

/** Says why masters could not be handed over. */
export const submissionFailed = (id: string, why: string, client: Queryable): Promise<void> =>
  settle(id, "failed", why, client);

async function settle(id: string, state: Submission["state"], problem: string | null, client: Queryable) {
  const settled = await row<Pick<Submission, "project_id" | "receiver" | "deliverable_id">>(
    "update submission set state = $2, problem = $3 where id = $1 and state = 'waiting' returning project_id, receiver, deliverable_id",
    [id, state, problem],
    client,
  );
  if (!settled) return;
  const { project_id: project, receiver, deliverable_id: deliverable } = settled;
  await publish({ topic: "project", project }, client);
  await emitWebhookEvent(
    "masters.submitted",
    project,
    { submission: id, receiver, deliverable, state, problem },
    client,
  );
}
