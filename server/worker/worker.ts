/** A render worker: a process that takes jobs from the queue until it is told to stop. */
import { getPriority, setPriority } from "node:os";
import { blobs } from "../storage/blobs";
import { migrate } from "../db/database";
import { submissionFailed, runSubmission } from "../delivery/submission";
import { workQueue, type Handlers } from "../queue/job-runner";
import { announceWorker, dismissWorker, registerWorker, workerName } from "../queue/workers";
import { itemFiguresFailed, itemFiguresJob } from "../rendering/item-figures";
import { backUpJob } from "../operations/scheduled-backups";
import { predictStandingJob } from "../rendering/predicted-standing";
import { renderPendingSegments } from "../rendering/item-renders";
import { log } from "../log";
import { renderFailed, renderMasterJob } from "../rendering/masters";
import { searchEventsFailed, searchEventsJob } from "../ingest/search-events";
import { prepareSource, preparationFailed } from "../ingest/prepare";
import { copyFailed, copyJob } from "../review/copies";
import { keepSending } from "../webhooks/sending";
import { reconcile } from "./reconcile";

const HANDLERS: Handlers = {
  prepare: { run: prepareSource, failed: preparationFailed },
  submission: { run: runSubmission, failed: submissionFailed },
  // Who works on the whole takes up what a helper leaves.
  segment: { run: renderPendingSegments, failed: async () => undefined },
  render: { run: renderMasterJob, failed: renderFailed },
  search: { run: searchEventsJob, failed: searchEventsFailed },
  backup: { run: backUpJob, failed: async () => undefined }, // it is noted with the backup
  standing: { run: predictStandingJob, failed: async () => undefined },
  copy: { run: copyJob, failed: copyFailed },
  figures: { run: itemFiguresJob, failed: itemFiguresFailed },
};

/** What plays and what answers comes first. */
const PATIENT = 5;
/** How often the studio does. */
const ANNOUNCE_MS = 3000;
/** How often whoever started this hears that it lives. */
const SIGN_OF_LIFE_MS = 2000;

export async function runWorker(): Promise<void> {
  const stop = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());
  if (process.channel) {
    // Started by another process: end with it, however it ends.
    process.once("disconnect", () => process.exit(0));
    setInterval(() => process.send?.("alive"), SIGN_OF_LIFE_MS).unref();
  }
  // Who was started more patiently still stays so: only root may hurry.
  if (getPriority() < PATIENT) setPriority(PATIENT);
  await migrate();
  await blobs.sweepDrafts();
  log.info("worker ready");
  const name = workerName();
  await registerWorker(name);
  const signs = setInterval(() => {
    announceWorker(name).then(
      (isAsked) => isAsked && stop.abort(),
      () => undefined, // the queue says it as well
    );
  }, ANNOUNCE_MS);
  const sending = keepSending(stop.signal);
  await workQueue(HANDLERS, reconcile, stop.signal, name);
  clearInterval(signs);
  await sending;
  await dismissWorker(name).catch(() => undefined);
  process.exit(0);
}
