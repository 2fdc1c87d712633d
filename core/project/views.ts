/** What the server tells of a project, as it goes over the wire: the server's rows and the page's state are the same. */
import * as z from "zod";
import { instantSchema } from "../audio/instant";
import { layoutSchema } from "../audio/layout";
import { verdictSchema, COMPLIANCE_STATUSES } from "../delivery/compliance";
import type { MasterResult } from "../delivery/master-job";
import { LIMITED_FIGURE_NAMES } from "../delivery/spec";
import { SOUGHT_KINDS } from "../events/sought-events";
import { figuresSchema } from "../measure/figures-schema";
import type { Presence } from "../people/presence";
import { projectRoleSchema } from "../people/views";
import { chainEntrySchema } from "../processors";
import { approvalSchema } from "../review/views";
import type { Command } from "./commands";
import { projectSchema } from "./document";
import type { KnownRecording, KnownRecordings } from "./known-recordings";
import { masterInputsSchema } from "./master-inputs";

const count = z.number().int();

/** One of the sound tracks of a file. */
export const soundTrackSchema = z.object({
  encoding: z.string(),
  channels: count,
  language: z.string().nullable().describe("ISO 639-2, as the file tells it."),
  title: z.string().nullable(),
});
export type SoundTrack = z.infer<typeof soundTrackSchema>;

/** What of one kind was found in a recording. */
const soughtEventsSchema = z.object({
  kind: z.enum(SOUGHT_KINDS),
  count,
  places: z.array(z.object({ seconds: z.number(), length: z.number() })).describe("The first 200, seconds."),
});

/** A recording as it is kept, and what is known of it. */
export const sourceSchema = z
  .object({
    hash: z.string(),
    name: z.string(),
    bytes: count,
    state: z.enum(["waiting", "preparing", "ready", "failed"]),
    problem: z.string().nullable(),
    container: z.string().nullable(),
    encoding: z.string().nullable(),
    bits: count.nullable().describe("Depth of an integer source, null for float and lossy ones."),
    layout: layoutSchema.nullable(),
    layout_chosen: z.boolean(),
    pcm_hash: z.string().nullable(),
    overview_hash: z.string().nullable(),
    figures: figuresSchema.nullable(),
    start_seconds: z.number().nullable().describe("Start of its sound from midnight, where the file tells it."),
    tracks: z.array(soundTrackSchema).nullable().describe("Sound tracks of its file, where it has several."),
    track: count.describe("Which of them is used."),
    events: z
      .array(soughtEventsSchema)
      .nullable()
      .describe("What was found in it in the background; null until it was looked through."),
    warnings: z.array(z.string()),
    created_at: instantSchema,
  })
  .meta({ id: "Recording" });
export type Source = z.infer<typeof sourceSchema>;

const limitViolationSchema = z.object({
  figure: z.enum(LIMITED_FIGURE_NAMES),
  startSeconds: z.number(),
  endSeconds: z.number(),
  worst: z.number().describe("The highest of it."),
});

/** How a master came out: without its curves, which are only for drawing. */
const masterResultSchema: z.ZodType<Omit<MasterResult, "curves"> & { albumGainDb: number | null }> = z.object({
  gainDb: z.number(),
  limiterCeilingDbtp: z.number().nullable().describe("Ceiling of the delivery's limiter, null when it was not needed."),
  levelling: chainEntrySchema.nullable().describe("What was done to the loudness range."),
  figures: figuresSchema,
  verdict: verdictSchema.nullable().describe("Null when the recipe names no specification."),
  places: z.array(limitViolationSchema).describe("Where limits are broken that hold at any time."),
  limitingDb: z.number().describe("The deepest that the limiter cut, dB."),
  attempts: count.describe("How many times it was rendered until it was right."),
  dithered: z.boolean(),
  warnings: z.array(z.string()),
  albumGainDb: z.number().nullable(),
});

/** A master: asked for, under way, or done and measured on the file itself. */
export const masterSchema = z
  .object({
    id: z.string(),
    project_id: z.string(),
    item_id: z.string(),
    deliverable_id: z.string(),
    key: z.string().describe("Text of everything that decides its bytes."),
    inputs: masterInputsSchema,
    state: z.enum(["waiting", "rendering", "done", "failed", "cancelled"]),
    problem: z.string().nullable(),
    file_hash: z.string().nullable(),
    file_bytes: count.nullable(),
    sound_hash: z.string().nullable().describe("SHA-256 of the sound before it was encoded; null where nothing is."),
    result: masterResultSchema.nullable(),
    requested_at: instantSchema,
    finished_at: instantSchema.nullable(),
  })
  .meta({ id: "Master" });
export type Master = z.infer<typeof masterSchema>;

/** An item in a deliverable: what is to be delivered, and its master as far as there is one. */
export const wantedMasterSchema = z.object({
  item_id: z.string(),
  item: z.string().describe("Its name."),
  deliverable_id: z.string(),
  deliverable: z.string().describe("Name of its specification."),
  file_name: z.string(),
  ready: z.boolean().describe("Whether all that it is made of is read, so that it can be rendered."),
  master: masterSchema.nullable().describe("That of the project as it is now, or else the latest."),
  current: z.boolean().describe("Whether nothing that decides its bytes was edited since it was asked for."),
});
export type WantedMaster = z.infer<typeof wantedMasterSchema>;

/** Masters of a deliverable, handed to a receiver. */
export const submissionSchema = z.object({
  id: z.string(),
  project_id: z.string(),
  receiver: z.string(),
  deliverable_id: z.string(),
  state: z.enum(["waiting", "accepted", "refused", "failed"]),
  problem: z.string().nullable(),
  files: z
    .array(z.object({ name: z.string(), accepted: z.boolean(), reasons: z.array(z.string()) }))
    .describe("What was said to each so far."),
  fileCount: count.nullable().describe("How many there are; null of hand-overs before that was noted."),
  asked_at: instantSchema,
});
export type Submission = z.infer<typeof submissionSchema>;

/** How far a deliverable is that is kept up to date by itself. */
export const automaticDeliverySchema = z.object({
  deliverable_id: z.string(),
  head: z.number().int().describe("State of the project that it is about."),
  state: z
    .enum(["rendering", "submitting", "done", "held"])
    .describe("Held: nothing is handed over until something is changed."),
  problem: z.string().nullable().describe("Why it is held."),
  changed_at: instantSchema,
});
export type AutomaticDelivery = z.infer<typeof automaticDeliverySchema>;

/** What was measured of an item after repairs, cuts and chain. */
export const itemFiguresSchema = z.object({
  hash: z.string().describe("Of all that decides its sound."),
  figures: figuresSchema,
  overview_hash: z.string(),
});
export type ItemFigures = z.infer<typeof itemFiguresSchema>;

/** What encoding adds to the peaks of a sound, by its hash, as it was measured. */
const measuredOvershootSchema = z.object({
  limitingDb: z.array(z.number()).readonly(),
  overshootDb: z.array(z.number()).readonly(),
  hash: z.string(),
  encoding: z.string(),
  isExact: z
    .boolean()
    .describe("Whether it is that of this very sound; else of the same recording, processed otherwise."),
});

export const queueNameSchema = z.enum([
  ...["prepare", "submission", "segment", "render", "figures", "search", "standing", "copy", "backup"],
] as const);

/** A job of a project in the queue. */
export const queuedJobSchema = z.object({
  queue: queueNameSchema,
  subject: z
    .string()
    .describe("The source's hash, the id of the master, the item render or the hand-over, or project and item."),
  active: z.boolean(),
  place: count.describe("Among all that wait, from 1; 0 where it is under way."),
  secondsLeft: z.number().describe("When it may be done, as far as can be told."),
});
export type QueuedJob = z.infer<typeof queuedJobSchema>;

/** An upload that is under way or was interrupted. */
export const waitingUploadSchema = z.object({
  id: z.string(),
  name: z.string(),
  bytes: count,
  received: count,
  duplicateOf: z
    .string()
    .nullable()
    .describe("Name of the item that the same recording is in already; null where it is new."),
});
export type WaitingUpload = z.infer<typeof waitingUploadSchema>;

export const projectViewSchema = z.object({
  id: z.string(),
  role: projectRoleSchema.describe("What whoever asks may do in it."),
  head: count.describe("Id of the present state."),
  document: projectSchema.meta({ id: "Document" }),
  undo: count.nullable(),
  redo: count.nullable(),
  states: count,
  savedAt: instantSchema,
  sources: z.array(sourceSchema),
  masters: z.array(masterSchema),
  itemFigures: z.array(itemFiguresSchema).describe("Of items that something is done to, as far as they were measured."),
  overshoots: z
    .array(measuredOvershootSchema)
    .describe("What encoding adds to the peaks of items, as far as it was tried."),
  uploads: z.array(waitingUploadSchema),
  jobs: z.array(queuedJobSchema),
  submissions: z.array(submissionSchema),
  automatic: z.array(automaticDeliverySchema),
  approvals: z
    .array(approvalSchema)
    .describe("The latest decision of whoever reviewed it, of each item and deliverable that was sent out."),
});
export type ProjectView = z.infer<typeof projectViewSchema>;

/** How many masters are predicted inside their specs, and outside. */
export const predictedStandingSchema = z.object({ inside: count, outside: count });
export type PredictedStanding = z.infer<typeof predictedStandingSchema>;

/** Where a project stands against its deliverables: what its masters, as they are now, were measured to be. */
export const projectStatusSchema = z.object({
  deliverable: z.string().nullable(),
  mastersWanted: count,
  mastersPassed: count,
  mastersFailed: count,
  predicted: predictedStandingSchema
    .nullable()
    .describe("Of those that are not rendered as they are now; null while that is not known."),
  standing: z.enum(COMPLIANCE_STATUSES),
});
export type ProjectStatus = z.infer<typeof projectStatusSchema>;

/** Where a project is put away: the bin is emptied of what has lain there for a month. */
export const shelfSchema = z.enum(["archive", "bin"]);
export type Shelf = z.infer<typeof shelfSchema>;

export const projectSummarySchema = z.object({
  id: z.string(),
  name: z.string(),
  template: z.string(),
  items: count,
  seconds: z.number(),
  states: count,
  changed_at: instantSchema,
  shelf: shelfSchema.nullable().describe("Null for those that are worked on."),
  standing: projectStatusSchema,
});
export type ProjectSummary = z.infer<typeof projectSummarySchema>;

export const historyStateSchema = z.object({
  id: count,
  parent: count.nullable(),
  label: z.string(),
  author: z.string(),
  version_name: z.string().nullable(),
  created_at: instantSchema,
});
export type HistoryState = z.infer<typeof historyStateSchema>;

export interface Progress {
  stage: string;
  /** 0…1 */
  fraction: number;
  secondsLeft: number | null;
  /** Of a recording that is being read: its outline so far. See `WaveformSketch`. */
  sketch?: string;
}

/** An edit as it is told to other pages: whoever has the state before it need not ask for the one after it. */
export interface EditEvent {
  parent: number;
  command: Command;
}

/** An edit that another one contradicts. */
export const contradictedEditSchema = z.object({ label: z.string(), author: z.string() });
export type ContradictedEdit = z.infer<typeof contradictedEditSchema>;

/** An edit that was not made, since it contradicts others: told to whoever made those. */
export interface RefusedEdit {
  /** As the page that made it calls it. */
  id: string | null;
  author: string;
  label: string;
  made: ContradictedEdit[];
}

/** Something that happened, told to every open page. */
export type ServerEvent =
  | { topic: "project"; project: string; head?: number; edit?: EditEvent }
  | { topic: "contradiction"; project: string; refused: RefusedEdit }
  | { topic: "comments"; project: string }
  | { topic: "projects" }
  | { topic: "people" }
  | { topic: "review"; project: string }
  | { topic: "presence"; project: string; presence: Presence }
  | { topic: "source"; hash: string; state: string; progress?: Progress }
  | { topic: "master"; project: string; master: string; state: string; progress?: Progress };

/** What is known of recordings that are read. */
export function knownRecordings(sources: readonly Source[]): KnownRecordings {
  const known = new Map(
    sources.flatMap(({ hash, layout, figures, start_seconds: startSeconds, track }): [string, KnownRecording][] => {
      if (!layout || !figures) return [];
      const { sampleRate, frames } = figures;
      const told = { ...(startSeconds ? { startSeconds } : {}), ...(track ? { track } : {}) };
      return [[hash, { layout, sampleRate, frames, ...told }]];
    }),
  );
  return (hash) => known.get(hash) ?? null;
}
