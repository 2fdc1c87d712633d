/** Workers as they announce themselves: seen, drained, asked to end, and forgotten. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { migrate, pool, rows } from "../db/database";
import { enqueue, endJob, takeJob } from "./queue";
import { announceWorker, dismissWorker, drainWorker, registerWorker, removeWorker, workersNow } from "./workers";

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  await rows("delete from worker");
  await registerWorker("sluice-1");
});
const ask = (subject: string) => enqueue({ queue: "render", subject, project: null, costSeconds: 1 });
const silence = (name: string, seconds: number) =>
  rows("update worker set seen_at = now() - make_interval(secs => $2) where name = $1", [name, seconds]);

describe("workers", () => {
  it("are told with what is in their hands", async () => {
    await ask("one");
    await takeJob("sluice-1", false);
    const [worker, ...others] = await workersNow();
    expect(others).toEqual([]);
    expect(worker).toMatchObject({ name: "sluice-1", drained: false, gone: false, jobs: [{ queue: "render" }] });
    expect(worker!.load).toBeGreaterThanOrEqual(0);
    expect(worker!.memory_bytes).toBeGreaterThan(1e6);
  });

  it("that are drained take nothing more, keep what they have, and take up work again", async () => {
    await ask("one");
    const job = (await takeJob("sluice-1", false))!;
    await drainWorker("sluice-1", true);
    await ask("two");
    expect(await takeJob("sluice-1", false)).toBeUndefined();
    expect(await announceWorker("sluice-1")).toBe(false);
    await endJob(job, pool());
    await registerWorker("weir-2");
    expect((await takeJob("weir-2", false))!.subject).toBe("two");
    await ask("three");
    await drainWorker("sluice-1", false);
    expect((await takeJob("sluice-1", false))!.subject).toBe("three");
  });

  it("end once nothing is in their hands", async () => {
    await ask("one");
    const job = (await takeJob("sluice-1", false))!;
    await removeWorker("sluice-1");
    expect(await announceWorker("sluice-1")).toBe(false);
    await endJob(job, pool());
    expect(await announceWorker("sluice-1")).toBe(true);
    await dismissWorker("sluice-1");
    expect(await workersNow()).toEqual([]);
  });

  it("that are silent are gone; they are taken off by hand, or after a day", async () => {
    await silence("sluice-1", 30);
    expect(await workersNow()).toMatchObject([{ gone: true }]);
    await removeWorker("sluice-1");
    expect(await workersNow()).toEqual([]);
    await registerWorker("weir-2");
    await silence("weir-2", 90_000);
    expect(await workersNow()).toEqual([]);
  });

  it("of a name that another had begin anew", async () => {
    await removeWorker("sluice-1");
    await registerWorker("sluice-1");
    expect(await workersNow()).toMatchObject([{ drained: false, stop_asked: false }]);
  });

  it("that are not there cannot be asked for anything", async () => {
    await expect(drainWorker("nobody", true)).rejects.toMatchObject({ status: 404 });
    await expect(removeWorker("nobody")).rejects.toMatchObject({ status: 404 });
  });
});
