import type { FrameSource, PcmEncoding } from "../audio/frame-source";
import type { Layout } from "../audio/layout";
import type { Frames } from "../audio/units";
import type { Tags } from "./tags";

/** An opened sound file: what it is, and random access to its frames. */
export interface SoundFile extends FrameSource {
  /** "WAV", "RF64", "BW64", "AIFF" … */
  container: string;
  /** In words: "24-bit integer", "32-bit float". */
  encoding: string;
  bitsPerSample: number;
  /** From the file; `undefined` when it does not say. */
  layout: Layout | undefined;
  /** What was wrong with the file and how it was read all the same. */
  warnings: string[];
  readEncoded(start: Frames, count: Frames): Promise<Uint8Array>;
  pcm: PcmEncoding;
  /** What it says of itself, where it says anything that is known here. */
  tags?: Tags | undefined;
}
