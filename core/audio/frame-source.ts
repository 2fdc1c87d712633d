import type { Frames, Hertz, Planar } from "./units";

/** How samples lie in a file: interleaved, `bytes` a sample. */
export interface PcmEncoding {
  kind: "integer" | "unsigned" | "float";
  /** Container bytes of one sample: 1, 2, 3, 4 or 8. */
  bytes: 1 | 2 | 3 | 4 | 8;
  bigEndian: boolean;
}

/** Anything that frames can be read from: a file, an item's source after its repairs. */
export interface FrameSource {
  sampleRate: Hertz;
  channels: number;
  frames: Frames;
  /**
   * Frames `start`…`start + count`, fewer only at the end. Shape [channel][frame]. With `into`, blocks that are long
   * enough, the result is views of them: nothing is allocated.
   */
  read(start: Frames, count: Frames, into?: Planar): Promise<Planar>;
  /** The same frames as they lie in the file, where they lie in one. */
  readEncoded?(start: Frames, count: Frames): Promise<Uint8Array>;
  pcm?: PcmEncoding;
}
