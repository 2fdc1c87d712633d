/**
 * What all dynamics processors share: the level of a signal, and a gain reduction that follows it with an attack and a
 * release (Giannoulis, Massberg, Reiss, "Digital dynamic range compressor design", JAES 60-6, 2012: feed-forward, log
 * domain, smooth branching detector; times are those of its one-pole filters, 63 % of the way).
 */
import { exp } from "../math/deterministic-math";
import {
  gainSmoother,
  freshState,
  reductionAt,
  type StaticCurve,
  type GainSmootherSettings,
  type GainSmootherState,
} from "../kernels/gain-smoother";
import { butterworth, BiquadFilter } from "./butterworth";
import { type Biquad } from "../kernels/biquad-cascade";
import { dbToPower } from "../audio/decibel";
import { slicePlanar, type Decibels, type Frames, type Hertz, type Planar, type Seconds } from "../audio/units";
import { Scratch } from "./scratch";
import { SlidingMaximum } from "../math/sliding-maximum";

export type Detection = "peak" | "rms";

/** A peak counts for so long: half a period of 100 Hz, so that a steady tone has a steady level. */
const PEAK_SECONDS: Seconds = 0.005;
/** Time constant of the mean of the squares. */
const RMS_SECONDS: Seconds = 0.01;
/** Powers below this are nothing: subnormal numbers are slow. */
const LEAST_POWER = 1e-30;

/** One step's share of the way in a one-pole filter of time constant `seconds`. */
export const shareOfStep = (seconds: Seconds, rate: Hertz): number =>
  seconds * rate < 1e-3 ? 1 : 1 - exp(-1 / (seconds * rate));

/** Share of the running mean that one frame makes up. */
export const meanShare = (sampleRate: Hertz): number => shareOfStep(RMS_SECONDS, sampleRate);

/** Power of a group of channels, sample by sample: that of the loudest. */
export class LevelDetector {
  readonly #hold: SlidingMaximum;
  readonly #share: number;
  #mean = 0;

  constructor(
    readonly detection: Detection,
    sampleRate: Hertz,
  ) {
    this.#hold = new SlidingMaximum(Math.max(1, Math.round(PEAK_SECONDS * sampleRate)));
    this.#share = meanShare(sampleRate);
  }

  copyFrom(other: LevelDetector): void {
    this.#hold.copyFrom(other.#hold);
    this.#mean = other.#mean;
  }

  /** Hot. */
  powers(block: Planar, frames: Frames, out: Float64Array): void {
    loudest(block, frames, out);
    if (this.detection === "peak") return this.#hold.process(out, frames);
    const share = this.#share;
    let mean = this.#mean;
    for (let i = 0; i < frames; i++) {
      mean += (out[i]! - mean) * share;
      if (mean < LEAST_POWER) mean = 0;
      // Of a sine, the level is that of its peak in either way of detection.
      out[i] = 2 * mean;
    }
    this.#mean = mean;
  }
}

/** Power of the loudest channel. Hot. */
function loudest(block: Planar, frames: Frames, out: Float64Array): void {
  const first = block[0]!;
  const second = block[1] ?? first;
  for (let i = 0; i < frames; i++) {
    const a = Math.abs(first[i]!);
    const b = Math.abs(second[i]!);
    const larger = a > b ? a : b;
    out[i] = larger * larger;
  }
  for (let c = 2; c < block.length; c++) {
    const x = block[c]!;
    for (let i = 0; i < frames; i++) {
      const power = x[i]! * x[i]!;
      if (power > out[i]!) out[i] = power;
    }
  }
}

/** What a level asks for: dB of reduction ≥ 0, for a drawing or a prediction. */
export type CompressionCurve = (levelDb: Decibels) => Decibels;

export const curveOf =
  (curve: StaticCurve): CompressionCurve =>
  (levelDb) =>
    reductionAt(curve, levelDb);

/** Compression above a threshold with a soft knee of `kneeDb` (equation 4 of the source). */
export const compression = (thresholdDb: Decibels, ratio: number, kneeDb: Decibels): StaticCurve => ({
  direction: 1,
  thresholdDb,
  slope: 1 - 1 / ratio,
  kneeDb,
  maxReductionDb: Infinity,
});

/** Expansion below a threshold, down to `maxReductionDb` at most. */
export const expansion = (
  thresholdDb: Decibels,
  ratio: number,
  kneeDb: Decibels,
  maxReductionDb: Decibels,
): StaticCurve => ({
  direction: -1,
  thresholdDb,
  slope: ratio - 1,
  kneeDb,
  maxReductionDb,
});

/** A mean moves little in so many frames: the gain that it asks for is worked out anew at each of these. */
const MEAN_STEPS: Frames = 4;

export interface Ballistics {
  /** What the powers are: a mean moves slowly, which saves work. */
  of: Detection;
  attack: Seconds;
  release: Seconds;
  /** Whether it lets go more slowly the longer it has held on. */
  autoRelease: boolean;
}

/** How much slower it lets go after holding on for long. */
const SUSTAINED_RELEASE = 4;
const SUSTAIN_SECONDS: Seconds = 0.5;
const SILENCE_DB: Decibels = -300;

/** A gain that goes where levels ask it to, with attack and release. */
export class GainFollower {
  readonly #settings: GainSmootherSettings;
  readonly #state: GainSmootherState = freshState();

  constructor(sampleRate: Hertz, { of, attack, release, autoRelease }: Ballistics) {
    const steps = of === "rms" ? MEAN_STEPS : 1;
    const share = (seconds: Seconds) => shareOfStep(seconds, sampleRate / steps);
    this.#settings = {
      attack: share(attack),
      release: share(release),
      slower: autoRelease ? SUSTAINED_RELEASE - 1 : 0,
      sustainShare: share(SUSTAIN_SECONDS),
      steps,
    };
  }

  copyFrom(other: GainFollower): void {
    Object.assign(this.#state, other.#state, { largest: this.#state.largest });
  }

  /** From powers to gains, in place, `gainDb` added. Levels at or below `quietDb` count as silence. */
  follow(powers: Float64Array, frames: Frames, curve: StaticCurve, quietDb: Decibels, gainDb: Decibels = 0): void {
    const { settings, rest, state } = this.kernelArguments(curve, quietDb, gainDb);
    gainSmoother(powers, frames, settings, curve, rest, state);
  }

  /** What a kernel needs to do the same; it changes `state`. */
  kernelArguments(curve: StaticCurve, quietDb: Decibels, gainDb: Decibels) {
    const rest = { quiet: dbToPower(quietDb), atRest: reductionAt(curve, SILENCE_DB), gainDb };
    return { settings: this.#settings, curve, rest, state: this.#state };
  }

  /** The most reduction since the last call. */
  takeMaxReduction(): Decibels {
    const { largest } = this.#state;
    this.#state.largest = 0;
    return largest;
  }
}

/** `x` times `gains`, in place. Hot. */
export function applyGains(x: Float32Array, gains: Float64Array, frames: Frames): void {
  for (let i = 0; i < frames; i++) x[i] = x[i]! * gains[i]!;
}

/** What is listened to for the level: a copy of the block, without what lies outside a band. */
export class SideChain {
  readonly #filter: BiquadFilter | null;
  readonly #copies = new Scratch();

  /** A corner at or beyond an end of hearing leaves that end alone. */
  constructor(channels: number, sampleRate: Hertz, low: Hertz, high: Hertz) {
    const sections: Biquad[] = [];
    if (low > 20) sections.push(...butterworth("high", Math.min(low, 0.45 * sampleRate), 2, sampleRate));
    if (high < 20000 && high < 0.45 * sampleRate) sections.push(...butterworth("low", high, 2, sampleRate));
    this.#filter = sections.length > 0 ? new BiquadFilter(sections, channels) : null;
  }

  copyFrom(other: SideChain): void {
    if (this.#filter && other.#filter) this.#filter.copyFrom(other.#filter);
  }

  /** Stays as it is until the next call. */
  of(block: Planar, frames: Frames): Planar {
    const own = slicePlanar(block, 0, frames);
    if (!this.#filter) return own;
    const copy = this.#copies.of(own);
    this.#filter.process(copy);
    return copy;
  }
}
