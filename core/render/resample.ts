/**
 * Sample-rate conversion by a polyphase windowed sinc: flat to 0.91 of the lower Nyquist, stop-band from that Nyquist
 * on at 145 dB, linear phase, its delay taken back. Needs the ratio of the rates to be one of whole numbers up to
 * 4096, which all rates in use are.
 */
import { kaiser, kaiserBeta, kaiserLength, sinc } from "../math/kaiser";
import { emptyPlanar, framesOf, type Frames, type Hertz, type Planar } from "../signal/units";
import type { Stage } from "./stage";

const ATTENUATION_DB = 145;
const PASS_BAND = 0.91; // of the lower Nyquist
const MAX_PHASES = 4096;

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Frames that `frames` at one rate become at another. */
export const resampledFrames = (frames: Frames, from: Hertz, to: Hertz): Frames => Math.ceil((frames * to) / from);

/** Converts a stream from one rate to another. @throws when the ratio of the rates needs too many phases */
export class ResampleStage implements Stage {
  readonly #up: number;
  readonly #down: number;
  readonly #taps: number;
  /** Filters by phase, each reversed so that it runs along the input. */
  readonly #phases: Float64Array[];
  #buffer: Planar;
  /** Input frame number of the buffer's first frame. */
  #bufferStart: number;
  #inputFrames = 0;
  #outputFrames = 0;

  constructor(from: Hertz, to: Hertz, channels: number) {
    const divisor = gcd(from, to);
    this.#up = to / divisor;
    this.#down = from / divisor;
    if (this.#up > MAX_PHASES) {
      throw new Error(
        `Converting ${from} Hz to ${to} Hz needs ${this.#up} filter phases; ${MAX_PHASES} are possible. Choose a rate with a simpler ratio.`,
      );
    }
    // Cutoff in the middle of the transition, in cycles per input sample.
    const lower = Math.min(1, to / from) / 2;
    const cutoff = (lower * (1 + PASS_BAND)) / 2;
    this.#taps = 2 * Math.ceil(kaiserLength(ATTENUATION_DB, lower * (1 - PASS_BAND)) / 2);
    this.#phases = Array.from({ length: this.#up }, (_, phase) => this.#filter(phase / this.#up, cutoff));
    const half = this.#taps / 2;
    this.#buffer = emptyPlanar(channels, half);
    this.#bufferStart = -half;
  }

  #filter(fraction: number, cutoff: number): Float64Array {
    const half = this.#taps / 2;
    const beta = kaiserBeta(ATTENUATION_DB);
    const filter = Float64Array.from({ length: this.#taps }, (_, tap) => {
      const distance = tap - (half - 1) - fraction;
      return sinc(2 * cutoff * distance) * kaiser(distance / half, beta);
    });
    const sum = filter.reduce((total, c) => total + c, 0);
    return filter.map((c) => c / sum);
  }

  push(block: Planar): Planar {
    this.#inputFrames += framesOf(block);
    return this.#convert(block, Infinity);
  }

  finish(): Planar {
    const wanted = Math.ceil((this.#inputFrames * this.#up) / this.#down);
    return this.#convert(emptyPlanar(this.#buffer.length, this.#taps), wanted);
  }

  #convert(block: Planar, wanted: number): Planar {
    const held = framesOf(this.#buffer);
    const length = held + framesOf(block);
    const joined = this.#buffer.map((channel, c) => {
      const all = new Float32Array(length);
      all.set(channel);
      all.set(block[c]!, held);
      return all;
    });
    const half = this.#taps / 2;
    const positionOf = (n: number) => Math.floor((n * this.#down) / this.#up);
    const available = this.#bufferStart + length - half; // positions below this have all their taps
    let count = 0;
    while (this.#outputFrames + count < wanted && positionOf(this.#outputFrames + count) < available) count++;
    const out = emptyPlanar(joined.length, count);
    for (let c = 0; c < joined.length; c++) {
      const x = joined[c]!;
      const y = out[c]!;
      for (let i = 0; i < count; i++) {
        const n = this.#outputFrames + i;
        const position = positionOf(n);
        const filter = this.#phases[n * this.#down - position * this.#up]!;
        const start = position - half + 1 - this.#bufferStart;
        let sum = 0;
        for (let t = 0; t < filter.length; t++) sum += filter[t]! * x[start + t]!;
        y[i] = sum;
      }
    }
    this.#outputFrames += count;
    const keepFrom = Math.max(this.#bufferStart, positionOf(this.#outputFrames) - half + 1);
    this.#buffer = joined.map((channel) => channel.slice(keepFrom - this.#bufferStart));
    this.#bufferStart = keepFrom;
    return out;
  }
}
