import type { Layout } from "../audio/layout";
import type { Frames, Hertz } from "../audio/units";

/** What must be known of a recording before a master of it can be asked for. */
export interface KnownRecording {
  layout: Layout;
  sampleRate: Hertz;
  frames: Frames;
}
export type KnownRecordings = (hash: string) => KnownRecording | null;
