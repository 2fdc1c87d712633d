/** Backups that are due are asked for by themselves, one at a time, and again soon where one failed. */
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { config } from "../config";
import { migrate, rows } from "../db/database";
import { runJob } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { BackupFolder } from "./backup-folder";
import { operationsOverview } from "./overview";
import { backUpJob, requestBackup, requestDueBackup } from "./scheduled-backups";

let folder: string;
const given = { ...config.backups };
const jobs = () => rows("select subject from job where queue = 'backup'");
async function work(): Promise<void> {
  const job = (await takeJob("w", false))!;
  await runJob(job, { run: backUpJob, failed: async () => undefined }, new AbortController().signal);
}

beforeAll(async () => {
  await migrate();
  folder = await mkdtemp(join(tmpdir(), "resonum-scheduled-"));
});
beforeEach(async () => {
  await rows("delete from job");
  await rows("delete from backup");
  Object.assign(config.backups, { folder, hours: 24, keep: 2 });
});
afterAll(async () => {
  Object.assign(config.backups, given);
  await rm(folder, { recursive: true });
});

describe("backups that are made by themselves", () => {
  it("are asked for where none is recent, once, and not where no folder is named", async () => {
    await requestDueBackup();
    await requestDueBackup();
    expect(await jobs()).toEqual([{ subject: folder }]);
    await work();
    await requestDueBackup();
    expect(await jobs()).toEqual([]);
    await rows("update backup set started_at = now() - interval '25 hours'");
    config.backups.folder = "";
    await requestDueBackup();
    expect(await jobs()).toEqual([]);
  });

  it("keep as many as is said; one that a person asked for elsewhere removes none", async () => {
    for (let count = 0; count < 3; count++) {
      await requestBackup(folder);
      await work();
    }
    expect(await new BackupFolder(folder).snapshots()).toHaveLength(2);
    const elsewhere = await mkdtemp(join(tmpdir(), "resonum-elsewhere-"));
    for (let count = 0; count < 3; count++) {
      await requestBackup(elsewhere);
      await work();
    }
    expect(await new BackupFolder(elsewhere).snapshots()).toHaveLength(3);
    await rm(elsewhere, { recursive: true });
  });

  it("that failed are tried again in an hour", async () => {
    await rows("insert into backup (place, problem, finished_at) values ($1, 'The disk is full.', now())", [folder]);
    await requestDueBackup();
    expect(await jobs()).toEqual([]);
    await rows("update backup set started_at = now() - interval '61 minutes'");
    await requestDueBackup();
    expect(await jobs()).toHaveLength(1);
  });

  it("in a folder that cannot be taken stop nobody who looks after the queue: it is noted why", async () => {
    config.backups.folder = join(config.dataFolder, "backups");
    await requestDueBackup();
    await work();
    const { backups } = await operationsOverview();
    expect(backups).toMatchObject([{ snapshot: null, problem: expect.stringMatching(/studio's own folder/) }]);
    await requestDueBackup();
    expect(await jobs()).toEqual([]);
  });

  it("stand in the overview, the latest first, with the queue", async () => {
    await requestBackup(folder);
    await work();
    await requestBackup(folder);
    const { backups, queues, schedule } = await operationsOverview();
    expect(backups).toHaveLength(1);
    expect(backups[0]).toMatchObject({ place: folder, problem: null, lost: 0 });
    expect(queues).toEqual([{ queue: "backup", active: 0, waiting: 1, waited: expect.any(Number) }]);
    expect(schedule).toEqual({ folder, hours: 24 });
  });
});
