/**
 * Documents of a project's states. A state keeps what changed against its parent (RFC 6902); whole documents stand at
 * the first state and at every 64th after it. Patches are data, so that a state reads the same whatever becomes of the
 * commands that made it.
 */
import jsonPatch, { type Operation } from "fast-json-patch";
import { openDocument, type ProjectDocument } from "@core/project/document";
import { row, rows, type Queryable } from "../db/database";
import { notFound } from "../problem";

/** So many patches at most lead from a whole document to any state. */
export const SNAPSHOT_EVERY = 64;

/** Documents as they are stored, by state; states never change. */
const cache = new Map<number, unknown>();
const MOST_CACHED = 64;

function remember(state: number, stored: unknown): unknown {
  cache.delete(state);
  cache.set(state, stored);
  const [oldest] = cache.keys();
  if (cache.size > MOST_CACHED) cache.delete(oldest!);
  return stored;
}

/** A state's document, as it is stored: not to be changed. */
async function storedDocument(state: number, on?: Queryable): Promise<unknown> {
  const known = cache.get(state);
  if (known !== undefined) return remember(state, known);
  const steps = await rows<{ document: unknown; patch: Operation[] | null }>(
    `with recursive back as (
       select id, parent, document, patch from project_state where id = $1
       union all
       select s.id, s.parent, s.document, s.patch from project_state s join back on s.id = back.parent
       where back.document is null)
     select document, patch from back order by id desc`,
    [state],
    on,
  );
  const whole = steps.pop();
  if (!whole?.document) throw notFound("state");
  let document = whole.document;
  for (const { patch } of steps.reverse()) document = jsonPatch.applyPatch(document, patch!).newDocument;
  return remember(state, document);
}

export const documentAt = async (state: number, on?: Queryable): Promise<ProjectDocument> =>
  openDocument(await storedDocument(state, on));

export interface NewState {
  project: string;
  parent: number | null;
  label: string;
  author: string;
  command: unknown;
  document: ProjectDocument;
}

/** Adds a state; the head is moved by whoever calls. @returns its id */
export async function insertState(state: NewState, client: Queryable): Promise<number> {
  const { project, parent, label, author, command, document } = state;
  const before = parent === null ? null : await storedDocument(parent, client);
  const depth = parent === null ? 0 : await depthOf(parent, client);
  const isWhole = before === null || depth + 1 >= SNAPSHOT_EVERY;
  // As it comes back from the database: without what is undefined.
  const stored = JSON.parse(JSON.stringify(document)) as object;
  const patch = isWhole ? null : jsonPatch.compare(before as object, stored);
  const inserted = await row<{ id: number }>(
    `insert into project_state (project_id, parent, label, author, command, document, patch, patches)
     values ($1, $2, $3, $4, $5, $6, $7, $8) returning id`,
    [
      project,
      parent,
      label,
      author,
      JSON.stringify(command),
      isWhole ? JSON.stringify(stored) : null,
      patch && JSON.stringify(patch),
      isWhole ? 0 : depth + 1,
    ],
    client,
  );
  remember(inserted!.id, stored); // ids are not used again, also where this is rolled back
  return inserted!.id;
}

async function depthOf(state: number, client: Queryable): Promise<number> {
  return (await row<{ patches: number }>("select patches from project_state where id = $1", [state], client))!.patches;
}
