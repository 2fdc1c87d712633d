/** The server's own functions on the studio's database: history, contradiction, what is kept. */
import { expect, test } from "@playwright/test";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import {
  createProject,
  edit,
  historyOf,
  listProjects,
  moveHead,
  nameState,
  openProject,
} from "@server/projects/projects";
import { Problem } from "@server/problem";

const SOURCE = "b".repeat(64);
const addItem = (id: string): Command => ({
  type: "addSource",
  source: { hash: SOURCE, name: "Reed.wav" },
  item: { id, name: `Item ${id}`, source: SOURCE, repairs: [], chain: [], markers: [] },
});
const rename = (item: string, name: string): Command => ({ type: "renameItem", item, name });
const onHead = (project: string, command: Command) => edit(project, { base: null, command, author: "test" });
const on = (project: string, base: number, command: Command) => edit(project, { base, command, author: "test" });

async function refusal(work: Promise<unknown>): Promise<Problem> {
  const error = await work.then(
    () => undefined,
    (problem: unknown) => problem,
  );
  expect(error).toBeInstanceOf(Problem);
  return error as Problem;
}

test("each edit is a state with its label, author and parent; nothing is ever removed", async () => {
  const { id, head } = await createProject("States", "music", "test");
  const first = await onHead(id, addItem("a"));
  const second = await onHead(id, rename("a", "Reeds"));
  const states = await historyOf(id);
  expect(states.map(({ id: state, parent, label, author }) => ({ state, parent, label, author }))).toEqual([
    { state: second.head, parent: first.head, label: "Rename an item to “Reeds”", author: "test" },
    { state: first.head, parent: head, label: "Add “Reed.wav”", author: "test" },
    { state: head, parent: null, label: "New project", author: "test" },
  ]);
  await moveHead(id, second.head, { to: "state", state: head });
  expect((await openProject(id)).document.items).toEqual([]);
  expect(await historyOf(id)).toHaveLength(3);
});

test("undo and redo follow the branch that was made last", async () => {
  const { id } = await createProject("Branches", "music", "test");
  const { head: added } = await onHead(id, addItem("a"));
  const { head: left } = await onHead(id, rename("a", "Left"));
  await moveHead(id, left, { to: "undo" });
  const { head: right } = await onHead(id, rename("a", "Right"));
  await moveHead(id, right, { to: "undo" });
  const view = await openProject(id);
  expect(view).toMatchObject({ head: added, redo: right });
  await moveHead(id, added, { to: "redo" });
  expect((await openProject(id)).document.items[0]!.name).toBe("Right");
  // The other branch is still there.
  await moveHead(id, right, { to: "state", state: left });
  expect((await openProject(id)).document.items[0]!.name).toBe("Left");
});

test("the first state cannot be undone, nor a head moved that has moved", async () => {
  const { id, head } = await createProject("Edges", "podcast", "test");
  expect((await refusal(moveHead(id, head, { to: "undo" }))).status).toBe(422);
  expect((await refusal(moveHead(id, head, { to: "redo" }))).status).toBe(422);
  const { head: next } = await onHead(id, addItem("a"));
  expect((await refusal(moveHead(id, head, { to: "undo" }))).status).toBe(409);
  const other = await createProject("Other", "podcast", "test");
  expect((await refusal(moveHead(id, next, { to: "state", state: other.head }))).status).toBe(404);
});

test("a stale edit goes on top where nothing contradicts it, and is refused where something does", async () => {
  const { id } = await createProject("Stale", "music", "test");
  await onHead(id, addItem("a"));
  const { head: base } = await onHead(id, addItem("b"));
  await on(id, base, rename("a", "First"));
  expect(await on(id, base, rename("b", "Second"))).toMatchObject({ rebased: true });
  expect((await refusal(on(id, base, rename("a", "Mine")))).status).toBe(409);
  expect((await openProject(id)).document.items.map(({ name }) => name)).toEqual(["First", "Second"]);
});

test("an edit on a state that is no ancestor is refused: the other window went elsewhere", async () => {
  const { id } = await createProject("Elsewhere", "music", "test");
  await onHead(id, addItem("a"));
  const { head: left } = await onHead(id, rename("a", "Left"));
  await moveHead(id, left, { to: "undo" });
  await onHead(id, addItem("b"));
  const problem = await refusal(on(id, left, rename("a", "Mine")));
  expect(problem).toMatchObject({ status: 409 });
  expect(problem.detail).toMatch(/different state/);
});

test("twenty edits at once are all kept, one after the other", async () => {
  const { id } = await createProject("At once", "music", "test");
  await Promise.all(Array.from({ length: 20 }, (_, n) => onHead(id, addItem(`i${n}`))));
  const { document, states } = await openProject(id);
  expect(new Set(document.items.map(({ id: item }) => item)).size).toBe(20);
  expect(states).toBe(21);
  const parents = (await historyOf(id)).map(({ parent }) => parent);
  expect(new Set(parents).size).toBe(21);
});

test("an edit that leads to no valid document leaves everything as it was", async () => {
  const { id } = await createProject("Valid", "music", "test");
  const { head } = await onHead(id, addItem("a"));
  const wrong = { type: "addProcessor", item: "a", entry: { ...newChainEntry("gain", "g"), gainDb: 999 } } as Command;
  await expect(onHead(id, wrong)).rejects.toThrow(/gainDb/);
  await expect(onHead(id, rename("nobody", "x"))).rejects.toThrow(/no longer/);
  await expect(onHead(id, addItem("a"))).rejects.toThrow(/already/);
  expect((await openProject(id)).head).toBe(head);
});

test("a state can be named and its name taken away; the library shows the newest project first", async () => {
  const { id, head } = await createProject("Named", "broadcast", "test");
  await nameState(id, head, "the beginning");
  expect((await historyOf(id))[0]!.version_name).toBe("the beginning");
  await nameState(id, head, null);
  expect((await historyOf(id))[0]!.version_name).toBeNull();
  const other = await createProject("Not this one", "broadcast", "test");
  expect((await refusal(nameState(id, other.head, "x"))).status).toBe(404);
  const [newest] = (await listProjects()).projects;
  expect(newest).toMatchObject({ id: other.id, name: "Not this one", items: 0, seconds: 0, states: 1 });
});
