/** A render worker: a process that takes jobs from the queue until it is told to stop. */
import { setPriority } from "node:os";
import { Cancelled } from "@core/render/stage";
import { blobs } from "./blobs";
import { migrate, rows, transaction } from "./database";
import { log } from "./log";
import { renderFailed, renderMasterJob } from "./masters";
import { enqueue, withoutJob, work, type Job } from "./queue";
import { handoverFailed, handOver } from "./handover";
import { helpWithWork } from "./works";
import { prepareOutdated, prepareSource, preparingFailed } from "./sources";

const JOBS = {
  prepare: { run: prepareSource, failed: preparingFailed },
  handover: { run: handOver, failed: handoverFailed },
  // Who works on the whole takes up what a helper leaves.
  segment: { run: helpWithWork, failed: async () => undefined },
  render: { run: renderMasterJob, failed: renderFailed },
};

async function handle(job: Job, signal: AbortSignal): Promise<void> {
  const { run, failed } = JOBS[job.queue];
  try {
    await run(job.subject, signal);
  } catch (error) {
    if (error instanceof Cancelled || signal.aborted) return;
    log.error({ queue: job.queue, error: (error as Error).message }, "a job failed");
    await failed(job.subject, (error as Error).message);
  }
}

const LOOK_AFTER_LOCK = 0x5e51;
/** What was asked for as recently as this may still be on its way into the queue. */
const SETTLED = "interval '10 seconds'";

/** Puts back in the queue what waits without a job: left by a crash between two steps, or by too many lost leases. */
async function lookAfter(): Promise<void> {
  await transaction(async (client) => {
    const [turn] = await rows<{ mine: boolean }>(
      "select pg_try_advisory_xact_lock($1) as mine",
      [LOOK_AFTER_LOCK],
      client,
    );
    if (!turn?.mine) return;
    const sources = await rows<{ subject: string }>(
      `select hash as subject from source where state in ('waiting', 'preparing') and created_at < now() - ${SETTLED}`,
    );
    const masters = await rows<{ subject: string }>(
      `select id as subject from master where state in ('waiting', 'rendering') and requested_at < now() - ${SETTLED}`,
    );
    await prepareOutdated();
    for (const [queue, waiting] of [
      ["prepare", sources],
      ["render", masters],
    ] as const) {
      const forgotten = await withoutJob(
        queue,
        waiting.map(({ subject }) => subject),
      );
      for (const subject of forgotten) await enqueue(queue, subject);
    }
  });
}

/** What plays and what answers comes first. */
const PATIENT = 5;

export async function runWorker(): Promise<void> {
  const stop = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());
  // Started by another process: end with it, however it ends.
  if (process.channel) process.once("disconnect", () => process.exit(0));
  setPriority(PATIENT);
  await migrate();
  await blobs.sweepDrafts();
  log.info("worker ready");
  await work(handle, lookAfter, stop.signal);
  process.exit(0);
}
