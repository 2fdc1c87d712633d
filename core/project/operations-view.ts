/** What the server tells of a studio to whoever looks after it, as it goes over the wire. */
import type { Instant } from "../audio/instant";
import type { QueuedJob } from "./views";

/** One thing that a studio stands on. */
export interface HealthCheck {
  name: string;
  state: "ok" | "warning" | "failed";
  /** What was found, and what to do about it. */
  words: string;
}

export interface QueueLoad {
  queue: QueuedJob["queue"];
  active: number;
  waiting: number;
  /** How long the oldest of those that wait has waited, seconds; `null` where none does. */
  waited: number | null;
}

/** A render worker, by what it said of itself. */
export interface WorkerView {
  name: string;
  machine: string;
  /** Those of another version than the studio's give masters of other keys. */
  core_version: string;
  started_at: Instant;
  seen_at: Instant;
  /** Work of its machine for each processor, over a minute. */
  load: number;
  memory_bytes: number;
  /** Takes no more jobs. */
  drained: boolean;
  /** Ends once nothing is in its hands. */
  stop_asked: boolean;
  /** Not heard of lately. */
  gone: boolean;
  /** In its hands. */
  jobs: { queue: QueuedJob["queue"]; stage: string | null; fraction: number }[];
}

/** A backup that was made or tried. */
export interface BackupRun {
  id: string;
  /** Folder, on the machine that made it. */
  place: string;
  started_at: Instant;
  finished_at: Instant | null;
  /** Its name in the folder; `null` where it is not whole. */
  snapshot: string | null;
  blobs: number | null;
  bytes: number | null;
  copied_bytes: number | null;
  /** Blobs that are not in it, since they were damaged or missing. */
  lost: number | null;
  problem: string | null;
}

export interface OperationsView {
  queues: QueueLoad[];
  workers: WorkerView[];
  /** The latest first. */
  backups: BackupRun[];
  /** Where backups are made by themselves, and how often; `null` where none are. */
  schedule: { folder: string; hours: number } | null;
}
