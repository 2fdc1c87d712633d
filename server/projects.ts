import { applyCommand, commandDecides, commandLabel, parseCommand, type Command } from "@core/project/commands";
import { openDocument, projectSchema, type ProjectDocument } from "@core/project/document";
import { newProject, type TemplateId } from "@core/project/templates";
import type { HistoryState, ProjectSummary } from "@core/project/views";
import type pg from "pg";
import { row, rows, transaction } from "./database";
import { tell } from "./events";
import { notFound, Problem } from "./problem";
import { findSources } from "./sources";

type ListedProject = Omit<ProjectSummary, "standing"> & { document: ProjectDocument };

async function insertState(
  client: pg.PoolClient,
  project: string,
  state: { parent: number | null; label: string; author: string; command: Command | null; document: ProjectDocument },
): Promise<number> {
  const inserted = await row<{ id: number }>(
    `insert into project_state (project_id, parent, label, author, command, document) values ($1, $2, $3, $4, $5, $6) returning id`,
    [project, state.parent, state.label, state.author, JSON.stringify(state.command), JSON.stringify(state.document)],
    client,
  );
  await client.query("update project set head = $2 where id = $1", [project, inserted!.id]);
  await tell({ topic: "project", project, head: inserted!.id }, client);
  return inserted!.id;
}

export async function createProject(
  name: string,
  template: TemplateId,
  author: string,
): Promise<{ id: string; head: number }> {
  const document = projectSchema.parse(newProject(name, template));
  return transaction(async (client) => {
    const project = (await row<{ id: string }>("insert into project default values returning id", [], client))!;
    const head = await insertState(client, project.id, {
      parent: null,
      label: "New project",
      author,
      command: null,
      document,
    });
    await tell({ topic: "projects" }, client);
    return { id: project.id, head };
  });
}

export async function listProjects(): Promise<ListedProject[]> {
  const found = await rows<Omit<ListedProject, "name" | "template" | "items" | "seconds">>(
    `select project.id, head.document, head.created_at as changed_at,
            (select count(*)::int from project_state where project_id = project.id) as states
     from project join project_state head on head.id = project.head order by head.created_at desc`,
  );
  const hashes = [...new Set(found.flatMap(({ document }) => document.items.map(({ source }) => source)))];
  const seconds = new Map(
    (await findSources(hashes)).map((source) => [source.hash, source.figures?.durationSeconds ?? 0]),
  );
  return found.map((project) => ({
    ...project,
    name: project.document.name,
    template: project.document.template,
    items: project.document.items.length,
    seconds: project.document.items.reduce((sum, item) => sum + (seconds.get(item.source) ?? 0), 0),
  }));
}

interface HeadRow {
  head: number;
  document: unknown;
  parent: number | null;
}

/** The project's present state; within a transaction the project is locked, so that the head stays until its end. */
async function headOf(project: string, client?: pg.PoolClient): Promise<HeadRow & { document: ProjectDocument }> {
  // The lock comes first and by itself: what another edit has just added is seen only by the next statement.
  if (client) await client.query("select 1 from project where id = $1 for update", [project]);
  const found = await row<HeadRow>(
    `select project.head, state.document, state.parent from project join project_state state on state.id = project.head
     where project.id = $1`,
    [project],
    client,
  );
  if (!found) throw notFound("project");
  return { ...found, document: openDocument(found.document) };
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
  const { head, document, parent } = await headOf(project);
  const counted = await row<{ states: number; saved_at: string }>(
    `select count(*)::int as states, (select created_at from project_state where id = $2) as saved_at from project_state where project_id = $1`,
    [project, head],
  );
  return {
    id: project,
    head,
    document,
    undo: parent,
    redo: await redoOf(project, head),
    states: counted!.states,
    savedAt: counted!.saved_at,
  };
}

/** Commands that led from `base` to `head`, or `undefined` when the one is not an ancestor of the other. */
async function commandsBetween(client: pg.PoolClient, base: number, head: number): Promise<Command[] | undefined> {
  const path = await rows<{ id: number; command: Command | null }>(
    `with recursive path as (
       select id, parent, command from project_state where id = $2
       union all select s.id, s.parent, s.command from project_state s join path on s.id = path.parent where path.id <> $1)
     select id, command from path`,
    [base, head],
    client,
  );
  if (!path.some(({ id }) => id === base)) return undefined;
  return path.flatMap(({ id, command }) => (id === base || !command ? [] : [command]));
}

export interface Edit {
  /** The state that the edit was made on; `null` for what the server itself adds, on whatever the head is. */
  base: number | null;
  command: { type: string };
  author: string;
}

/**
 * Applies a command on the head. When the project has moved on since `base`, the command is put on top, unless
 * something decided the same in between: then nothing is changed and 409 says so.
 */
export async function edit(
  project: string,
  { base, command, author }: Edit,
): Promise<{ head: number; rebased: boolean }> {
  const checked = parseCommand(command);
  return transaction(async (client) => {
    const { head, document } = await headOf(project, client);
    const stale = base !== null && head !== base;
    if (stale) await refuseContradiction(client, base, head, checked);
    const next = applyCommand(document, checked);
    const label = commandLabel(checked, document);
    const id = await insertState(client, project, { parent: head, label, author, command: checked, document: next });
    return { head: id, rebased: stale };
  });
}

/** @throws Problem when something between `base` and `head` decided the same, or the one does not lead to the other */
async function refuseContradiction(client: pg.PoolClient, base: number, head: number, command: Command): Promise<void> {
  const between = await commandsBetween(client, base, head);
  const decided = commandDecides(command);
  if (between && between.every((other) => commandDecides(other) !== decided)) return;
  throw new Problem(
    409,
    "Changed elsewhere",
    between
      ? "The same thing was changed in another window in the meantime. That change stands; look at it, then decide."
      : "Another window went to a different state of the project. Your change was not made; look, then decide.",
    { head },
  );
}

export type Move = { to: "undo" } | { to: "redo" } | { to: "state"; state: number };

/** Moves the head. Nothing is lost: every state stays. */
export async function moveHead(project: string, base: number, move: Move): Promise<{ head: number }> {
  return transaction(async (client) => {
    const { head, parent } = await headOf(project, client);
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
    await client.query("update project set head = $2 where id = $1", [project, target]);
    await tell({ topic: "project", project, head: target }, client);
    return { head: target };
  });
}

export const historyOf = (project: string): Promise<HistoryState[]> =>
  rows<HistoryState>(
    `select id, parent, label, author, version_name, created_at from project_state where project_id = $1 order by id desc limit 1000`,
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
  await tell({ topic: "project", project });
}
