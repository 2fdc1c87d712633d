/** A render worker: a process that takes jobs from the queue until it is told to stop. */
import { Cancelled } from "@core/render/stage";
import { blobs } from "./blobs";
import { migrate } from "./database";
import { log } from "./log";
import { renderFailed, renderMasterJob } from "./masters";
import { work, type Job } from "./queue";
import { prepareSource, preparingFailed } from "./sources";

const JOBS = {
  prepare: { run: prepareSource, failed: preparingFailed },
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

export async function runWorker(): Promise<void> {
  const stop = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());
  // Started by another process: end with it, however it ends.
  if (process.channel) process.once("disconnect", () => process.exit(0));
  await migrate();
  await blobs.sweepDrafts();
  log.info("worker ready");
  await work(handle, stop.signal);
  process.exit(0);
}
