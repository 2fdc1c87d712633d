/** What the server tells of a project, as it goes over the wire: the server's rows and the page's state are the same. */
import type { SoughtEvents } from "../events/sought-events";
import type { Figures } from "../measure";
import type { MasterResult } from "../delivery/master-job";
import type { Instant } from "../audio/instant";
import type { Layout } from "../audio/layout";
import type { ComplianceStatus } from "../delivery/compliance";
import type { Presence } from "../people/presence";
import type { ProjectRole } from "../people/roles";
import type { Approval } from "../review/views";
import type { Command } from "./commands";
import type { ProjectDocument } from "./document";
import type { KnownRecording, KnownRecordings } from "./known-recordings";
import type { MasterInputs } from "./master-inputs";
import type { MeasuredOvershoot } from "./wanted-overshoots";

/** A recording as it is kept, and what is known of it. */
export interface Source {
  hash: string;
  name: string;
  bytes: number;
  state: "waiting" | "preparing" | "ready" | "failed";
  problem: string | null;
  container: string | null;
  encoding: string | null;
  /** Depth of an integer source, `null` for float and lossy ones. */
  bits: number | null;
  layout: Layout | null;
  layout_chosen: boolean;
  pcm_hash: string | null;
  overview_hash: string | null;
  figures: Figures | null;
  /** Start of its sound from midnight, where the file tells it. */
  start_seconds: number | null;
  /** Sound tracks of its file, where it has several, and which of them is used. */
  tracks: SoundTrack[] | null;
  track: number;
  /** What was found in it in the background; `null` until it was looked through. */
  events: SoughtEvents[] | null;
  warnings: string[];
  created_at: Instant;
}

/** One of the sound tracks of a file. */
export interface SoundTrack {
  encoding: string;
  channels: number;
  /** ISO 639-2, as the file tells it. */
  language: string | null;
  title: string | null;
}

/** A master: asked for, under way, or done and measured on the file itself. */
export interface Master {
  id: string;
  project_id: string;
  item_id: string;
  deliverable_id: string;
  /** Text of everything that decides its bytes. */
  key: string;
  inputs: MasterInputs;
  state: "waiting" | "rendering" | "done" | "failed" | "cancelled";
  problem: string | null;
  file_hash: string | null;
  file_bytes: number | null;
  /** SHA-256 of the sound before it was encoded; `null` where nothing is encoded. */
  sound_hash: string | null;
  /** Without its curves, which are only for drawing. */
  result: (Omit<MasterResult, "curves"> & { albumGainDb: number | null }) | null;
  requested_at: Instant;
  finished_at: Instant | null;
}

/** Masters of a deliverable, handed to a receiver. */
export interface Submission {
  id: string;
  project_id: string;
  receiver: string;
  deliverable_id: string;
  state: "waiting" | "accepted" | "refused" | "failed";
  problem: string | null;
  /** What was said to each so far. */
  files: { name: string; accepted: boolean; reasons: string[] }[];
  /** How many there are; `null` of hand-overs before that was noted. */
  fileCount: number | null;
  asked_at: Instant;
}

/** What was measured of an item after repairs, cuts and chain. */
export interface ItemFigures {
  /** Of all that decides its sound. */
  hash: string;
  figures: Figures;
  overview_hash: string;
}

/** A job of a project in the queue. */
export interface QueuedJob {
  queue: "prepare" | "submission" | "segment" | "render" | "figures" | "search" | "standing" | "copy" | "backup";
  /** The source's hash, the id of the master, the item render or the hand-over, or project and item. */
  subject: string;
  active: boolean;
  /** Among all that wait, from 1; 0 where it is under way. */
  place: number;
  /** When it may be done, as far as can be told. */
  secondsLeft: number;
}

/** An upload that is under way or was interrupted. */
export interface WaitingUpload {
  id: string;
  name: string;
  bytes: number;
  received: number;
  /** Name of the item that the same recording is in already; `null` where it is new. */
  duplicateOf: string | null;
}

export interface ProjectView {
  id: string;
  /** What whoever asks may do in it. */
  role: ProjectRole;
  head: number;
  document: ProjectDocument;
  undo: number | null;
  redo: number | null;
  states: number;
  savedAt: Instant;
  sources: Source[];
  masters: Master[];
  /** Of items that something is done to, as far as they were measured. */
  itemFigures: ItemFigures[];
  /** What encoding adds to the peaks of items, as far as it was tried. */
  overshoots: MeasuredOvershoot[];
  uploads: WaitingUpload[];
  jobs: QueuedJob[];
  submissions: Submission[];
  /** The latest decision of whoever reviewed it, of each item and deliverable that was sent out. */
  approvals: Approval[];
}

/** Where a project stands against its deliverables: what its masters, as they are now, were measured to be. */
export interface ProjectStatus {
  deliverable: string | null;
  mastersWanted: number;
  mastersPassed: number;
  mastersFailed: number;
  /** Of those that are not rendered as they are now, what is predicted; `null` while that is not known. */
  predicted: PredictedStanding | null;
  standing: ComplianceStatus;
}

/** How many masters are predicted inside their specs, and outside. */
export interface PredictedStanding {
  inside: number;
  outside: number;
}

/** Where a project is put away: the bin is emptied of what has lain there for a month. */
export type Shelf = "archive" | "bin";

export interface ProjectSummary {
  id: string;
  name: string;
  template: string;
  items: number;
  seconds: number;
  states: number;
  changed_at: Instant;
  /** `null` for those that are worked on. */
  shelf: Shelf | null;
  standing: ProjectStatus;
}

export interface HistoryState {
  id: number;
  parent: number | null;
  label: string;
  author: string;
  version_name: string | null;
  created_at: Instant;
}

export interface Progress {
  stage: string;
  /** 0…1 */
  fraction: number;
  secondsLeft: number | null;
  /** Of a recording that is being read: its outline so far. See `WaveformSketch`. */
  sketch?: string;
}

/** An edit as it is told to other pages: whoever has the state before it need not ask for the one after it. */
export interface ToldEdit {
  parent: number;
  command: Command;
}

/** Something that happened, told to every open page. */
export type ServerEvent =
  | { topic: "project"; project: string; head?: number; edit?: ToldEdit }
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
