/** A studio is backed up while it is worked in, loses its disk, and is whole again. */
import { randomUUID } from "node:crypto";
import { mkdtemp, readdir, readFile, rm, truncate, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { Command } from "@core/project/commands";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { config } from "../config";
import { migrate, row, rows } from "../db/database";
import { whileBlobsStay } from "../db/locks";
import { createProject, edit, historyOf, listProjects, openProject } from "../projects/projects";
import { blobs } from "../storage/blobs";
import { sweep } from "../storage/sweeper";
import { runJob } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { registerWorker } from "../queue/workers";
import { backUp } from "./backup";
import { BackupFolder } from "./backup-folder";
import { restore } from "./restore";
import { backUpJob, requestBackup } from "./scheduled-backups";
import { scrub } from "./scrub";

const RATE = 48_000;
const never = new AbortController().signal;
let project: string;
let folder: string;
const folders: string[] = [];

async function make(command: Command): Promise<void> {
  const { head } = await openProject(project);
  await edit(project, { id: randomUUID(), base: head, command, author: "test" });
}
async function addItem(name: string, seed: number): Promise<string> {
  const { hash } = await addRecording(`${name}.wav`, [noise(1, RATE, -20, seed)], RATE);
  const item = { id: name, name, source: hash, repairs: [], chain: [], markers: [] };
  await make({ type: "addSource", source: { hash, name: `${name}.wav` }, item });
  return hash;
}
/** The machine's disk is lost: the blobs are gone, the database is new. */
async function loseEverything(): Promise<void> {
  await rm(blobs.store.folder, { recursive: true, force: true });
  await rows("drop schema public cascade");
  await rows("create schema public");
  await migrate();
}
const bytesOf = async (hash: string) => readFile(await blobs.fileOf(hash));
const blobIn = (hash: string) => join(folder, "blobs", hash.slice(0, 2), hash);

beforeAll(migrate);
beforeEach(async () => {
  await loseEverything();
  folder = await mkdtemp(join(tmpdir(), "resonum-backup-"));
  folders.push(folder);
  project = (await createProject("Ferry Songs", "music", "test")).id;
});
afterAll(async () => {
  for (const one of folders) await rm(one, { recursive: true });
});

describe("a backup", () => {
  it("brings a lost studio back: every project with its history, every blob proven", async () => {
    const hash = await addItem("ferry", 1);
    const before = { document: (await openProject(project)).document, states: (await historyOf(project)).length };
    const sound = await bytesOf(hash);
    const taken = await backUp(folder);
    expect(taken).toMatchObject({ lost: [], copied: taken.blobs });
    expect(taken.blobs).toBeGreaterThanOrEqual(2); // its sound and its overview
    await loseEverything();
    expect((await listProjects()).projects).toEqual([]);
    const restored = await restore(folder);
    expect(restored).toMatchObject({ projects: 1, blobs: taken.blobs, bytes: taken.bytes, lost: [] });
    expect((await openProject(project)).document).toEqual(before.document);
    expect(await historyOf(project)).toHaveLength(before.states);
    expect(Buffer.compare(await bytesOf(hash), sound)).toBe(0);
    expect(await scrub()).toMatchObject({ damaged: [], missing: [], checked: taken.blobs });
    await addItem("after", 9); // it goes on
  });

  it("does not take up again what made it", async () => {
    await requestBackup(folder);
    await registerWorker("sluice-1");
    await runJob((await takeJob("sluice-1", false))!, { run: backUpJob, failed: async () => undefined }, never);
    await loseEverything();
    await restore(folder);
    for (const table of ["worker", "job", "backup"]) expect(await rows(`select * from ${table}`)).toEqual([]);
  });

  it("is of one moment while people edit, and copies only what is new", async () => {
    await addItem("one", 1);
    const first = await backUp(folder);
    let stop = false;
    const editing = (async () => {
      for (let count = 0; !stop; count++) await make({ type: "rename", name: `Ferry Songs ${count}` });
    })();
    await addItem("two", 2);
    const second = await backUp(folder);
    stop = true;
    await editing;
    expect(second.blobs).toBe(first.blobs + second.copied);
    expect(second.copied).toBe(first.copied);
    expect((await backUp(folder)).copied).toBe(0);
    await loseEverything();
    await restore(folder, { snapshot: second.snapshot });
    const { document, states } = await openProject(project);
    expect(document.items.map(({ id }) => id)).toEqual(["one", "two"]);
    // Every state of its history is there, the last as the project is.
    const history = await historyOf(project);
    expect(history).toHaveLength(states);
    expect(document.name).toMatch(/^Ferry Songs/);
  });

  it("has what an earlier one had, though the studio removed it since", async () => {
    const hash = await addItem("one", 1);
    const first = await backUp(folder);
    await make({ type: "removeItem", item: "one" } as Command);
    await backUp(folder);
    await loseEverything();
    await restore(folder, { snapshot: first.snapshot });
    expect((await openProject(project)).document.items).toHaveLength(1);
    expect((await bytesOf(hash)).length).toBeGreaterThan(RATE);
  });

  it("says which blobs are damaged, goes on with the others, and is noted", async () => {
    const hash = await addItem("one", 1);
    await truncate(await blobs.store.fileOf(hash), 100);
    const taken = await backUp(folder);
    expect(taken.lost).toEqual([hash]);
    expect(await row("select lost, snapshot, problem from backup")).toEqual({
      lost: 1,
      snapshot: taken.snapshot,
      problem: null,
    });
    await loseEverything();
    expect((await restore(folder)).lost).toEqual([hash]);
    expect((await scrub()).missing).toEqual([hash]);
  });

  it("keeps the newest few, and lets go of the blobs that only the others had", async () => {
    const gone = await addItem("one", 1);
    await backUp(folder);
    await rows("delete from project_state where project_id is null");
    await addItem("two", 2);
    await backUp(folder);
    const backup = new BackupFolder(folder);
    const last = (await backup.snapshots()).at(-1)!;
    expect(await backup.prune(1)).toEqual({ snapshots: 1, blobs: 0 });
    expect(await backup.snapshots()).toEqual([last]);
    expect(await backup.find(gone)).toBeDefined(); // the one that is kept needs it as well
    const manifest = await backup.manifestOf(last);
    const without = { ...manifest, blobs: manifest.blobs.filter(([hash]) => hash !== gone) };
    await backup.finish(await backup.begin(new Date(Date.now() + 60_000)), without);
    expect(await backup.prune(1)).toEqual({ snapshots: 1, blobs: 1 });
    expect(await backup.find(gone)).toBeUndefined();
  });

  it("is not made in the studio's own folder, nor beside another in the same one", async () => {
    await expect(backUp(join(config.dataFolder, "backup"))).rejects.toThrow(/studio's own folder/);
    const backup = new BackupFolder(folder);
    await backup.alone(async () => {
      await expect(backUp(folder)).rejects.toThrow(/Another backup is under way/);
    });
    expect((await row<{ problem: string }>("select problem from backup order by started_at desc"))!.problem).toMatch(
      /under way/,
    );
    // One whose process is gone is in nobody's way.
    await writeFile(join(folder, "working"), "1");
    await backUp(folder);
  });

  it("takes away what one left that was interrupted", async () => {
    const hash = await addItem("one", 1);
    const { snapshot } = await backUp(folder);
    const backup = new BackupFolder(folder);
    const interrupted = await backup.begin(new Date(0));
    await writeFile(backup.dumpOf(interrupted), "half a dump");
    const half = `${blobIn(hash)}.host-1-1-half`;
    await writeFile(half, "half a blob");
    const next = await backUp(folder);
    expect(await readdir(join(folder, "snapshots"))).toEqual([snapshot, next.snapshot].sort());
    await expect(readFile(half)).rejects.toThrow(/ENOENT/);
    expect(await backup.find(hash)).toBeDefined();
  });

  it("says in words where it cannot be written, and that is noted", async () => {
    const file = join(folder, "a file");
    await writeFile(file, "");
    await expect(backUp(file)).rejects.toThrow(/is no folder, or its disk is not there/);
    const noted = await rows<{ problem: string }>("select problem from backup where problem is not null");
    expect(noted).toEqual([{ problem: `${file} is no folder, or its disk is not there.` }]);
  });

  it("keeps the sweeper from removing what it is about to read", async () => {
    const hash = await addItem("one", 1);
    await rows("update blob set reference_count = 0, touched_at = now() - interval '2 hours' where hash = $1", [hash]);
    await whileBlobsStay(async () => {
      expect((await sweep({ dryRun: true })).blobs).toBe(1);
      expect((await sweep({ dryRun: false })).blobs).toBe(0);
      expect(await blobs.size(hash)).toBeGreaterThan(0);
    });
    expect((await sweep({ dryRun: false })).blobs).toBe(1);
  });
});

describe("a restore", () => {
  it("is refused in a studio that holds projects, which stay", async () => {
    await addItem("one", 1);
    await backUp(folder);
    await expect(restore(folder)).rejects.toThrow(/holds 1 project:/);
    expect((await listProjects()).projects).toHaveLength(1);
  });

  it.each([
    ["a blob that is missing", (hash: string) => rm(blobIn(hash)), /missing from the backup or cut off/],
    ["a blob that is cut off", (hash: string) => truncate(blobIn(hash), 10), /missing from the backup or cut off/],
    ["a blob of other bytes", (hash: string) => spoil(blobIn(hash)), /damaged in the backup/],
    [
      "a dump of other bytes",
      (_: string, snapshot: string) => spoil(new BackupFolder(folder).dumpOf(snapshot)),
      /dump/,
    ],
  ])("is refused with %s, and the studio is as empty as it was", async (_, harm, words) => {
    const hash = await addItem("one", 1);
    const { snapshot } = await backUp(folder);
    await harm(hash, snapshot);
    await loseEverything();
    await expect(restore(folder)).rejects.toThrow(words);
    expect((await listProjects()).projects).toEqual([]);
    await createProject("Still works", "music", "test");
  });

  it("is refused of a newer version, and of a folder without backups", async () => {
    const { snapshot } = await backUp(folder);
    const backup = new BackupFolder(folder);
    const manifest = await backup.manifestOf(snapshot);
    await backup.finish(snapshot, { ...manifest, migrations: [...manifest.migrations, "999-later.sql"] });
    await loseEverything();
    await expect(restore(join(folder, "elsewhere"))).rejects.toThrow(/no backup in/);
    await expect(restore(folder)).rejects.toThrow(/newer version of Resonum \(999-later.sql/);
    await writeFile(join(backup.snapshotFolder(snapshot), "manifest.json"), "{}");
    await expect(restore(folder)).rejects.toThrow(/manifest .* is damaged/);
  });
});

describe("a scrub with a backup", () => {
  it("makes whole what is damaged or missing", async () => {
    const [one, two] = [await addItem("one", 1), await addItem("two", 2)];
    await backUp(folder);
    await spoil(await blobs.store.fileOf(one));
    await rm(await blobs.store.fileOf(two));
    const found = await scrub(undefined, new BackupFolder(folder));
    expect(found).toMatchObject({ damaged: [], missing: [] });
    expect(found.repaired.sort()).toEqual([one, two].sort());
    expect(await scrub()).toMatchObject({ damaged: [], missing: [], repaired: [] });
  });
});

describe("a database that a newer version was at work on", () => {
  it("is left alone", async () => {
    await rows("insert into migration (name) values ('999-later.sql')");
    await expect(migrate()).rejects.toThrow(/newer version of Resonum was at work on this database \(999-later.sql/);
    await rows("delete from migration where name = '999-later.sql'");
    await migrate();
  });
});

/** Turns a bit of a file. */
async function spoil(path: string): Promise<void> {
  const bytes = await readFile(path);
  bytes[Math.floor(bytes.length / 2)]! ^= 1;
  await writeFile(path, bytes);
}
