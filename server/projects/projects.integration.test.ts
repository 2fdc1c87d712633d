/** Projects on the real PostgreSQL: history in patches, edits that are sent twice, and how long an edit takes. */
import { randomUUID } from "node:crypto";
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import { PLAIN_HEAD } from "@core/project/report-head";
import type { ServerEvent } from "@core/project/views";
import { migrate, row, rows } from "../db/database";
import { publish, subscribe } from "../db/notifications";
import type { Problem } from "../problem";
import { documentAt, SNAPSHOT_EVERY } from "./document-history";
import { createProject, edit, HISTORY_PAGE, historyOf, moveHead, nameState, openProject, versionsOf } from "./projects";

beforeAll(migrate);

const SOURCE = "b".repeat(64);
const addItem = (id: string): Command => ({
  type: "addSource",
  source: { hash: SOURCE, name: "Reed.wav" },
  item: { id, name: id, source: SOURCE, repairs: [], chain: [newChainEntry("gain", "p1")], markers: [] },
});
const rename = (item: string, name: string): Command => ({ type: "renameItem", item, name });
const gain = (item: string, gainDb: number): Command => ({
  type: "setParameter",
  item,
  entry: "p1",
  parameter: "gainDb",
  setting: gainDb,
});
const onHead = (project: string, command: Command) => edit(project, { base: null, command, author: "test" });

async function newProject(...items: string[]): Promise<{ id: string; head: number }> {
  const { id, head } = await createProject("Tide", "music", "test");
  let last = head;
  for (const item of items) last = (await onHead(id, addItem(item))).head;
  return { id, head: last };
}

/** The modules as another process has them: with nothing remembered. */
async function afresh(): Promise<typeof import("./document-history")> {
  const { vi } = await import("vitest");
  vi.resetModules();
  return import("./document-history");
}

describe("a new project", () => {
  it("begins with the head of reports of the one that was last changed, without its client", async () => {
    const { id } = await newProject();
    const { document } = await openProject(id);
    const report = { ...PLAIN_HEAD, studio: "Marsh Room", client: "Saltmarsh Press", paper: "Letter" as const };
    await onHead(id, { type: "describeProject", about: { ...document.about, report } });
    const next = await openProject((await newProject()).id);
    expect(next.document.about.report).toEqual({ ...report, client: "" });
    expect(next.document.about.artist).toBe("");
  });
});

describe("history", () => {
  it("keeps whole documents now and then, and reads every state between them the same", async () => {
    const { id } = await newProject("a");
    const wanted = new Map<number, number>();
    for (let n = 0; n < 150; n++) wanted.set((await onHead(id, gain("a", -n / 10))).head, -n / 10);
    const whole = await rows<{ whole: boolean }>(
      "select document is not null as whole from project_state where project_id = $1 order by id",
      [id],
    );
    expect(whole.filter((one) => one.whole)).toHaveLength(Math.floor(151 / SNAPSHOT_EVERY) + 1);
    const { documentAt: read } = await afresh();
    for (const [state, gainDb] of wanted) expect((await read(state)).items[0]!.chain[0]!.gainDb).toBeCloseTo(gainDb, 9);
  });
  it("reads states of branches that were left, and states from before there were patches", async () => {
    const { id, head } = await newProject("a");
    const { head: left } = await onHead(id, rename("a", "Left"));
    await moveHead(id, left, { to: "undo" });
    await onHead(id, rename("a", "Right"));
    expect((await documentAt(left)).items[0]!.name).toBe("Left");
    const stored = await documentAt(head);
    await rows("update project_state set document = $2, patch = null, patches = 0 where id = $1", [
      head,
      JSON.stringify(stored),
    ]);
    const { documentAt: read } = await afresh();
    expect((await read(left)).items[0]!.name).toBe("Left");
  });
  it("reaches every state after any edits, undone and redone, as they were answered", async () => {
    const step = fc.oneof(
      { weight: 4, arbitrary: fc.record({ gain: fc.integer({ min: -20, max: 20 }) }) },
      { weight: 1, arbitrary: fc.constantFrom({ to: "undo" as const }, { to: "redo" as const }) },
    );
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 10, maxLength: 90 }), async (steps) => {
        const { id, head } = await newProject("a");
        let at = head;
        const said = new Map<number, number>();
        for (const one of steps) {
          if ("gain" in one) {
            at = (await onHead(id, gain("a", one.gain))).head;
            said.set(at, one.gain);
          } else at = (await moveHead(id, at, one).catch(() => ({ head: at }))).head;
          // Nothing of what was answered is before the item.
          if (at < head) at = (await moveHead(id, at, { to: "state", state: head })).head;
        }
        const { documentAt: read } = await afresh();
        for (const [state, gainDb] of said) expect((await read(state)).items[0]!.chain[0]!.gainDb).toBe(gainDb);
        expect((await openProject(id)).head).toBe(at);
      }),
      { numRuns: 6 },
    );
  });
  it("lists a page at a time, and named versions always, however early", async () => {
    const { id, head } = await newProject("a");
    await nameState(id, head, "the beginning");
    await rows(
      `insert into project_state (project_id, parent, label, author, patch, patches)
       select $1, $2, 'x', 'test', '[]', 1 from generate_series(1, 1200)`,
      [id, head],
    );
    const first = await historyOf(id);
    expect(first).toHaveLength(HISTORY_PAGE);
    const second = await historyOf(id, first.at(-1)!.id);
    expect(second[0]!.id).toBeLessThan(first.at(-1)!.id);
    expect((await versionsOf(id)).map(({ version_name }) => version_name)).toEqual(["the beginning"]);
  });
});

describe("an edit of what others changed meanwhile", () => {
  it("is refused with what they made, and they are told what was wanted", async () => {
    const { id, head } = await newProject("a", "b");
    await edit(id, { base: head, command: rename("a", "Theirs"), author: "Marl" });
    await edit(id, { base: head, command: rename("b", "Other"), author: "Marl" });
    const events: ServerEvent[] = [];
    const stop = subscribe((event) => events.push(event));
    await expect.poll(async () => (await publish({ topic: "people" }), events.length)).toBeGreaterThan(0);
    const sent = { id: randomUUID(), base: head, command: rename("a", "Mine"), author: "Oriel" };
    const refused = await edit(id, sent).catch((error: Problem) => error);
    const made = [{ label: expect.stringContaining("Theirs"), author: "Marl" }];
    expect(refused).toMatchObject({ status: 409, more: { made } });
    await expect
      .poll(() => events.find(({ topic }) => topic === "contradiction"))
      .toEqual({
        topic: "contradiction",
        project: id,
        refused: { id: sent.id, author: "Oriel", label: expect.stringContaining("Mine"), made },
      });
    stop();
    expect((await openProject(id)).document.items.map(({ name }) => name)).toEqual(["Theirs", "Other"]);
  });

  it("names nobody where the project went to another state", async () => {
    const { id, head } = await newProject("a", "b");
    await moveHead(id, head, { to: "undo" });
    await onHead(id, rename("a", "Another way"));
    const refused = await edit(id, { base: head, command: rename("a", "x"), author: "t" }).catch(
      (error: Problem) => error,
    );
    expect(refused).toMatchObject({ status: 409, more: { made: [] } });
  });
});

describe("an edit that is sent again", () => {
  it("is answered with the same and made once, also after others came", async () => {
    const { id, head } = await newProject("a");
    const sent = { id: randomUUID(), base: head, command: rename("a", "Once"), author: "test" };
    const [first, second] = await Promise.all([edit(id, sent), edit(id, sent)]);
    expect(second.head).toBe(first.head);
    await onHead(id, rename("a", "Later"));
    expect((await edit(id, sent)).head).toBe(first.head);
    expect((await openProject(id)).document.items[0]!.name).toBe("Later");
    expect((await openProject(id)).states).toBe(4);
  });
  it("is remembered only where it was made", async () => {
    const { id, head } = await newProject("a");
    const wrong = { id: randomUUID(), base: head, command: rename("nobody", "x"), author: "test" };
    await expect(edit(id, wrong)).rejects.toThrow(/no longer/);
    expect(await row("select 1 from edit where id = $1", [wrong.id])).toBeUndefined();
  });
  it("holds for steps back and forth as well", async () => {
    const { id, head } = await newProject("a", "b");
    const move = randomUUID();
    const back = await moveHead(id, head, { to: "undo" }, move);
    expect(await moveHead(id, head, { to: "undo" }, move)).toEqual(back);
    expect((await openProject(id)).head).toBe(back.head);
  });
});

describe("at a hundred thousand states", () => {
  it("opens and edits without reading them all: nothing is scanned", async () => {
    const { id, head } = await newProject("a");
    // States of patches that change nothing, one on the other, each 64th whole as they are made.
    await rows(
      `with recursive base as (select nextval(pg_get_serial_sequence('project_state', 'id')) as first)
       insert into project_state (id, project_id, parent, label, author, patch, patches, document) overriding system value
       select first + n, $1, case when n = 1 then $2 else first + n - 1 end, 'x', 'test',
         case when n % 64 = 0 then null else '[]'::jsonb end, n % 64,
         case when n % 64 = 0 then (select document from project_state where id = $3) end
       from base, generate_series(1, 100000) as n`,
      [
        id,
        head,
        (await row<{ id: number }>("select id from project_state where document is not null order by id desc limit 1"))!
          .id,
      ],
    );
    const last = (await row<{ id: number }>("select max(id)::bigint as id from project_state where project_id = $1", [
      id,
    ]))!.id;
    await rows("select setval(pg_get_serial_sequence('project_state', 'id'), $1)", [last]);
    await rows("update project set head = $2, states = 100000 where id = $1", [id, last]);
    await rows("analyze project_state");
    const plan = async (sql: string, values: unknown[]) =>
      JSON.stringify(await rows(`explain (analyze, buffers, format json) ${sql}`, values));
    const redo = await plan(
      "select id from project_state where project_id = $1 and parent = $2 order by id desc limit 1",
      [id, last],
    );
    expect(redo).not.toContain("Seq Scan");
    await onHead(id, { type: "rename", name: "Deep" });
    expect((await openProject(id)).document.name).toBe("Deep");
  });
});
