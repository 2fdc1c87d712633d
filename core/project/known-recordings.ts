import type { Layout } from "../audio/layout";
import type { Frames, Hertz, Seconds } from "../audio/units";

/** What must be known of a recording before a master of it can be asked for. */
export interface KnownRecording {
  layout: Layout;
  sampleRate: Hertz;
  frames: Frames;
  /** Start of its sound from midnight; absent where nothing tells it. */
  startSeconds?: Seconds;
  /** Which sound track of its file, where that is not the first. */
  track?: number;
}
export type KnownRecordings = (hash: string) => KnownRecording | null;
