/** The outline of a recording while it is read: the highest sample of each of a few hundred equal parts, as one text. */
import { fromBase64, toBase64 } from "../math/base64";
import type { Frames, Planar } from "../audio/units";

/** Parts that the whole is divided into. */
export const SKETCH_PARTS = 480;
const FULL = 255;

export class WaveformSketch {
  readonly #peaks = new Uint8Array(SKETCH_PARTS);
  #frames = 0;

  /** @param expectedFrames length of the whole; what lies beyond is left out */
  constructor(readonly expectedFrames: Frames) {}

  /** Hot: one comparison a sample. */
  process(block: Planar, frames: Frames): void {
    const perPart = Math.max(1, this.expectedFrames / SKETCH_PARTS);
    for (let from = 0; from < frames;) {
      const part = Math.floor((this.#frames + from) / perPart);
      if (part >= SKETCH_PARTS) break;
      const to = Math.min(frames, Math.max(from + 1, Math.ceil((part + 1) * perPart) - this.#frames));
      let highest = 0;
      for (const x of block)
        for (let i = from; i < to; i++) {
          const size = Math.abs(x[i]!);
          if (size > highest) highest = size;
        }
      const byte = Math.min(FULL, Math.ceil(highest * FULL));
      if (byte > this.#peaks[part]!) this.#peaks[part] = byte;
      from = to;
    }
    this.#frames += frames;
  }

  /** What was read so far, base64 of a byte each: 255 is full scale. */
  text(): string {
    const parts = Math.min(SKETCH_PARTS, Math.ceil((this.#frames / Math.max(1, this.expectedFrames)) * SKETCH_PARTS));
    return toBase64(this.#peaks.subarray(0, parts));
  }
}

/** Highest samples of the parts that are known, 0…1 of full scale; as many as there are. */
export const sketchedPeaks = (text: string): number[] => Array.from(fromBase64(text), (byte) => byte / FULL);
