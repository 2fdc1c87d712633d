/** What the server tells of reviews, as it goes over the wire. */
import type { Instant } from "../audio/instant";
import type { Range } from "./ranges";

export interface Remark {
  id: string;
  position: number;
  name: string;
  at_seconds: number;
  /** `null` of a remark at one time. */
  end_seconds: number | null;
  words: string;
  created_at: Instant;
  answer: string | null;
  answered_by: string | null;
  resolved_at: Instant | null;
  /** Whether whoever asks has made it. */
  own: boolean;
}

/** A decision about a file: of its bytes, not of its name. */
export interface ReviewVerdict {
  position: number;
  name: string;
  approved: boolean;
  words: string;
  file_hash: string;
  created_at: Instant;
}

export interface ReviewFile {
  position: number;
  item_id: string;
  deliverable_id: string;
  title: string;
  /** What tells it from others of the same title. */
  label: string;
  file_name: string;
  media_type: string;
  file_hash: string;
  seconds: number;
  integrated_lufs: number | null;
  /** Whether a copy is there that plays anywhere. */
  has_copy: boolean;
  /** Why there will be none. */
  copy_problem: string | null;
  /** Highest levels of equal parts, 0…1; how loud they are until there is a copy; `null` where neither is known. */
  outline: number[] | null;
}

/** What a link says before it is opened. */
export interface ReviewPreview {
  id: string;
  title: string;
  from: string;
  needsPassword: boolean;
}

/** A review that somebody may open by their part in the project. */
export interface OpenReviewView {
  id: string;
  title: string;
  from: string;
  expires_at: Instant;
}

/** What a guest sees. */
export interface ReviewPage {
  id: string;
  title: string;
  message: string;
  from: string;
  /** The name that the guest gave. */
  name: string;
  downloads: boolean;
  blind: boolean;
  expires_at: Instant;
  files: ReviewFile[];
  remarks: Remark[];
  verdicts: ReviewVerdict[];
}

export interface Heard {
  position: number;
  name: string;
  ranges: Range[];
  plays: number;
  heard_at: Instant;
}

/** A review as those who sent it see it. */
export interface ReviewView extends Omit<ReviewPage, "name" | "from"> {
  created_by: string;
  created_at: Instant;
  withdrawn_at: Instant | null;
  has_password: boolean;
  /** Names of those who opened it. */
  guests: string[];
  heard: Heard[];
}

/** The latest decision about masters of an item and a deliverable. */
export interface Approval extends Omit<ReviewVerdict, "position"> {
  item_id: string;
  deliverable_id: string;
}
