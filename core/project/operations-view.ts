/** What the server tells of a studio to whoever looks after it, as it goes over the wire. */
import type { Instant, QueuedJob } from "./views";

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
  checks: HealthCheck[];
  queues: QueueLoad[];
  /** The latest first. */
  backups: BackupRun[];
  /** Where backups are made by themselves, and how often; `null` where none are. */
  schedule: { folder: string; hours: number } | null;
}
