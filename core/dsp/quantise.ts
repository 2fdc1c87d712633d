import { exp2 } from "../math/deterministic-math";
import { channelQuantiser } from "../kernels/quantiser";
import { Random } from "../math/random";
import { framesOf, type Hertz, type Planar } from "../audio/units";

const SEED = 0x5e50; // any fixed number: the same render gives the same bytes

/** What covers the error of rounding: noise as even as the error, noise moved to where ears are dull, or nothing. */
export const DITHERS = ["flat", "shaped", "none"] as const;
export type Dither = (typeof DITHERS)[number];

export interface QuantiserOptions {
  dither: Dither;
  sampleRate: Hertz;
  /** Whether digital silence stays silent. */
  keepSilence?: boolean;
}

/** Feedback of past errors that is heard the least at 44.1 and 48 kHz (Lipshitz, Vanderkooy, Wannamaker 1991). */
const LEAST_AUDIBLE = [2.033, -2.165, 1.959, -1.59, 0.6149] as const;
/** At higher rates there is room above hearing: two zeros at 0 Hz. */
const UPWARDS = [2, -1] as const;
const HIGHEST_WEIGHTED_RATE: Hertz = 50_000;

/** Zeros in a row that are digital silence and no crossing of zero. */
const SILENT_RUN = 32;

/**
 * Float to whole numbers of `bits`, clipped at full scale. With dither: TPDF of ±1 LSB, one generator a channel
 * (Lipshitz, Wannamaker, Vanderkooy 1992), which makes the error independent of the signal.
 */
export class Quantiser {
  readonly #channels: ((x: Float32Array) => Int32Array)[];
  #zeros = 0;

  constructor(
    channels: number,
    readonly bits: 16 | 24 | 32,
    readonly options: QuantiserOptions,
  ) {
    const { dither, sampleRate } = options;
    this.#channels = Array.from({ length: channels }, (_, channel) => {
      const generator = dither === "none" ? null : new Random(SEED + channel);
      if (dither === "shaped") return shaping(bits, generator!, sampleRate);
      const { next } = channelQuantiser(bits, generator);
      return next;
    });
  }

  /** Quantises all of `block`; shape [channel][frame]. */
  next(block: Planar): Int32Array[] {
    const out = block.map((x, c) => this.#channels[c]!(x));
    if (this.options.keepSilence) this.#silence(block, out);
    return out;
  }

  /** Takes the dither out of digital silence. */
  #silence(block: Planar, out: Int32Array[]): void {
    const frames = framesOf(block);
    for (let i = 0; i < frames; i++) {
      this.#zeros = block.every((x) => x[i] === 0) ? this.#zeros + 1 : 0;
      if (this.#zeros >= SILENT_RUN) for (const y of out) y[i] = 0;
    }
  }
}

/** One channel whose errors are fed back. Hot. */
function shaping(bits: number, generator: Random, sampleRate: Hertz): (x: Float32Array) => Int32Array {
  const feedback = sampleRate <= HIGHEST_WEIGHTED_RATE ? LEAST_AUDIBLE : UPWARDS;
  const scale = exp2(bits - 1);
  const highest = scale - 1;
  // The newest first.
  const errors = new Float64Array(feedback.length);
  return (x) => {
    const out = new Int32Array(x.length);
    for (let i = 0; i < x.length; i++) {
      let wanted = x[i]! * scale;
      for (let k = 0; k < feedback.length; k++) wanted -= feedback[k]! * errors[k]!;
      const rounded = Math.floor(wanted + generator.next() - generator.next() + 0.5);
      out[i] = rounded > highest ? highest : rounded < -scale ? -scale : rounded;
      for (let k = feedback.length - 1; k > 0; k--) errors[k] = errors[k - 1]!;
      // What is clipped away is no error to make up for.
      errors[0] = rounded === out[i] ? rounded - wanted : 0;
    }
    return out;
  };
}
