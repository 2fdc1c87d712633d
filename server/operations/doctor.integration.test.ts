/** What is wrong with a studio is said, one thing at a time, and nothing is changed by looking. */
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { migrate, rows } from "../db/database";
import { enqueue, takeJob } from "../queue/queue";
import { dismissWorker, drainWorker, registerWorker } from "../queue/workers";
import { backUp } from "./backup";
import { examine } from "./doctor";

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  await rows("delete from backup");
});
const found = async (name: string) => (await examine()).find((check) => check.name === name)!;

describe("the doctor", () => {
  it("finds a studio well, but for the backup that it has not", async () => {
    const checks = await examine();
    expect(checks.filter(({ state }) => state === "failed")).toEqual([]);
    expect(checks.map(({ name }) => name)).toEqual(
      expect.arrayContaining(["Node.js", "Database", "Schema", "Clock", "Store", "Free space", "ffmpeg", "Queue"]),
    );
    expect(await found("Backups")).toMatchObject({ state: "warning", words: expect.stringMatching(/no backup yet/) });
    const folder = await mkdtemp(join(tmpdir(), "resonum-doctor-"));
    await backUp(folder);
    expect(await found("Backups")).toMatchObject({ state: "ok" });
    await rows("update backup set finished_at = now() - interval '3 days'");
    expect(await found("Backups")).toMatchObject({ state: "warning", words: expect.stringMatching(/3 days ago/) });
    await rows("update backup set finished_at = now(), lost = 2");
    expect((await found("Backups")).words).toMatch(/without 2 blobs/);
    await rm(folder, { recursive: true });
  });

  it("tells work that waits with nobody on it from work that is done", async () => {
    expect((await found("Queue")).words).toBe("nothing waits");
    await enqueue({ queue: "render", subject: "a", project: null, costSeconds: 1 });
    expect(await found("Queue")).toMatchObject({ state: "warning", words: expect.stringMatching(/nobody works/) });
    // Whoever gave a sign of life takes it in a moment; whoever is drained does not.
    await registerWorker("w");
    expect(await found("Queue")).toMatchObject({ state: "ok" });
    await drainWorker("w", true);
    expect(await found("Queue")).toMatchObject({ state: "warning" });
    await dismissWorker("w");
    await enqueue({ queue: "render", subject: "b", project: null, costSeconds: 1 });
    await takeJob("w", false);
    expect(await found("Queue")).toMatchObject({ state: "ok", words: expect.stringMatching(/^1 job waiting/) });
  });

  it("tells a schema of a newer version, and one that is behind", async () => {
    await rows("insert into migration (name) values ('999-later.sql')");
    expect(await found("Schema")).toMatchObject({ state: "failed", words: expect.stringMatching(/999-later.sql/) });
    await rows("delete from migration where name = '999-later.sql'");
    await rows("delete from migration where name = '001-begin.sql'");
    expect(await found("Schema")).toMatchObject({ state: "warning", words: expect.stringMatching(/^1 migration to/) });
    await rows("insert into migration (name) values ('001-begin.sql')");
  });
});
