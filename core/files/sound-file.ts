import type { Layout } from "../signal/layout";
import type { PcmEncoding } from "./pcm-encoding";
import type { Tags } from "./tags";
import type { Frames, Hertz, Planar } from "../signal/units";

/** An opened sound file: what it is, and random access to its frames. */
export interface SoundFile {
  /** "WAV", "RF64", "BW64", "AIFF" … */
  container: string;
  sampleRate: Hertz;
  channels: number;
  frames: Frames;
  /** In words: "24-bit integer", "32-bit float". */
  encoding: string;
  bitsPerSample: number;
  /** From the file; `undefined` when it does not say. */
  layout: Layout | undefined;
  /** What was wrong with the file and how it was read all the same. */
  warnings: string[];
  /**
   * Frames `start`…`start + count`, fewer only at the end. Shape [channel][frame]. With `into`, blocks that are long
   * enough, the result is views of them: nothing is allocated.
   */
  read(start: Frames, count: Frames, into?: Planar): Promise<Planar>;
  /** The same frames as they lie in the file. */
  readEncoded(start: Frames, count: Frames): Promise<Uint8Array>;
  pcm: PcmEncoding;
  /** What it says of itself, where it says anything that is known here. */
  tags?: Tags | undefined;
}

/** Anything frames can be read from: a file, an item's source after its repairs. */
export type FrameSource = Pick<SoundFile, "sampleRate" | "channels" | "frames" | "read"> &
  Partial<Pick<SoundFile, "readEncoded" | "pcm">>;
