/**
 * Sample-rate conversion by windowed sincs: flat to 0.91 of the lower Nyquist, stop-band from that Nyquist on at
 * 150 dB, its delay taken back. A sharp filter at once or twice the rate of the input, then a short polyphase filter
 * (Crochiere & Rabiner 1983, chapter 3). Needs the ratio of the rates to be one of whole numbers up to 4096, which all
 * rates in use are.
 */
import { rateLine, type RateLine, type RatePlan } from "../kernels/rate-line";
import { kaiser, kaiserBeta, kaiserLength, kaiserPhases, sinc } from "../math/kaiser";
import { minimumPhase } from "../math/minimum-phase";
import { emptyPlanar, framesOf, joinedPlanar, type Frames, type Hertz, type Planar } from "../signal/units";
import type { Stage } from "./stage";

/** How the filter's delay lies: the same for all frequencies, or as early as it can be. */
export const FILTER_PHASES = ["linear", "minimum"] as const;
export type FilterPhase = (typeof FILTER_PHASES)[number];

const ATTENUATION_DB = 150;
const PASS_BAND = 0.91; // of the lower Nyquist
const MAX_PHASES = 4096;
/** Where the raised rate is twice the band or more, this many taps reject its images by `ATTENUATION_DB`. */
const SHORT_TAPS = 20;
const SMALLEST_TRANSFORM = 1024;

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Frames that `frames` at one rate become at another. */
export const resampledFrames = (frames: Frames, from: Hertz, to: Hertz): Frames => Math.ceil((frames * to) / from);

/** Windowed sinc at `rate`, flat to 0.91 of `edge` and stopped from `edge` on; an odd number of taps. */
function sharpFilter(edge: Hertz, rate: Hertz): Float64Array {
  const stop = edge / rate;
  const half = Math.ceil(kaiserLength(ATTENUATION_DB, stop * (1 - PASS_BAND)) / 2);
  const cutoff = (stop * (1 + PASS_BAND)) / 2;
  const beta = kaiserBeta(ATTENUATION_DB);
  const taps = Float64Array.from({ length: 2 * half + 1 }, (_, i) => {
    const distance = i - half;
    return sinc(2 * cutoff * distance) * kaiser(distance / (half + 1), beta);
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => tap / sum);
}

function design(from: Hertz, to: Hertz, phase: FilterPhase): RatePlan {
  const lowest = Math.min(from, to) / 2;
  const raise = 2 * lowest <= from / 2 ? 1 : 2;
  const divisor = gcd(from * raise, to);
  const up = to / divisor;
  const down = (from * raise) / divisor;
  if (up > MAX_PHASES)
    throw new Error(
      `Converting ${from} Hz to ${to} Hz needs ${up} filter phases; ${MAX_PHASES} are possible. Choose a rate with a simpler ratio.`,
    );
  const linear = sharpFilter(lowest, from * raise);
  const filter = phase === "linear" ? linear : minimumPhase(linear);
  const delay = phase === "linear" ? (filter.length - 1) / 2 : Math.round(delayAtRest(filter));
  // Where samples of the raised rate are taken as they are, there is nothing between them to be told.
  const phases = up === 1 ? [Float64Array.of(0, 1, 0, 0)] : kaiserPhases(up, SHORT_TAPS, ATTENUATION_DB);
  let size = SMALLEST_TRANSFORM;
  while (size * raise < 8 * filter.length) size *= 2;
  return { size, raise, filter, phases, up, down, delay };
}

/** Delay of the lowest frequencies, in samples: the taps' centre of gravity. */
function delayAtRest(filter: Float64Array): number {
  const moment = filter.reduce((sum, tap, i) => sum + tap * i, 0);
  return moment / filter.reduce((sum, tap) => sum + tap, 0);
}

/** Converts a stream from one rate to another. @throws when the ratio of the rates needs too many phases */
export class ResampleStage implements Stage {
  readonly #lines: RateLine[];
  readonly #block: Planar;
  #filled = 0;
  #inputFrames = 0;
  #outputFrames = 0;

  constructor(
    readonly from: Hertz,
    readonly to: Hertz,
    channels: number,
    phase: FilterPhase = "linear",
  ) {
    const plan = design(from, to, phase);
    this.#lines = Array.from({ length: Math.ceil(channels / 2) }, () => rateLine(plan));
    this.#block = emptyPlanar(channels, this.#lines[0]!.blockFrames);
  }

  push(block: Planar): Planar {
    this.#inputFrames += framesOf(block);
    return this.#take(block, Infinity);
  }

  finish(): Planar {
    const wanted = resampledFrames(this.#inputFrames, this.from, this.to);
    const parts: Planar[] = [];
    const silence = emptyPlanar(this.#block.length, framesOf(this.#block));
    while (this.#outputFrames < wanted) parts.push(this.#take(silence, wanted));
    return joinedPlanar(parts, this.#block.length);
  }

  #take(block: Planar, wanted: Frames): Planar {
    const parts: Planar[] = [];
    const size = framesOf(this.#block);
    for (let at = 0; at < framesOf(block);) {
      const count = Math.min(size - this.#filled, framesOf(block) - at);
      this.#block.forEach((x, c) => x.set(block[c]!.subarray(at, at + count), this.#filled));
      this.#filled += count;
      at += count;
      if (this.#filled < size) continue;
      this.#filled = 0;
      const made = this.#convert();
      const part = made.map((x) => x.subarray(0, Math.max(0, wanted - this.#outputFrames)));
      this.#outputFrames += framesOf(part);
      parts.push(part);
    }
    return joinedPlanar(parts, this.#block.length);
  }

  #convert(): Planar {
    return this.#lines.flatMap((line, pair) => {
      const [a, b] = [this.#block[2 * pair]!, this.#block[2 * pair + 1]];
      const [left, right] = line.next(a, b ?? a);
      return b ? [left, right] : [left];
    });
  }
}
