/** Works on jobs of the queue: keeps their leases, watches that they get on, and says the last word on those that fail. */
import { Cancelled } from "@core/audio/cancellation";
import { databaseTrouble, transaction, type Queryable } from "../db/database";
import { log } from "../log";
import {
  endJob,
  failJob,
  isForegroundBusy,
  LeaseLost,
  MAX_ATTEMPTS,
  renewLease,
  returnJob,
  takeJob,
  type Job,
  type QueueName,
} from "./queue";

const RENEW_MS = 1000;
const POLL_MS = 250;
const RECONCILE_MS = 5000;
/** A job that gets no further for so long is failed. */
export const STALLED_SECONDS = 180;

/** A job as its handler has it. */
export interface JobContext {
  subject: string;
  /** Aborted when the job is no longer ours, or stands still. */
  signal: AbortSignal;
  /** Says how far it is; to be called whenever it gets on. */
  progress(stage: string, fraction: number): void;
  /** Ends the job in the transaction that writes its result. @throws LeaseLost */
  end(client: Queryable): Promise<void>;
}

export interface Handler {
  /** Safe to run again at any time. A handler that writes a result calls `end` with it. */
  run(job: JobContext): Promise<void>;
  /** Writes why it failed, in words for a person. */
  failed(subject: string, why: string, client: Queryable): Promise<void>;
}
export type Handlers = Readonly<Record<QueueName, Handler>>;

const STALLED = `It was stopped because it got no further for ${STALLED_SECONDS / 60} minutes. Try again; if it stops once more, the file is likely damaged.`;
const GAVE_UP = `The worker ended ${MAX_ATTEMPTS} times while it was at this, so it was given up. The file may be damaged, or need more memory than this machine has.`;

/** What is not done so long after a stop is handed back to the queue. */
const FINISH_MS = 2500;

/** Runs one job with its lease kept; hands it back where it is not done soon after `stop`. */
export async function runJob(
  job: Job,
  { run, failed }: Handler,
  stop: AbortSignal,
  stalledSeconds = STALLED_SECONDS,
): Promise<void> {
  if (job.attempts > MAX_ATTEMPTS) return failJob(job, (client) => failed(job.subject, GAVE_UP, client));
  const lost = new AbortController();
  let at = { stage: "", fraction: 0, since: Date.now() };
  let stalled = false;
  let ended = false;
  let handedBack = false;
  const handBack = () => {
    handedBack = true;
    lost.abort();
  };
  const onStop = () => setTimeout(handBack, FINISH_MS).unref();
  stop.addEventListener("abort", onStop);
  const timer = setInterval(() => {
    if (Date.now() - at.since > stalledSeconds * 1000) {
      stalled = true;
      lost.abort();
    }
    renewLease(job, at.stage, at.fraction).then(
      (ours) => ours || lost.abort(),
      (error: Error) => log.warn({ error: error.message }, "could not renew a lease"),
    );
    // What nobody waits for makes room for what somebody does.
    if (job.priority < 0)
      isForegroundBusy().then(
        (busy) => busy && !ended && handBack(),
        () => undefined,
      );
  }, RENEW_MS);
  const held: JobContext = {
    subject: job.subject,
    signal: lost.signal,
    progress(stage, fraction) {
      if (stage !== at.stage || fraction !== at.fraction) at = { stage, fraction, since: Date.now() };
    },
    async end(client) {
      await endJob(job, client);
      ended = true;
    },
  };
  const began = Date.now();
  try {
    await run(held);
    if (!ended) await transaction((client) => endJob(job, client));
    log.info({ queue: job.queue, seconds: (Date.now() - began) / 1000, attempts: job.attempts }, "a job is done");
  } catch (error) {
    if (handedBack) await returnJob(job);
    else if (stalled) await failJob(job, (client) => failed(job.subject, STALLED, client));
    else if (!(error instanceof Cancelled || error instanceof LeaseLost || lost.signal.aborted)) {
      log.error({ queue: job.queue, error: (error as Error).message }, "a job failed");
      // Without its database it failed at nothing of its own: whoever takes it next goes on.
      if (databaseTrouble(error)) await returnJob(job);
      else await failJob(job, (client) => failed(job.subject, errorMessage(error as Error), client));
    }
  } finally {
    clearInterval(timer);
    stop.removeEventListener("abort", onStop);
  }
}

/** Why a job failed, for a person: what was written for one as it is, the machine's own words not at all. */
export function errorMessage(error: Error): string {
  const isOurs =
    !("code" in error || "syscall" in error) && /^(Error|FileProblem|TookTooLong|Problem)$/.test(error.name);
  return isOurs && /[.!]$/.test(error.message)
    ? error.message
    : "It failed on the server, whose log says why. Nothing that was finished is lost; try again.";
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** One job after the other, until `stop`. Survives a database that goes away. */
async function lane(handlers: Handlers, lightOnly: boolean, stop: AbortSignal, worker: string): Promise<void> {
  while (!stop.aborted) {
    try {
      const job = await takeJob(worker, lightOnly);
      if (!job) await pause(POLL_MS);
      else if (stop.aborted) await returnJob(job);
      else await runJob(job, handlers[job.queue], stop);
    } catch (error) {
      log.warn({ error: (error as Error).message }, "the queue cannot be reached; trying again");
      await pause(1000);
    }
  }
}

/**
 * Works until `stop` is aborted, on two jobs at a time: one of any kind, and beside it one that is short, so that short
 * work never waits for long work. `reconcile` is called now and then.
 */
export async function workQueue(
  handlers: Handlers,
  reconcile: () => Promise<void>,
  stop: AbortSignal,
  worker: string,
): Promise<void> {
  await Promise.all([
    lane(handlers, false, stop, worker),
    lane(handlers, true, stop, worker),
    (async () => {
      for (let waited = RECONCILE_MS; !stop.aborted; waited += POLL_MS) {
        if (waited >= RECONCILE_MS) {
          waited = 0;
          await reconcile().catch((error: Error) =>
            log.warn({ error: error.message }, "could not look after the queue"),
          );
        }
        await pause(POLL_MS);
      }
    })(),
  ]);
}
