import { Random } from "../math/random";
import { framesOf, type Planar } from "../signal/units";

const SEED = 0x5e50; // any fixed number: the same render gives the same bytes

/**
 * Float to whole numbers of `bits`, clipped at full scale. With dither: TPDF of ±1 LSB, one generator a channel
 * (Lipshitz, Wannamaker, Vanderkooy 1992), which makes the error independent of the signal.
 */
export class Quantiser {
  readonly #generators: Random[];
  readonly #scale: number;

  constructor(
    channels: number,
    readonly bits: 16 | 24 | 32,
    readonly dither: boolean,
  ) {
    this.#generators = Array.from({ length: channels }, (_, channel) => new Random(SEED + channel));
    this.#scale = 2 ** (bits - 1);
  }

  /** Quantises all of `block`; shape [channel][frame]. */
  next(block: Planar): Int32Array[] {
    const frames = framesOf(block);
    const scale = this.#scale;
    const highest = scale - 1;
    return block.map((channel, c) => {
      const out = new Int32Array(frames);
      const generator = this.#generators[c]!;
      for (let i = 0; i < frames; i++) {
        let v = channel[i]! * scale;
        if (this.dither) v += generator.next() - generator.next();
        const rounded = Math.floor(v + 0.5);
        out[i] = rounded > highest ? highest : rounded < -scale ? -scale : rounded;
      }
      return out;
    });
  }
}
