import { square } from "../math/deterministic-math";
import { framesOf, type Frames, type Planar } from "../audio/units";
import { VALUES } from "./waveform-peaks";

/** Frames of a bin. */
export const BIN: Frames = 128;

/** Lowest, highest and RMS of each bin of a block, by channel: what a waveform is drawn of. */
export const binsOf = (block: Planar): Float32Array[] =>
  block.map((x) => {
    const count = Math.ceil(framesOf(block) / BIN);
    const out = new Float32Array(count * VALUES);
    for (let bin = 0; bin < count; bin++) {
      const end = Math.min(x.length, (bin + 1) * BIN);
      let [low, high, sum] = [Infinity, -Infinity, 0];
      for (let i = bin * BIN; i < end; i++) {
        const v = x[i]!;
        if (v < low) low = v;
        if (v > high) high = v;
        sum += v * v;
      }
      out.set([low, high, Math.sqrt(sum / (end - bin * BIN))], bin * VALUES);
    }
    return out;
  });

/** Bins of those segments of a repaired recording that are made; a few hundred are kept. */
export class WaveformPeakCache {
  static readonly MOST = 600;
  readonly #segments = new Map<number, Float32Array[]>();

  constructor(
    /** Frames of a segment. */
    readonly length: Frames,
  ) {}

  put(segment: number, bins: Float32Array[]): void {
    this.#segments.set(segment, bins);
    if (this.#segments.size > WaveformPeakCache.MOST) this.#segments.delete(this.#segments.keys().next().value!);
  }

  /** Puts what is known over columns from frame `start` on; the rest stays. Columns narrower than a bin are left. */
  drawOver(columns: Float32Array[], start: number, framesPerPixel: number): void {
    if (framesPerPixel < BIN) return;
    const width = columns[0]!.length / VALUES;
    for (let x = 0; x < width; x++) {
      const from = start + x * framesPerPixel;
      const segment = Math.floor(from / this.length);
      const bins = this.#segments.get(segment);
      if (!bins) continue;
      const first = Math.max(0, Math.floor((from - segment * this.length) / BIN));
      const last = Math.ceil((from + framesPerPixel - segment * this.length) / BIN);
      columns.forEach((column, c) => {
        const known = bins[c];
        if (!known) return;
        const end = Math.min(last, known.length / VALUES);
        let [low, high, sum] = [Infinity, -Infinity, 0];
        for (let bin = first; bin < end; bin++) {
          low = Math.min(low, known[bin * VALUES]!);
          high = Math.max(high, known[bin * VALUES + 1]!);
          sum += square(known[bin * VALUES + 2]!);
        }
        if (end > first) column.set([low, high, Math.sqrt(sum / (end - first))], x * VALUES);
      });
    }
  }
}
