/** Handing masters over: asked for at once, done by a worker, with what the receiver said to each file. */
import type { Handover } from "@core/project/views";
import { row, rows, transaction } from "./database";
import { tell } from "./events";
import { log } from "./log";
import { deliveryOf } from "./papers";
import { notFound, Problem } from "./problem";
import { enqueue } from "./queue";
import { receivers } from "./receivers";

export const handoversOf = (project: string): Promise<Handover[]> =>
  rows<Handover>("select * from handover where project_id = $1 order by asked_at desc limit 60", [project]);

/** Asks for the finished masters of a deliverable to be handed over. @throws Problem where there are none */
export async function requestHandover(project: string, receiver: string, deliverable: string): Promise<Handover> {
  if (!receivers().some(({ id }) => id === receiver)) throw notFound("receiver");
  const { masters } = await deliveryOf(project);
  const ready = masters.filter((one) => one.deliverable.id === deliverable);
  if (ready.length === 0)
    throw new Problem(409, "Nothing to hand over", "No master of this deliverable is finished: render it first.");
  const asked = await transaction(async (client) => {
    const added = await row<Handover>(
      "insert into handover (project_id, receiver, deliverable_id) values ($1, $2, $3) returning *",
      [project, receiver, deliverable],
      client,
    );
    await tell({ topic: "project", project }, client);
    return added!;
  });
  await enqueue("handover", asked.id);
  return asked;
}

/** The job. Safe to run again: receivers take the same file twice. */
export async function handOver(id: string): Promise<void> {
  const asked = await row<Handover>("select * from handover where id = $1", [id]);
  if (!asked || asked.state !== "waiting") return;
  const receiver = receivers().find((one) => one.id === asked.receiver);
  if (!receiver) throw new Error("This receiver is not set up on this machine.");
  const delivery = await deliveryOf(asked.project_id);
  const masters = delivery.masters.filter((one) => one.deliverable.id === asked.deliverable_id);
  const files = await receiver.take(delivery, masters);
  const state = files.length > 0 && files.every(({ accepted }) => accepted) ? "accepted" : "refused";
  await settle(id, state, files, null);
  log.info({ handover: id, receiver: receiver.id, state }, "handed over");
}

/** The last word on a hand-over that was tried as often as allowed. */
export const handoverFailed = (id: string, message: string): Promise<void> => settle(id, "failed", [], message);

async function settle(id: string, state: Handover["state"], files: Handover["files"], problem: string | null) {
  const settled = await row<{ project_id: string }>(
    "update handover set state = $2, files = $3, problem = $4 where id = $1 and state = 'waiting' returning project_id",
    [id, state, JSON.stringify(files), problem],
  );
  if (settled) await tell({ topic: "project", project: settled.project_id });
}
