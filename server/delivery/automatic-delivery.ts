/** Deliverables that are kept up to date by themselves: rendered, verified and handed over once a project stands still. */
import { sha256Of } from "@core/math/sha256";
import type { Deliverable } from "@core/project/document";
import type { AutomaticDelivery, Master, Submission, WantedMaster } from "@core/project/views";
import { config } from "../config";
import { row, rows } from "../db/database";
import { publish } from "../db/notifications";
import { log } from "../log";
import { audit } from "../people/audit";
import { studioPrincipal } from "../people/principal";
import { Problem } from "../problem";
import { documentAt } from "../projects/document-history";
import { requestMaster } from "../rendering/masters";
import { requestSubmission, submissionOf } from "./submission";
import { wantedMasters } from "./wanted-masters";

export const automaticDeliveriesOf = (project: string): Promise<AutomaticDelivery[]> =>
  rows<AutomaticDelivery>(
    "select deliverable_id, head, state, problem, changed_at from automatic_delivery where project_id = $1",
    [project],
  );

/** Has a project looked at again that stands still: somebody asked for masters that were held back. */
export async function deliverAgain(project: string): Promise<void> {
  await rows("update automatic_delivery set head = 0 where project_id = $1 and state = 'held'", [project]);
  await rows("update project set delivered_head = null where id = $1", [project]);
}

/** Projects that are looked at in one go: any of them, so that none waits behind those that cannot go on. */
const AT_A_TIME = 20;

/** Looks after every project that stands still and was not seen to since it was changed. */
export async function deliverDue(): Promise<void> {
  const due = await rows<{ id: string; head: number }>(
    `select id, head from project where head is distinct from delivered_head and shelf is null
       and head_moved_at <= now() - make_interval(secs => $1) order by random() limit ${AT_A_TIME}`,
    [config.stillSeconds],
  );
  for (const { id, head } of due) {
    try {
      await deliverProject(id, head);
    } catch (error) {
      log.warn({ project: id, error: (error as Error).message }, "an automatic delivery was not seen to");
    }
  }
}

async function deliverProject(project: string, head: number): Promise<void> {
  const { deliverables } = await documentAt(head);
  const automatic = deliverables.filter((one) => one.automatic);
  await rows("delete from automatic_delivery where project_id = $1 and deliverable_id <> all($2)", [
    ...[project, automatic.map(({ id }) => id)],
  ]);
  const wanted = automatic.length > 0 ? await wantedMasters(project) : [];
  let isSettled = true;
  for (const deliverable of automatic) {
    const target = { project, head, deliverable };
    const cells = wanted.filter((one) => one.deliverable_id === deliverable.id);
    if (!(await note(target, await takeStep(target, cells)))) isSettled = false;
  }
  if (isSettled) await rows("update project set delivered_head = $2 where id = $1 and head = $2", [project, head]);
}

interface Kept {
  head: number;
  state: AutomaticDelivery["state"];
  problem: string | null;
  /** Of what was handed over last, by names and hashes, and the submission that did. */
  files: string | null;
  submission: string | null;
  /** How often a receiver could not be reached. */
  tries: number;
  changed_at: Date;
}

/** Where it is left as it is, what was handed over last stays known. */
type Step = Pick<Kept, "state"> & Partial<Pick<Kept, "problem" | "files" | "submission" | "tries">>;
const held = (problem: string): Step => ({ state: "held", problem });

interface Target {
  project: string;
  head: number;
  deliverable: Deliverable;
}

const keptOf = (project: string, deliverable: string): Promise<Kept | undefined> =>
  row<Kept>("select * from automatic_delivery where project_id = $1 and deliverable_id = $2", [project, deliverable]);

/** Does what is to be done next. */
async function takeStep(target: Target, cells: readonly WantedMaster[]): Promise<Step> {
  const { project, head, deliverable } = target;
  const kept = await keptOf(project, deliverable.id);
  const before = kept?.head === head ? kept : undefined;
  if (before?.state === "submitting") return afterSubmission(before);
  if (before?.state === "done" || (before?.state === "held" && !isDueAgain(before))) return before;
  if (cells.length === 0) return held("There is nothing to deliver yet.");
  const masters = await mastersAsked(project, cells, before === undefined);
  // It is looked at again: once the recording is read, all is well.
  if (masters instanceof Problem) return { state: "rendering", problem: masters.message };
  const broken = masters.find(({ state }) => state === "failed" || state === "cancelled");
  if (broken) return held(brokenWords(broken, cells));
  if (masters.some(({ state }) => state !== "done")) return { state: "rendering" };
  const failing = cells.filter(({ master }) => master?.result?.verdict?.pass === false);
  if (failing.length > 0) return held(failingWords(failing));
  return submitMasters(target, cells, kept, before?.tries ?? 0);
}

/** Masters of the state as it is, asked for where they are missing; why they cannot be made. */
async function mastersAsked(
  project: string,
  cells: readonly WantedMaster[],
  isNew: boolean,
): Promise<Master[] | Problem> {
  const masters: Master[] = [];
  for (const { item_id: item, deliverable_id: deliverable, current, master } of cells) {
    // What was stopped, or failed, is asked for once more when the project stands still anew.
    const isOfUse = current && master !== null && !(isNew && isBroken(master));
    try {
      masters.push(isOfUse ? master : await requestMaster(project, item, deliverable));
    } catch (error) {
      if (error instanceof Problem) return error;
      throw error;
    }
  }
  return masters;
}

const isBroken = ({ state }: Master): boolean => state === "failed" || state === "cancelled";

function brokenWords({ item_id: item, state, problem }: Master, cells: readonly WantedMaster[]): string {
  const name = cells.find((one) => one.item_id === item)?.item ?? "A master";
  return state === "cancelled" ? `“${name}” was stopped.` : `“${name}” was not rendered: ${problem ?? "it failed."}`;
}

function failingWords(failing: readonly WantedMaster[]): string {
  const names = failing.slice(0, 3).map(({ item }) => `“${item}”`);
  const more = failing.length > names.length ? ` and ${failing.length - names.length} more` : "";
  const fail = failing.length === 1 ? "fails its specification" : "fail their specification";
  return `${names.join(", ")}${more} ${fail}: nothing was submitted.`;
}

async function submitMasters(
  { project, deliverable }: Target,
  cells: readonly WantedMaster[],
  kept: Kept | undefined,
  tries: number,
): Promise<Step> {
  const receiver = deliverable.automatic!.receiver;
  if (receiver === null) return { state: "done" };
  const files = sha256Of(
    JSON.stringify([receiver, ...cells.map(({ file_name, master }) => [file_name, master?.file_hash])]),
  );
  const last = kept?.submission ? await submissionOf(kept.submission) : undefined;
  // One after the other: an earlier state must not arrive after a later one.
  if (last?.state === "waiting") return { state: "rendering", problem: "an earlier state is still being submitted." };
  if (last?.state === "accepted" && kept?.files === files) return { state: "done" };
  try {
    const { id } = await requestSubmission(project, receiver, deliverable.id);
    const event = { action: "handed masters over by itself", project, subject: receiver };
    await audit(studioPrincipal(null), event);
    return { state: "submitting", files, submission: id, tries: tries + 1 };
  } catch (error) {
    if (error instanceof Problem) return held(error.message);
    throw error;
  }
}

async function afterSubmission(before: Kept): Promise<Step> {
  const submission = before.submission === null ? undefined : await submissionOf(before.submission);
  if (!submission) return held("What was handed over is not known any more.");
  if (submission.state === "waiting") return before;
  if (submission.state === "accepted") return { state: "done" };
  // What was refused is refused again; who could not be reached may be later.
  return { ...held(refusalWords(submission)), tries: submission.state === "failed" ? before.tries : 0 };
}

function refusalWords({ problem, files }: Submission): string {
  const refused = files.find(({ accepted }) => !accepted);
  return problem ?? (refused ? `${refused.name} was refused: ${refused.reasons.join(" ")}` : "It was refused.");
}

/** Minutes until a receiver that could not be reached is tried again; after the last it is left to a person. */
const RETRY_MINUTES = [1, 5, 15, 60, 240];
const mayTryAgain = (tries: number): boolean => tries > 0 && tries <= RETRY_MINUTES.length;

const isDueAgain = ({ tries, changed_at: at }: Kept): boolean =>
  mayTryAgain(tries) && Date.now() - new Date(at).getTime() > RETRY_MINUTES[tries - 1]! * 60_000;

/** @returns whether nothing is left to do of this state */
async function note({ project, head, deliverable }: Target, step: Step): Promise<boolean> {
  const { state, problem = null, files = null, submission = null, tries = 0 } = step;
  const changed = await row(
    `insert into automatic_delivery as kept (project_id, deliverable_id, head, state, problem, files, submission, tries)
     values ($1, $2, $3, $4, $5, $6, $7, $8)
     on conflict (project_id, deliverable_id) do update
       set head = $3, state = $4, problem = $5, files = coalesce($6, kept.files),
         submission = coalesce($7, kept.submission), tries = $8, changed_at = now()
       where (kept.head, kept.state, kept.problem) is distinct from ($3, $4, $5)
     returning 1`,
    [project, deliverable.id, head, state, problem, files, submission, tries],
  );
  if (changed) await publish({ topic: "project", project });
  return state === "done" || (state === "held" && !mayTryAgain(tries));
}
