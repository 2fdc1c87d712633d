/** What a stream of sound is. */
import type { Layout } from "./layout";
import type { Hertz } from "./units";

/** What a stream is: fixed from its first block to its last. */
export interface StreamFormat {
  sampleRate: Hertz;
  layout: Layout;
  /** Names of the external keys that blocks carry, each with as many channels as the layout, behind the stream's own. */
  keys?: readonly string[];
}
