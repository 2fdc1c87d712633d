/** Render workers of all machines: what they say of themselves, and what they are asked to do. */
import { cpus, hostname, loadavg } from "node:os";
import { CORE_VERSION } from "@core/audio/core-version";
import type { WorkerView } from "@core/project/operations-view";
import { row, rows } from "../db/database";
import { notFound } from "../problem";

/** Not heard of for so long, it is taken to be gone. */
export const GONE_SECONDS = 20;
/** What is gone for so long is shown no more. */
const FORGOTTEN = "interval '1 day'";

/** Names a process of this machine. */
export const workerName = (): string => `${hostname()}-${process.pid}`;

/** A sign of life. @returns whether it is to end: it was asked to, and has nothing in hand */
export async function announceWorker(name: string): Promise<boolean> {
  const found = await row<{ ends: boolean }>(
    `insert into worker (name, machine, core_version, load, memory_bytes) values ($1, $2, $3, $4, $5)
     on conflict (name) do update set seen_at = now(), load = excluded.load, memory_bytes = excluded.memory_bytes
     returning stop_asked and not exists (
       select 1 from job where worker = $1 and leased_until > now()) as ends`,
    [name, hostname(), CORE_VERSION, loadavg()[0]! / cpus().length, process.memoryUsage().rss],
  );
  return found!.ends;
}

/** Begins anew under a name that one may have had that is gone: a process number is given again. */
export async function registerWorker(name: string): Promise<void> {
  await rows("delete from worker where name = $1", [name]);
  await announceWorker(name);
}

/** Takes itself off the list. */
export const dismissWorker = async (name: string): Promise<void> =>
  void (await rows("delete from worker where name = $1", [name]));

/** All that were heard of in the last day, with what is in their hands. */
export async function workersNow(): Promise<WorkerView[]> {
  await rows(`delete from worker where seen_at < now() - ${FORGOTTEN}`);
  return rows<WorkerView>(
    `select name, machine, core_version, started_at, seen_at, load, memory_bytes, drained, stop_asked,
       seen_at < now() - make_interval(secs => ${GONE_SECONDS}) as gone,
       coalesce((
         select jsonb_agg(jsonb_build_object('queue', queue, 'stage', stage, 'fraction', fraction) order by id)
         from job where job.worker = worker.name and leased_until > now()), '[]') as jobs
     from worker order by machine, started_at`,
  );
}

/** @throws Problem where there is none of that name */
export async function drainWorker(name: string, drained: boolean): Promise<void> {
  const found = await rows("update worker set drained = $2 where name = $1 returning name", [name, drained]);
  if (found.length === 0) throw notFound("worker");
}

/** Asks it to end once nothing is in its hands; one that is gone is taken off the list. @throws Problem */
export async function removeWorker(name: string): Promise<void> {
  const found = await row<{ gone: boolean }>(
    `update worker set drained = true, stop_asked = true where name = $1
     returning seen_at < now() - make_interval(secs => ${GONE_SECONDS}) as gone`,
    [name],
  );
  if (!found) throw notFound("worker");
  if (found.gone) await dismissWorker(name);
}
