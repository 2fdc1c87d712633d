/**
 * The queue, in the database: a job is a row from when it is asked for until it is done. Whoever takes one holds a
 * lease, a token that is new each time; a result is written in the transaction that ends the job under its token, so
 * that a worker which lost its lease, or was stopped, can write nothing any more.
 */
import type { QueuedJob } from "@core/project/views";
import { pool, row, rows, transaction, type Queryable } from "../db/database";

/** In the order in which they are taken where nothing else decides: people wait for recordings first. */
export const QUEUES = [
  "prepare",
  "submission",
  "segment",
  "render",
  "figures",
  "search",
  "standing",
  "copy",
  "backup",
] as const;
export type QueueName = (typeof QUEUES)[number];

export interface NewJob {
  queue: QueueName;
  subject: string;
  /** Whose share of the workers it takes; `null` for nobody's. */
  project: string | null;
  /** What it is expected to take of one worker, seconds. */
  costSeconds: number;
  /** Above 0 before all others of its queue; `BACKGROUND` behind everything. */
  priority?: number;
}

/** Priority of what nobody waits for: it is done while nothing else is to be, and given back as soon as something is. */
export const BACKGROUND = -1;

/** What is expected to take longer is heavy: a worker has one of these in hand at most. */
export const HEAVY_SECONDS = 20;
/** A worker that is not heard of for so long has lost its job. */
export const LEASE_SECONDS = 6;
/** A job in whose hands a worker ended so often is given up; a machine that is killed often must not come to this. */
export const MAX_ATTEMPTS = 20;
/** How far a long job is put behind short ones that came later, seconds at most. */
const MAX_DEFERRED_SECONDS = 600;

/** Puts a job in the queue, in the transaction that asks for it; harmless where it is there already. */
export async function enqueue(
  { queue, subject, project, costSeconds, priority = 0 }: NewJob,
  on: Queryable = pool(),
): Promise<void> {
  await on.query(
    `insert into job (queue, subject, project_id, cost_seconds, priority) values ($1, $2, $3, $4, $5)
     on conflict (queue, subject) do nothing`,
    [queue, subject, project, costSeconds, priority],
  );
}

/** Takes a job out of the queue; whoever works on it has lost it. */
export async function dropJob(queue: QueueName, subject: string, on: Queryable = pool()): Promise<void> {
  await on.query("delete from job where queue = $1 and subject = $2", [queue, subject]);
}

/** Puts a waiting job before all others of its queue. */
export async function prioritise(queue: QueueName, subject: string): Promise<void> {
  await rows(
    `update job set priority = 1 + (select coalesce(max(priority), 0) from job where lease is null)
     where queue = $1 and subject = $2 and lease is null`,
    [queue, subject],
  );
}

export interface Job {
  id: number;
  queue: QueueName;
  subject: string;
  priority: number;
  attempts: number;
  costSeconds: number;
  lease: string;
}

/** Waiting jobs in the order in which they are taken: what was put first, then by age, long ones behind short ones. */
const IN_ORDER = `
  j.priority desc,
  j.created_at + make_interval(secs => least(j.cost_seconds, ${MAX_DEFERRED_SECONDS})),
  array_position(array['${QUEUES.join("','")}'], j.queue), j.id`;

const IS_FREE = "(j.lease is null or j.leased_until < now())";

/** That there is anything that somebody waits for, under way or not; segments belong to whoever asked for them. */
const IS_FOREGROUND_BUSY = "exists (select 1 from job f where f.priority >= 0 and f.queue <> 'segment')";

/** How many jobs of the same project are being worked on: whose project has fewest comes first. */
const SHARE = `(select count(*) from job a where a.project_id = j.project_id and a.id <> j.id and a.leased_until > now())`;

/** Takes the next job; nothing for a worker that is drained. @param lightOnly leaves heavy ones alone */
export async function takeJob(worker: string, lightOnly: boolean): Promise<Job | undefined> {
  const taken = await row<Omit<Job, "costSeconds"> & { cost_seconds: number }>(
    `with next as (
       select j.id from job j
       where ${IS_FREE} and ($2 = false or j.cost_seconds <= ${HEAVY_SECONDS})
         and (j.priority >= 0 or not ${IS_FOREGROUND_BUSY})
         and not exists (select 1 from worker where name = $1 and drained)
       order by j.priority < 0, ${SHARE}, ${IN_ORDER} limit 1 for update skip locked)
     update job set lease = gen_random_uuid(), leased_until = now() + make_interval(secs => ${LEASE_SECONDS}),
       worker = $1, attempts = attempts + 1, started_at = now(), stage = null, fraction = 0
     from next where job.id = next.id
     returning job.id, queue, subject, priority, attempts, lease, cost_seconds`,
    [worker, lightOnly],
  );
  if (!taken) return undefined;
  const { cost_seconds: costSeconds, ...job } = taken;
  return { ...job, costSeconds };
}

/** Moves a lease on, with how far the work is; false when the job is no longer held. */
export async function renewLease(job: Job, stage: string, fraction: number): Promise<boolean> {
  const { rowCount } = await pool().query(
    `update job set leased_until = now() + make_interval(secs => ${LEASE_SECONDS}), stage = $3, fraction = $4
     where id = $1 and lease = $2`,
    [job.id, job.lease, stage, fraction],
  );
  return rowCount === 1;
}

/** Whether anything is to be done that somebody waits for: it is to have the machine for itself. */
export const isForegroundBusy = async (): Promise<boolean> =>
  (await row<{ busy: boolean }>(`select ${IS_FOREGROUND_BUSY} as busy`))!.busy;

/** The job was given to another, or stopped: what was worked out for it is not wanted any more. */
export class LeaseLost extends Error {
  override name = "LeaseLost";
}

/** Ends a job within the transaction that writes its result. @throws LeaseLost, and nothing is written */
export async function endJob(job: Job, client: Queryable): Promise<void> {
  const { rows: ended } = await client.query<{ seconds: number }>(
    `delete from job where id = $1 and lease = $2 returning extract(epoch from now() - started_at)::float8 as seconds`,
    [job.id, job.lease],
  );
  const [one] = ended;
  if (!one) throw new LeaseLost("This job is no longer held.");
  // The mean of the last few, so that what is told of waiting jobs follows this machine.
  await client.query(
    `insert into job_pace (queue, factor) values ($1, $2)
     on conflict (queue) do update set factor = 0.8 * job_pace.factor + 0.2 * excluded.factor`,
    [job.queue, Math.max(0.01, one.seconds) / Math.max(0.1, job.costSeconds)],
  );
}

/** Gives a job back, for another try at once. */
export async function returnJob(job: Job): Promise<void> {
  await rows("update job set lease = null, leased_until = null, attempts = attempts - 1 where id = $1 and lease = $2", [
    job.id,
    job.lease,
  ]);
}

/** Ends a job that failed, with the transaction that says so; nothing where it is no longer held. */
export async function failJob(job: Job, said: (client: Queryable) => Promise<void>): Promise<void> {
  await transaction(async (client) => {
    const { rowCount } = await client.query("delete from job where id = $1 and lease = $2", [job.id, job.lease]);
    if (rowCount === 1) await said(client);
  });
}

/** A project's jobs: those under way, and those that wait with their place among all and when they may be done. */
export const jobsOf = (project: string): Promise<QueuedJob[]> =>
  rows<QueuedJob>(
    `with paced as (
       select j.*, not ${IS_FREE} as active,
         j.cost_seconds * coalesce(p.factor, 1) * (1 - j.fraction) as seconds
       from job j left join job_pace p on p.queue = j.queue),
     workers as (select greatest(1, count(distinct worker)) as count from job j where not ${IS_FREE}),
     placed as (
       select j.*,
         case when active then 0 else row_number() over (partition by active order by ${IN_ORDER}) end as place,
         case when active then seconds else
           ((select coalesce(sum(seconds), 0) from paced where active) + sum(seconds) over (partition by active order by ${IN_ORDER})) / workers.count
         end as ready
       from paced j, workers)
     select queue, subject, active, place::int, greatest(1, ceil(ready))::int as "secondsLeft"
     from placed where project_id = $1 order by active desc, place`,
    [project],
  );
