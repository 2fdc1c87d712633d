/**
 * What all dynamics processors share: the level of a signal, and a gain reduction that follows it with an attack and a
 * release (Giannoulis, Massberg, Reiss, "Digital dynamic range compressor design", JAES 60-6, 2012: feed-forward, log
 * domain, smooth branching detector; times are those of its one-pole filters, 63 % of the way).
 */
import { exp } from "../math/elementary";
import { quickDbToGain, quickPowerToDb } from "../math/quick";
import { butterworth, SectionFilter, type Section } from "../signal/butterworth";
import { dbToPower } from "../signal/decibel";
import { slicePlanar, type Decibels, type Frames, type Hertz, type Planar, type Seconds } from "../signal/units";
import { SlidingMaximum } from "./sliding-maximum";

export type Detection = "peak" | "rms";

/** A peak counts for so long: half a period of 100 Hz, so that a steady tone has a steady level. */
const PEAK_SECONDS: Seconds = 0.005;
/** Time constant of the mean of the squares. */
const RMS_SECONDS: Seconds = 0.01;
/** Powers below this are nothing: subnormal numbers are slow. */
const LEAST_POWER = 1e-30;
/** Below this distance the gain has arrived. */
const ARRIVED: Decibels = 1e-5;

/** One step's share of the way in a one-pole filter of time constant `seconds`. */
export const shareOfStep = (seconds: Seconds, rate: Hertz): number =>
  seconds * rate < 1e-3 ? 1 : 1 - exp(-1 / (seconds * rate));

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
    this.#share = shareOfStep(RMS_SECONDS, sampleRate);
  }

  copyFrom(other: LevelDetector): void {
    this.#hold.copyFrom(other.#hold);
    this.#mean = other.#mean;
  }

  /** Hot. */
  powers(block: Planar, frames: Frames, out: Float64Array): void {
    const first = block[0]!;
    for (let i = 0; i < frames; i++) out[i] = first[i]! * first[i]!;
    for (let c = 1; c < block.length; c++) {
      const x = block[c]!;
      for (let i = 0; i < frames; i++) {
        const power = x[i]! * x[i]!;
        if (power > out[i]!) out[i] = power;
      }
    }
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

/** What a level asks for: dB of reduction ≥ 0. */
export type Curve = (levelDb: Decibels) => Decibels;

/** Compression above a threshold with a soft knee of `kneeDb` (equation 4 of the source). */
export function compressionCurve(thresholdDb: Decibels, ratio: number, kneeDb: Decibels): Curve {
  const slope = 1 - 1 / ratio;
  return (level) => {
    const over = level - thresholdDb;
    if (2 * over <= -kneeDb) return 0;
    if (2 * over < kneeDb) return (slope * (over + kneeDb / 2) ** 2) / (2 * kneeDb);
    return slope * over;
  };
}

/** Expansion below a threshold, down to `rangeDb` at most. */
export function expansionCurve(thresholdDb: Decibels, ratio: number, kneeDb: Decibels, rangeDb: Decibels): Curve {
  return (level) => {
    const under = thresholdDb - level;
    if (2 * under <= -kneeDb) return 0;
    const wanted = 2 * under < kneeDb ? ((ratio - 1) * (under + kneeDb / 2) ** 2) / (2 * kneeDb) : (ratio - 1) * under;
    return wanted < rangeDb ? wanted : rangeDb;
  };
}

/** A mean moves little in so many frames: the gain that it asks for is worked out anew at each of these. */
const MEAN_STEPS: Frames = 4;

export interface Ballistics {
  /** What the powers are: a mean moves slowly, which saves work. */
  of: Detection;
  attack: Seconds;
  release: Seconds;
  /** Whether it lets go more slowly the longer it has held on. */
  adapts: boolean;
}

/** How much slower it lets go after holding on for long. */
const SUSTAINED_RELEASE = 4;
const SUSTAIN_SECONDS: Seconds = 0.5;

/** A reduction that goes where it is asked to, with attack and release. */
export class ReductionFollower {
  readonly #attack: number;
  readonly #release: number;
  readonly #sustainShare: number;
  readonly #adapts: boolean;
  readonly #steps: Frames;
  /** Frames until the wanted reduction is worked out anew. */
  #left = 0;
  #wanted: Decibels;
  #reduction = 0;
  #sustain = 0;
  #most = 0;

  constructor(
    sampleRate: Hertz,
    { of, attack, release, adapts }: Ballistics,
    readonly initial: Decibels = 0,
  ) {
    this.#attack = shareOfStep(attack, sampleRate);
    this.#release = shareOfStep(release, sampleRate);
    this.#sustainShare = shareOfStep(SUSTAIN_SECONDS, sampleRate);
    this.#adapts = adapts;
    this.#steps = of === "rms" ? MEAN_STEPS : 1;
    this.#wanted = initial;
    this.#reduction = initial;
  }

  copyFrom(other: ReductionFollower): void {
    this.#reduction = other.#reduction;
    this.#sustain = other.#sustain;
    this.#wanted = other.#wanted;
    this.#left = other.#left;
  }

  /** From powers to reductions in dB, in place. Levels at or below `quietDb` ask for `curve(−∞)`. Hot. */
  follow(powers: Float64Array, frames: Frames, curve: Curve, quietDb: Decibels): void {
    const quiet = dbToPower(quietDb);
    const atRest = curve(-300);
    const [attack, release, adapts, sustainShare] = [this.#attack, this.#release, this.#adapts, this.#sustainShare];
    let reduction = this.#reduction;
    let sustain = this.#sustain;
    let most = this.#most;
    let wanted = this.#wanted;
    let left = this.#left;
    const steps = this.#steps;
    for (let i = 0; i < frames; i++) {
      if (left === 0) {
        const power = powers[i]!;
        wanted = power <= quiet ? atRest : curve(quickPowerToDb(power));
        left = steps;
      }
      left--;
      const way = wanted - reduction;
      if (way > 0) reduction += way * attack;
      else if (way < 0) reduction += adapts ? (way * release) / (1 + (SUSTAINED_RELEASE - 1) * sustain) : way * release;
      if (Math.abs(wanted - reduction) < ARRIVED) reduction = wanted;
      if (adapts) {
        sustain += ((reduction > 0.1 ? 1 : 0) - sustain) * sustainShare;
        if (sustain < ARRIVED) sustain = 0;
      }
      if (reduction > most) most = reduction;
      powers[i] = reduction;
    }
    this.#wanted = wanted;
    this.#left = left;
    this.#reduction = reduction;
    this.#sustain = sustain;
    this.#most = most;
  }

  /** The most since the last call. */
  takeMost(): Decibels {
    const most = this.#most;
    this.#most = 0;
    return most;
  }
}

/** From reductions in dB to gains, in place, `gainDb` added. Hot. */
export function toGains(reductions: Float64Array, frames: Frames, gainDb: Decibels = 0): void {
  for (let i = 0; i < frames; i++) reductions[i] = quickDbToGain(gainDb - reductions[i]!);
}

/** `x` times `gains`, in place. Hot. */
export function applyGains(x: Float32Array, gains: Float64Array, frames: Frames): void {
  for (let i = 0; i < frames; i++) x[i] = x[i]! * gains[i]!;
}

/** What is listened to for the level: a copy of the block, without what lies outside a band. */
export class SideChain {
  readonly #filter: SectionFilter | null;

  /** A corner at or beyond an end of hearing leaves that end alone. */
  constructor(channels: number, sampleRate: Hertz, low: Hertz, high: Hertz) {
    const sections: Section[] = [];
    if (low > 20) sections.push(...butterworth("high", Math.min(low, 0.45 * sampleRate), 2, sampleRate));
    if (high < 20000 && high < 0.45 * sampleRate) sections.push(...butterworth("low", high, 2, sampleRate));
    this.#filter = sections.length > 0 ? new SectionFilter(sections, channels) : null;
  }

  copyFrom(other: SideChain): void {
    if (this.#filter && other.#filter) this.#filter.copyFrom(other.#filter);
  }

  of(block: Planar, frames: Frames): Planar {
    const own = slicePlanar(block, 0, frames);
    if (!this.#filter) return own;
    const copy = own.map((x) => x.slice());
    this.#filter.process(copy);
    return copy;
  }
}
