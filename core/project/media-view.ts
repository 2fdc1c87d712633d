/** Recordings and masters of all projects, as the server tells of them where they are looked for. */
import type { Figures } from "../measure";
import type { Instant } from "../audio/instant";
import type { Master, Source } from "./views";

export interface FoundRecording extends Pick<Source, "hash" | "name" | "bytes" | "state" | "problem" | "encoding"> {
  figures: Figures | null;
  /** Ids of projects that it is in. */
  projects: string[];
  created_at: Instant;
}

/** The latest master of an item and a deliverable. */
export interface FoundMaster extends Pick<Master, "id" | "project_id" | "item_id" | "state" | "file_bytes"> {
  title: string;
  /** Name of its specification; `null` where it has none. */
  spec: string | null;
  container: string;
  figures: Figures | null;
  /** Whether the file is inside its specification; `null` where that is not known. */
  pass: boolean | null;
  requested_at: Instant;
}

export interface MediaFound {
  recordings: FoundRecording[];
  masters: FoundMaster[];
  /** Whether there are more than are told. */
  moreRecordings: boolean;
  moreMasters: boolean;
}
