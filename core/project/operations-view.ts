/** What the server tells of a studio to whoever looks after it, as it goes over the wire. */
import * as z from "zod";
import { instantSchema } from "../audio/instant";
import { queueNameSchema } from "./views";

/** One thing that a studio stands on. */
export const healthCheckSchema = z.object({
  name: z.string(),
  state: z.enum(["ok", "warning", "failed"]),
  words: z.string().describe("What was found, and what to do about it."),
});
export type HealthCheck = z.infer<typeof healthCheckSchema>;

export const queueLoadSchema = z.object({
  queue: queueNameSchema,
  active: z.number().int(),
  waiting: z.number().int(),
  waited: z.number().nullable().describe("How long the oldest of those that wait has waited, seconds."),
});
export type QueueLoad = z.infer<typeof queueLoadSchema>;

/** A render worker, by what it said of itself. */
export const workerViewSchema = z.object({
  name: z.string(),
  machine: z.string(),
  core_version: z.string().describe("Those of another version than the studio's give masters of other keys."),
  started_at: instantSchema,
  seen_at: instantSchema,
  load: z.number().describe("Work of its machine for each processor, over a minute."),
  memory_bytes: z.number(),
  drained: z.boolean().describe("Takes no more jobs."),
  stop_asked: z.boolean().describe("Ends once nothing is in its hands."),
  gone: z.boolean().describe("Not heard of lately."),
  jobs: z
    .array(z.object({ queue: queueNameSchema, stage: z.string().nullable(), fraction: z.number() }))
    .describe("In its hands."),
});
export type WorkerView = z.infer<typeof workerViewSchema>;

/** A backup that was made or tried. */
export const backupRunSchema = z.object({
  id: z.string(),
  place: z.string().describe("Folder, on the machine that made it."),
  started_at: instantSchema,
  finished_at: instantSchema.nullable(),
  snapshot: z.string().nullable().describe("Its name in the folder; null where it is not whole."),
  blobs: z.number().nullable(),
  bytes: z.number().nullable(),
  copied_bytes: z.number().nullable(),
  lost: z.number().nullable().describe("Blobs that are not in it, since they were damaged or missing."),
  problem: z.string().nullable(),
});
export type BackupRun = z.infer<typeof backupRunSchema>;

export const operationsViewSchema = z.object({
  queues: z.array(queueLoadSchema),
  workers: z.array(workerViewSchema),
  backups: z.array(backupRunSchema).describe("The latest first."),
  schedule: z
    .object({ folder: z.string(), hours: z.number() })
    .nullable()
    .describe("Where backups are made by themselves, and how often; null where none are."),
});
export type OperationsView = z.infer<typeof operationsViewSchema>;
