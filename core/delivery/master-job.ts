/** What a master is made of, where it goes, and what comes of it. */
import type { Cancellation } from "../audio/cancellation";
import type { FrameSource } from "../audio/frame-source";
import type { Layout } from "../audio/layout";
import type { Decibels } from "../audio/units";
import type { Clip } from "../edit-list/clip";
import type { ByteSink, ByteSource } from "../files/bytes";
import type { Tags } from "../files/tags";
import type { Curves, Figures, Measured } from "../measure";
import type { ChainEntry } from "../processors";
import type { Verdict } from "./compliance";
import type { LimitViolation } from "./limit-violations";
import type { Recipe } from "./recipe";

export interface MasterJob {
  source: FrameSource;
  layout: Layout;
  /** Depth of an integer source, `null` for float: decides whether bits shrink. */
  sourceBits: number | null;
  /** What of the source the item is made of; absent for all of it. */
  clips?: readonly Clip[] | null;
  recipe: Recipe;
  tags: Tags;
  /** The gain of the whole running order, for specs that keep its relations. */
  albumGainDb?: Decibels | null;
  /** Figures after repairs, clips and chain, if they are known: spares a pass. */
  known?: Measured | undefined;
}

/** Where a master goes. `open` starts afresh and forgets what was written before. */
export interface MasterTarget {
  open(): Promise<ByteSink>;
  /** Makes the file of what was written, for containers that the core does not write. */
  encode?: (() => Promise<void>) | undefined;
  /** The sound of the finished file, decoded where it is encoded. */
  readBack(): Promise<ByteSource>;
}

export interface MasterOptions {
  cancellation?: Cancellation | undefined;
  onProgress?: ((progress: { stage: string; fraction: number }) => void) | undefined;
}

/** What the solver chose: with it, one pass gives the master. */
export interface DeliverySettings {
  readonly gainDb: Decibels;
  /** Ceiling of the delivery's limiter, `null` when it was not needed. */
  readonly limiterCeilingDbtp: number | null;
  /** What was done to the loudness range, `null` for nothing. */
  readonly levelling: ChainEntry | null;
}

export interface MasterResult extends DeliverySettings {
  figures: Figures;
  curves: Curves;
  /** `null` when the recipe names no spec. */
  verdict: Verdict | null;
  /** Where limits are broken that hold at any time. */
  places: LimitViolation[];
  /** The deepest it cut. */
  limitingDb: Decibels;
  /** How many times the programme was rendered until it was right. */
  attempts: number;
  dithered: boolean;
  warnings: string[];
}
