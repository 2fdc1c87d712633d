import { applyCommand, commandLabel, parseCommand, type Command } from "@core/project/commands";
import { projectSchema, type ProjectDocument } from "@core/project/document";
import { blobsNamedIn } from "@core/project/project-file";
import { newProject, type TemplateId } from "@core/project/templates";
import { headForNext, type ReportHead } from "@core/project/report-head";
import type { EditEvent, HistoryState, ProjectSummary, Shelf } from "@core/project/views";
import type pg from "pg";
import { row, rows, transaction, type Queryable } from "../db/database";
import { Contradiction, refuseContradiction, tellContradiction, type Edit } from "./contradictions";
import { documentAt, insertState } from "./document-history";
import { publish } from "../db/notifications";
import { notFound, Problem } from "../problem";
import { findSources } from "./sources";
import { refuseIfDiskFull } from "../storage/free-space";

type ListedProject = Omit<ProjectSummary, "standing"> & { head: number; document: ProjectDocument };

/** Makes a state the head, in the transaction that made it. */
export async function moveTo(
  client: pg.PoolClient,
  project: string,
  head: number,
  added: number,
  edit?: EditEvent,
): Promise<void> {
  await client.query("update project set head = $2, head_moved_at = now(), states = states + $3 where id = $1", [
    project,
    head,
    added,
  ]);
  const isShort = edit !== undefined && JSON.stringify(edit).length < LONGEST_EVENT;
  await publish({ topic: "project", project, head, ...(isShort ? { edit } : {}) }, client);
}

/** PostgreSQL notifies of 8,000 bytes at most; pages ask for what is longer. */
const LONGEST_EVENT = 2000;

export async function createProject(
  name: string,
  template: TemplateId,
  author: string,
): Promise<{ id: string; head: number }> {
  const document = projectSchema.parse(newProject(name, template));
  const report = await lastReportHead();
  if (report) document.about.report = headForNext(report);
  return transaction(async (client) => {
    const project = (await row<{ id: string }>("insert into project default values returning id", [], client))!.id;
    const head = await insertState(
      { project, parent: null, label: "New project", author, command: null, document },
      client,
    );
    await moveTo(client, project, head, 1);
    await publish({ topic: "projects" }, client);
    return { id: project, head };
  });
}

/** The head of reports of the project that was last changed, where it has one. */
async function lastReportHead(): Promise<ReportHead | undefined> {
  const last = await row<{ head: number }>(
    `select project.head from project join project_state head on head.id = project.head
     where project.shelf is distinct from 'bin' order by head.created_at desc limit 1`,
  );
  return last && (await documentAt(last.head)).about.report;
}

/**
 * Projects, the one that was changed last first.
 * @param only those of these; `null` for all
 * @param limit so many at most @param after those that come after this one
 * @returns them, and after which the next are asked for; `null` where there are no more
 */
export async function listProjects(
  only: readonly string[] | null = null,
  { limit, after }: { limit?: number | undefined; after?: string | undefined } = {},
): Promise<{ projects: ListedProject[]; next: string | null }> {
  const asked = await rows<{ id: string; head: number; changed_at: string; states: number; shelf: Shelf | null }>(
    `select project.id, project.head, head.created_at as changed_at, project.states, project.shelf
     from project join project_state head on head.id = project.head
     where ($1::uuid[] is null or project.id = any($1))
       and ($2::uuid is null or project.head < (select head from project where id = $2))
     order by project.head desc limit $3`,
    [only, after ?? null, limit === undefined ? null : limit + 1],
  );
  const found = asked.slice(0, limit);
  const projects = [];
  for (const project of found) projects.push({ ...project, document: await documentAt(project.head) });
  const hashes = [...new Set(projects.flatMap(({ document }) => document.items.map(({ source }) => source)))];
  const seconds = new Map(
    (await findSources(hashes)).map((source) => [source.hash, source.figures?.durationSeconds ?? 0]),
  );
  const listed = projects.map((project) => ({
    ...project,
    name: project.document.name,
    template: project.document.template,
    items: project.document.items.length,
    seconds: project.document.items.reduce((sum, item) => sum + (seconds.get(item.source) ?? 0), 0),
  }));
  return { projects: listed, next: asked.length > found.length ? found.at(-1)!.id : null };
}

interface Head {
  head: number;
  parent: number | null;
  states: number;
  savedAt: string;
  document: ProjectDocument;
}

/** The project's present state; within a transaction the project is locked, so that the head stays until its end. */
export async function headOf(project: string, client?: pg.PoolClient): Promise<Head> {
  // The lock comes first and by itself: what another edit has just added is seen only by the next statement.
  if (client) await client.query("select 1 from project where id = $1 for update", [project]);
  const found = await row<Omit<Head, "document">>(
    `select project.head, project.states, state.parent, state.created_at as "savedAt"
     from project join project_state state on state.id = project.head where project.id = $1`,
    [project],
    client,
  );
  if (!found) throw notFound("project");
  return { ...found, document: await documentAt(found.head, client) };
}

/** The state that “redo” leads to: the newest that was made from the head. */
async function redoOf(project: string, head: number, client?: pg.PoolClient): Promise<number | null> {
  const child = await row<{ id: number }>(
    "select id from project_state where project_id = $1 and parent = $2 order by id desc limit 1",
    [project, head],
    client,
  );
  return child?.id ?? null;
}

export async function openProject(project: string) {
  const { parent, ...found } = await headOf(project);
  return { id: project, ...found, undo: parent, redo: await redoOf(project, found.head) };
}

export interface EditResult {
  head: number;
  /** Whether it was put on top of edits that the one who made it had not seen. */
  rebased: boolean;
  /** What was done, in words; empty where it was answered before. */
  label: string;
}

/** What was answered to an edit that was made already. */
async function answered(client: pg.PoolClient, id: string | undefined): Promise<EditResult | undefined> {
  if (id === undefined) return undefined;
  const found = await row<{ head: number }>("select head from edit where id = $1", [id], client);
  return found && { head: found.head, rebased: false, label: "" };
}

async function rememberAnswer(client: pg.PoolClient, id: string | undefined, project: string, head: number) {
  if (id !== undefined)
    await client.query("insert into edit (id, project_id, head) values ($1, $2, $3)", [id, project, head]);
}

/**
 * Applies a command on the head. When the project has moved on since `base`, the command is put on top, unless
 * something that it is about was changed in between: then nothing is changed and 409 says so.
 */
export async function edit(project: string, edit: Edit): Promise<EditResult> {
  try {
    return await transaction((client) => editWithin(client, project, edit));
  } catch (error) {
    if (error instanceof Contradiction) await tellContradiction(project, edit, error);
    throw error;
  }
}

/** The same, within a transaction that does more. */
export async function editWithin(client: pg.PoolClient, project: string, edit: Edit): Promise<EditResult> {
  const { id, base, command, author } = edit;
  const checked = parseCommand(command);
  await refuseIfDiskFull();
  const { head, document } = await headOf(project, client);
  const before = await answered(client, id);
  if (before) return before;
  const stale = base !== null && head !== base;
  if (stale) await refuseContradiction(client, base, head, checked);
  const next = applyCommand(document, checked);
  const label = commandLabel(checked, document);
  const state = await insertState({ project, parent: head, label, author, command: checked, document: next }, client);
  await keepBlobsOf(client, project, checked);
  await moveTo(client, project, state, 1, { parent: head, command: checked });
  await rememberAnswer(client, id, project, state);
  return { head: state, rebased: stale, label };
}

/** Blobs that a command names are the project's from now on: recordings, covers, photos. */
async function keepBlobsOf(client: pg.PoolClient, project: string, command: Command): Promise<void> {
  const named = blobsNamedIn(command);
  if (named.length > 0) await keepBlobs(client, project, named);
}

/** Those of them that are there are the project's from now on. */
export const keepBlobs = async (client: Queryable, project: string, hashes: readonly string[]): Promise<void> =>
  void (await client.query(
    `insert into project_blob (project_id, hash) select $1, hash from blob where hash = any($2) order by hash
     on conflict do nothing`,
    [project, hashes],
  ));

export type Move = { to: "undo" } | { to: "redo" } | { to: "state"; state: number };

/** Moves the head. Nothing is lost: every state stays. @param id as for edits */
export async function moveHead(project: string, base: number, move: Move, id?: string): Promise<{ head: number }> {
  return transaction(async (client) => {
    const { head, parent } = await headOf(project, client);
    const before = await answered(client, id);
    if (before) return { head: before.head };
    if (head !== base)
      throw new Problem(409, "Changed elsewhere", "The project was changed in another window; look at it first.", {
        head,
      });
    const target = move.to === "undo" ? parent : move.to === "redo" ? await redoOf(project, head, client) : move.state;
    if (target === null)
      throw new Problem(
        422,
        "Nothing to do",
        move.to === "undo" ? "This is the first state." : "There is no later state.",
      );
    const exists = await row(
      "select 1 from project_state where id = $1 and project_id = $2",
      [target, project],
      client,
    );
    if (!exists) throw notFound("state");
    await moveTo(client, project, target, 0);
    await rememberAnswer(client, id, project, target);
    return { head: target };
  });
}

export const HISTORY_PAGE = 500;

/** States before one, the newest first, a page at a time; `null` begins with the newest. */
export const historyOf = (project: string, before: number | null = null): Promise<HistoryState[]> =>
  rows<HistoryState>(
    `select id, parent, label, author, version_name, created_at from project_state
     where project_id = $1 and ($2::bigint is null or id < $2) order by id desc limit ${HISTORY_PAGE}`,
    [project, before],
  );

/** States that have a name, the newest first. */
export const versionsOf = (project: string): Promise<HistoryState[]> =>
  rows<HistoryState>(
    `select id, parent, label, author, version_name, created_at from project_state
     where project_id = $1 and version_name is not null order by id desc`,
    [project],
  );

/** Names a state, which makes it a version; an empty name takes the name away. */
export async function nameState(project: string, state: number, name: string | null): Promise<void> {
  const named = await row("update project_state set version_name = $3 where project_id = $1 and id = $2 returning id", [
    project,
    state,
    name,
  ]);
  if (!named) throw notFound("state");
  await publish({ topic: "project", project });
}

/** Projects of which a state names a blob. */
export const projectsUsing = async (hash: string): Promise<string[]> =>
  (await rows<{ project_id: string }>("select project_id from project_blob where hash = $1", [hash])).map(
    ({ project_id }) => project_id,
  );
