/** Backups that are made by themselves, and those that are asked for from the page: jobs of the queue. */
import { resolve } from "node:path";
import type { BackupRun } from "@core/project/operations-view";
import { config } from "../config";
import { row, rows } from "../db/database";
import type { JobContext } from "../queue/job-runner";
import { enqueue } from "../queue/queue";
import { backUp, refuseOwnFolders } from "./backup";

/** What a backup is expected to take of a worker where much is new. */
const COST_SECONDS = 60;

const enqueueBackup = (place: string): Promise<void> =>
  enqueue({ queue: "backup", subject: resolve(place), project: null, costSeconds: COST_SECONDS });

/** Asks for a backup in a folder of the machine whose worker takes it. @throws Problem where it lies in the studio's own */
export async function requestBackup(place: string): Promise<void> {
  refuseOwnFolders(place);
  await enqueueBackup(place);
}

/** The job. */
export async function backUpJob({ subject: place, signal, progress }: JobContext): Promise<void> {
  const { folder, keep } = config.backups;
  const isScheduled = folder !== "" && resolve(folder) === place;
  await backUp(place, {
    keep: isScheduled ? keep : undefined,
    signal,
    onProgress: (fraction) => progress("backing up", fraction),
  });
}

/**
 * Asks for the next one once the last was begun long enough ago; one that failed is tried again in an hour. A folder that
 * cannot be taken is noted by the job: whoever looks after the queue goes on.
 */
export async function requestDueBackup(): Promise<void> {
  const { folder, hours } = config.backups;
  if (folder === "") return;
  const recent = await row(
    `select 1 from backup where place = $1 and started_at > now() - make_interval(mins =>
       case when problem is null then $2::int else least($2::int, 60) end)`,
    [resolve(folder), Math.round(hours * 60)],
  );
  if (!recent) await enqueueBackup(folder);
}

const MOST_RUNS = 30;

/** The latest first. */
export const backupRuns = (): Promise<BackupRun[]> =>
  rows<BackupRun>(
    `select id, place, started_at, finished_at, snapshot, blobs, bytes, copied_bytes, lost, problem
     from backup order by started_at desc limit ${MOST_RUNS}`,
  );
