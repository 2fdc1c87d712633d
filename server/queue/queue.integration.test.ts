/** The queue on the real PostgreSQL: leases, shares, places, and what becomes of jobs whose worker is gone. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { migrate, pool, row, rows, transaction } from "../db/database";
import { runJob, errorMessage, type Handler, type JobContext } from "./job-runner";
import { createProject } from "../projects/projects";
import { dropJob, endJob, enqueue, jobsOf, LeaseLost, MAX_ATTEMPTS, prioritise, renewLease, takeJob } from "./queue";

let one: string;
let two: string;
beforeAll(async () => {
  await migrate();
  one = (await createProject("One", "music", "test")).id;
  two = (await createProject("Two", "music", "test")).id;
});
beforeEach(async () => void (await rows("delete from job")));

const ask = (subject: string, costSeconds = 1, project: string | null = one) =>
  enqueue({ queue: "render", subject, project, costSeconds });
/** Of subjects, those that have no job. */
const withoutJob = async (queue: string, subjects: string[]) => {
  const known = await rows<{ subject: string }>("select subject from job where queue = $1", [queue]);
  return subjects.filter((subject) => !known.some((job) => job.subject === subject));
};
const take = async (worker = "w", lightOnly = false) => (await takeJob(worker, lightOnly))?.subject;
const expire = () => rows("update job set leased_until = now() - interval '1 second' where lease is not null");
const never = new AbortController().signal;

/** A handler that keeps what was said of failures. */
function handler(run: (job: JobContext) => Promise<void>): Handler & { said: string[] } {
  const said: string[] = [];
  return { said, run, failed: async (_, why) => void said.push(why) };
}

describe("jobs", () => {
  it("are there once, however often they are asked for, and gone when they are dropped", async () => {
    await ask("a");
    await ask("a");
    expect(await withoutJob("render", ["a", "b"])).toEqual(["b"]);
    expect(await take()).toBe("a");
    expect(await take()).toBeUndefined();
    await dropJob("render", "a");
    expect(await withoutJob("render", ["a"])).toEqual(["a"]);
  });
  it("are asked for in the transaction that wants them, or not at all", async () => {
    await transaction(async (client) => {
      await enqueue({ queue: "render", subject: "a", project: one, costSeconds: 1 }, client);
      throw new Error("no");
    }).catch(() => undefined);
    expect(await take()).toBeUndefined();
  });
  it("are taken once by any number of workers at a time", async () => {
    for (let n = 0; n < 12; n++) await ask(`s${n}`);
    const taken = await Promise.all(Array.from({ length: 30 }, (_, n) => take(`w${n}`)));
    const subjects = taken.filter((subject) => subject !== undefined);
    expect(new Set(subjects).size).toBe(12);
    expect(subjects).toHaveLength(12);
  });
});

describe("whose turn it is", () => {
  it("is first that of the project for which least is being done", async () => {
    for (const subject of ["a", "b", "c"]) await ask(subject, 1, one);
    await ask("z", 1, two);
    expect([await take(), await take(), await take()]).toEqual(["a", "z", "b"]);
  });
  it("is that of short work before long work that came a little earlier, and not for ever", async () => {
    await ask("long", 900);
    await ask("short", 2);
    expect(await take()).toBe("short");
    await ask("later", 2);
    await rows("update job set created_at = now() - interval '11 minutes' where subject = 'long'");
    expect(await take()).toBe("long");
  });
  it("leaves a way free for short work: one lane takes no long work", async () => {
    await ask("long", 900);
    expect(await take("w", true)).toBeUndefined();
    await ask("short", 2);
    expect(await take("w", true)).toBe("short");
  });
  it("can be changed by a person", async () => {
    for (const subject of ["a", "b", "c"]) await ask(subject);
    await prioritise("render", "c");
    expect(await take()).toBe("c");
  });
  it("is told with a place and an estimate, from what jobs took lately", async () => {
    await ask("a", 10);
    await ask("b", 10);
    await ask("c", 10, two);
    await take();
    const jobs = await jobsOf(one);
    expect(jobs.map(({ subject, active, place }) => ({ subject, active, place }))).toEqual([
      { subject: "a", active: true, place: 0 },
      { subject: "b", active: false, place: 1 },
    ]);
    expect(jobs[1]!.secondsLeft).toBeGreaterThan(jobs[0]!.secondsLeft);
    expect(await jobsOf(two)).toMatchObject([{ subject: "c", place: 2 }]);
  });
});

describe("a lease", () => {
  it("that ran out goes to another, and the one who had it can write nothing any more", async () => {
    await ask("a");
    const first = (await takeJob("slow", false))!;
    await expire();
    const second = (await takeJob("quick", false))!;
    expect(second).toMatchObject({ subject: "a", attempts: 2 });
    expect(await renewLease(first, "", 0.5)).toBe(false);
    expect(await renewLease(second, "", 0.5)).toBe(true);
    const write = transaction(async (client) => {
      await client.query("update project set opened_at = '2000-01-01' where id = $1", [one]);
      await endJob(first, client);
    });
    await expect(write).rejects.toThrow(LeaseLost);
    expect(await row("select 1 from project where opened_at = '2000-01-01'")).toBeUndefined();
    await transaction((client) => endJob(second, client));
    expect(await withoutJob("render", ["a"])).toEqual(["a"]);
  });
  it("is lost with the job when that is stopped: the handler hears of it", async () => {
    await ask("a");
    const job = (await takeJob("w", false))!;
    let aborted = false;
    const waiting = handler(async ({ signal }) => {
      await dropJob("render", "a");
      await new Promise((resolve) => signal.addEventListener("abort", resolve));
      aborted = true;
      throw new Error("stopped");
    });
    await runJob(job, waiting, never);
    expect(aborted).toBe(true);
    expect(waiting.said).toEqual([]);
  });
});

describe("a job that cannot be done", () => {
  it("is failed with its reason, once", async () => {
    await ask("a");
    const failing = handler(async () => {
      throw new Error("The file is torn.");
    });
    await runJob((await takeJob("w", false))!, failing, never);
    expect(failing.said).toEqual(["The file is torn."]);
    expect(await take()).toBeUndefined();
  });
  it("is not failed where the database went away, but handed back", async () => {
    await ask("a");
    const cut = handler(async () => {
      throw Object.assign(new Error("terminating connection due to administrator command"), { code: "57P01" });
    });
    await runJob((await takeJob("w", false))!, cut, never);
    expect(cut.said).toEqual([]);
    expect(await take()).toBe("a");
  });
  it("tells a person none of the machine's words", () => {
    const missing = Object.assign(new Error("ENOENT: no such file, open '/srv/data/blobs/ab'"), { code: "ENOENT" });
    for (const error of [missing, new TypeError("x is undefined"), new Error("spawn E2BIG")])
      expect(errorMessage(error)).toMatch(/^It failed on the server/);
    expect(errorMessage(new Error("This item was cut, and its picture was not."))).toBe(
      "This item was cut, and its picture was not.",
    );
  });
  it("is failed when it gets no further for the stated time, and says so", async () => {
    await ask("a");
    const standing = handler(
      ({ signal }) => new Promise((_, reject) => signal.addEventListener("abort", () => reject(new Error("aborted")))),
    );
    await runJob((await takeJob("w", false))!, standing, never, 1);
    expect(standing.said.join()).toMatch(/got no further for 3 minutes/);
  });
  it("goes on as long as it gets on", async () => {
    await ask("a");
    const slow = handler(async ({ progress }) => {
      for (let n = 0; n < 5; n++) {
        await new Promise((resolve) => setTimeout(resolve, 600));
        progress("working", n / 5);
      }
    });
    await runJob((await takeJob("w", false))!, slow, never, 1);
    expect(slow.said).toEqual([]);
    expect(await withoutJob("render", ["a"])).toEqual(["a"]);
  });
  it("is given up when worker after worker ended with it", async () => {
    await ask("a");
    await rows("update job set attempts = $1", [MAX_ATTEMPTS]);
    const deadly = handler(async () => undefined);
    await runJob((await takeJob("w", false))!, deadly, never);
    expect(deadly.said.join()).toMatch(/ended 20 times while it was at this/);
  });
  it("is handed back, and not counted, when its worker is told to stop", async () => {
    await ask("a");
    const stop = new AbortController();
    const job = (await takeJob("w", false))!;
    const long = handler(
      ({ signal }) => new Promise((_, reject) => signal.addEventListener("abort", () => reject(new Error("x")))),
    );
    const running = runJob(job, long, stop.signal);
    stop.abort();
    await running;
    expect(long.said).toEqual([]);
    expect(await row("select attempts, lease from job where subject = 'a'")).toEqual({ attempts: 0, lease: null });
  });
});

describe("the database", () => {
  it("losing a connection that is in use ends no process", async () => {
    const client = await pool().connect();
    const { pid } = (await client.query<{ pid: number }>("select pg_backend_pid() as pid")).rows[0]!;
    await rows("select pg_terminate_backend($1)", [pid]);
    await new Promise((resolve) => setTimeout(resolve, 200)); // an unhandled error would end the test here
    client.release(true);
    expect(await row("select 1 as one")).toEqual({ one: 1 });
  });
  it("runs a transaction again after a deadlock", async () => {
    await rows("create table if not exists pair (id int primary key, n int default 0)");
    await rows("insert into pair (id) values (1), (2) on conflict do nothing");
    const crossing = (first: number, second: number) =>
      transaction(async (client) => {
        await client.query("update pair set n = n + 1 where id = $1", [first]);
        await new Promise((resolve) => setTimeout(resolve, 150));
        await client.query("update pair set n = n + 1 where id = $1", [second]);
      });
    await Promise.all([crossing(1, 2), crossing(2, 1)]);
    expect(await rows("select n from pair order by id")).toEqual([{ n: 2 }, { n: 2 }]);
  });
  it("is migrated by any number of processes at once", async () => {
    await Promise.all(Array.from({ length: 5 }, () => migrate()));
    expect((await rows("select name from migration")).length).toBeGreaterThanOrEqual(7);
  });
});
