/**
 * The queue: pg-boss, version 10. It has no heartbeat, so a lease is kept short and renewed here by moving the job's
 * start: this file alone knows that table, and the version is pinned. A worker that dies stops renewing, its lease
 * runs out, and another takes the job.
 */
import PgBoss from "pg-boss";
import { config } from "./config";
import { pool } from "./database";
import { log } from "./log";

export const QUEUES = ["prepare", "handover", "segment", "render"] as const;
export type QueueName = (typeof QUEUES)[number];
export interface Job {
  queue: QueueName;
  id: string;
  /** The source's hash, or the id of the hand-over, the work or the master. */
  subject: string;
}

const LEASE_SECONDS = 4;
const RENEW_MS = 1000;
const POLL_MS = 250;
const EXPIRE_MS = 1000;
const LOOK_AFTER_MS = 15_000;
const RETRIES = 5;

const holder = globalThis as typeof globalThis & { resonumQueue?: Promise<PgBoss> };

async function start(): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: config.databaseUrl, max: 3, supervise: true, schedule: false });
  boss.on("error", (error) => log.warn({ error: error.message }, "queue"));
  await boss.start();
  for (const name of QUEUES) await boss.createQueue(name);
  return boss;
}

function queue(): Promise<PgBoss> {
  holder.resonumQueue ??= start().catch((error: unknown) => {
    delete holder.resonumQueue;
    throw error;
  });
  return holder.resonumQueue;
}

/** Puts a job in the queue. The job's id, when it is given, makes sending twice harmless. */
export async function enqueue(name: QueueName, subject: string): Promise<string> {
  const boss = await queue();
  const id = await boss.send(name, { subject }, { expireInSeconds: LEASE_SECONDS, retryLimit: RETRIES, retryDelay: 0 });
  if (!id) throw new Error(`the queue did not take a ${name} job`);
  return id;
}

/** Of `subjects`, those that no waiting or running job is on. */
export async function withoutJob(name: QueueName, subjects: string[]): Promise<string[]> {
  const live = await pool().query<{ subject: string }>(
    "select data->>'subject' as subject from pgboss.job where name = $1 and state < 'completed' and data->>'subject' = any($2)",
    [name, subjects],
  );
  const known = new Set(live.rows.map(({ subject }) => subject));
  return subjects.filter((subject) => !known.has(subject));
}

/** Takes waiting jobs on `subject` out of the queue and lets go of running ones. */
export async function cancelJobs(name: QueueName, subject: string): Promise<void> {
  const boss = await queue();
  const found = await pool().query<{ id: string }>(
    "select id from pgboss.job where name = $1 and data->>'subject' = $2 and state < 'completed'",
    [name, subject],
  );
  const ids = found.rows.map(({ id }) => id);
  if (ids.length > 0) await boss.cancel(name, ids);
}

/** Moves the lease on; false when the job is no longer ours (cancelled, or given to another). */
async function renew(job: Job): Promise<boolean> {
  const { rowCount } = await pool().query(
    "update pgboss.job set started_on = now() where name = $1 and id = $2 and state = 'active'",
    [job.queue, job.id],
  );
  return rowCount === 1;
}

/** Works on one job with its lease kept; `signal` of the handler is aborted when the lease is lost. */
async function workOn(boss: PgBoss, job: Job, handle: (job: Job, signal: AbortSignal) => Promise<void>): Promise<void> {
  const lease = new AbortController();
  const timer = setInterval(() => {
    renew(job).then(
      (ours) => {
        if (!ours) lease.abort();
      },
      (error: Error) => log.warn({ error: error.message }, "could not renew a lease"),
    );
  }, RENEW_MS);
  try {
    await handle(job, lease.signal);
    if (!lease.signal.aborted) await boss.complete(job.queue, job.id);
  } catch (error) {
    if (!lease.signal.aborted) await boss.fail(job.queue, job.id, { message: (error as Error).message });
  } finally {
    clearInterval(timer);
  }
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Fetches and works on one job after the other until `stop` is aborted, and calls `lookAfter` now and then. Survives a
 * database that goes away.
 */
export async function work(
  handle: (job: Job, signal: AbortSignal) => Promise<void>,
  lookAfter: () => Promise<void>,
  stop: AbortSignal,
): Promise<void> {
  let lastExpire = 0;
  let lastLook = 0;
  while (!stop.aborted) {
    try {
      const boss = await queue();
      if (Date.now() - lastExpire > EXPIRE_MS) {
        lastExpire = Date.now();
        await boss.expire();
      }
      if (Date.now() - lastLook > LOOK_AFTER_MS) {
        lastLook = Date.now();
        await lookAfter();
      }
      let worked = false;
      for (const name of QUEUES) {
        const [job] = await boss.fetch<{ subject: string }>(name);
        if (!job) continue;
        worked = true;
        await workOn(boss, { queue: name, id: job.id, subject: job.data.subject }, handle);
        break; // recordings first: they are what people wait for
      }
      if (!worked) await pause(POLL_MS);
    } catch (error) {
      log.warn({ error: (error as Error).message }, "the queue cannot be reached; trying again");
      await pause(1000);
    }
  }
  const boss = await holder.resonumQueue?.catch(() => undefined);
  await boss?.stop({ graceful: false });
}

/** Puts a waiting job before all others of its queue. */
export async function hasten(name: QueueName, subject: string): Promise<void> {
  await queue();
  await pool().query(
    `update pgboss.job set priority = 1 + (select coalesce(max(priority), 0) from pgboss.job where name = $1 and state < 'active')
     where name = $1 and data->>'subject' = $2 and state < 'active'`,
    [name, subject],
  );
}
