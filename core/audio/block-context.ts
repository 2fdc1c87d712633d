import type { Frames } from "./units";

/** Where a block lies in its recording: `first` is the frame that its first sample is, and may be before the start. */
export interface BlockContext {
  first: Frames;
  /** What of the block is asked for; the rest are surroundings. */
  from: Frames;
  to: Frames;
  /** What of the block the recording holds; before and after, the block is silent. */
  heldFrom: Frames;
  heldTo: Frames;
}
