/**
 * Sample-rate conversion by windowed sincs: flat to 0.91 of the lower Nyquist, stop-band from that Nyquist on at
 * 150 dB, its delay taken back. A sharp filter, whose rate is raised to twice or lowered to a part of the input's on the
 * way, then a short polyphase filter where that is not the last rate (Crochiere & Rabiner 1983, chapter 3). Needs the ratio of the rates to be one of whole numbers up to 4096, which all
 * rates in use are.
 */
import {
  sampleRateConverter,
  type SampleRateConverter,
  type SampleRateConverterPlan,
} from "../kernels/sample-rate-converter";
import { kaiser, kaiserBeta, kaiserLength, kaiserPhases, sinc } from "../math/kaiser";
import { minimumPhase } from "../math/minimum-phase";
import { emptyPlanar, framesOf, joinedPlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import type { Stage } from "../audio/stage";

/** How the filter's delay lies: the same for all frequencies, or as early as it can be. */
export const FILTER_PHASES = ["linear", "minimum"] as const;
export type FilterPhase = (typeof FILTER_PHASES)[number];

const ATTENUATION_DB = 150;
const PASS_BAND = 0.91; // of the lower Nyquist
const MAX_PHASES = 4096;
/** Where the raised rate is twice the band or more, this many taps reject its images by `ATTENUATION_DB`. */
const SHORT_TAPS = 20;
const SMALLEST_TRANSFORM = 1024;
const LONG_FILTER = 4096; // taps

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Frames that `frames` at one rate become at another. */
export const resampledFrames = (frames: Frames, from: Hertz, to: Hertz): Frames => Math.ceil((frames * to) / from);

/** Windowed sinc at `rate`, flat to 0.91 of `edge` and stopped from `edge` on; its delay a multiple of `step` samples. */
function sharpFilter(edge: Hertz, rate: Hertz, step: number): Float64Array {
  const stop = edge / rate;
  const half = Math.ceil(kaiserLength(ATTENUATION_DB, stop * (1 - PASS_BAND)) / 2 / step) * step;
  const cutoff = (stop * (1 + PASS_BAND)) / 2;
  const beta = kaiserBeta(ATTENUATION_DB);
  const taps = Float64Array.from({ length: 2 * half + 1 }, (_, i) => {
    const distance = i - half;
    return sinc(2 * cutoff * distance) * kaiser(distance / (half + 1), beta);
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => tap / sum);
}

/** The middle rate, against the input's: where it is not the last one, it holds twice the band or more. */
function middleOf(from: Hertz, to: Hertz): { raise: number; lower: number } {
  const wanted = 2 * Math.min(from, to);
  if (to === 2 * from) return { raise: 2, lower: 1 };
  let lower = 1;
  while ((from / (2 * lower) >= wanted || from / (2 * lower) === to) && Number.isInteger(from / (2 * lower)))
    lower *= 2;
  return { raise: lower === 1 && from < wanted ? 2 : 1, lower };
}

function design(from: Hertz, to: Hertz, phase: FilterPhase): SampleRateConverterPlan {
  const { raise, lower } = middleOf(from, to);
  const middle = (from * raise) / lower;
  const divisor = gcd(middle, to);
  const up = to / divisor;
  const down = middle / divisor;
  if (up > MAX_PHASES)
    throw new Error(
      `Converting ${from} Hz to ${to} Hz needs ${up} filter phases; ${MAX_PHASES} are possible. Choose a rate with a simpler ratio.`,
    );
  const linear = sharpFilter(Math.min(from, to) / 2, from * raise, lower);
  const filter = phase === "linear" ? linear : minimumPhase(linear);
  const samples = phase === "linear" ? (filter.length - 1) / 2 : delayAtRest(filter);
  const phases = up === 1 ? null : kaiserPhases(up, SHORT_TAPS, ATTENUATION_DB);
  let size = SMALLEST_TRANSFORM;
  // Longer transforms waste less on the past, until they no longer fit the cache.
  const room = filter.length > LONG_FILTER ? 3 : 8;
  while (size * raise < room * filter.length) size *= 2;
  return { size, raise, lower, filter, delay: Math.round(samples / lower), phases, up, down };
}

/** Delay of the lowest frequencies, in samples: the taps' centre of gravity. */
function delayAtRest(filter: Float64Array): number {
  const moment = filter.reduce((sum, tap, i) => sum + tap * i, 0);
  return moment / filter.reduce((sum, tap) => sum + tap, 0);
}

/** Converts a stream from one rate to another. @throws when the ratio of the rates needs too many phases */
export class ResampleStage implements Stage {
  readonly #lines: SampleRateConverter[];
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
    this.#lines = Array.from({ length: Math.ceil(channels / 2) }, () => sampleRateConverter(plan));
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
