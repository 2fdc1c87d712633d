/**
 * Holds back the bass by itself, where it is the bass that would rise above a ceiling, so that what sounds with it
 * stays as loud as it was. The bass is what moving averages let through: they do not ring, and what is left when it is
 * taken off is everything else.
 */
import { MOST_FRAMES, type LimiterEnvelope } from "../kernels/limiter-envelope";
import { movingAverage, type MovingAverage } from "../kernels/moving-average";
import { emptyPlanar, framesOf, slicePlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import { gainsOf, lookAheadFrames, type TruePeakLimiterSettings } from "./true-peak-limiter-stage";

/** Four averages of this length: down by 1 dB at 105 Hz, by 6 at 250, by 24 at 475. */
const AVERAGED_SECONDS = 61 / 48000;
/** Share of a sample that is bass from which on it begins to be held back alone, and from which on it is so wholly. */
const [SHARED_FROM, ALONE_FROM] = [0.5, 0.75];
/** It is held back by so much at most: −20 dB. */
const LEAST_GAIN = 0.1;

/** A group of channels whose bass has one common gain. Delays by `latency`. */
export class LowBandLimiter {
  readonly latency: Frames;
  readonly #ceiling: number;
  readonly #means: MovingAverage[];
  readonly #limit: LimiterEnvelope;
  /** Per channel: to where the bass is known, and from there to where its gain is. */
  readonly #first: DelayLine[];
  readonly #second: DelayLine[];
  readonly #bassDelays: DelayLine[];
  readonly #bass: Planar;
  readonly #gains = new Float64Array(MOST_FRAMES);

  constructor(channels: number, sampleRate: Hertz, settings: TruePeakLimiterSettings) {
    const ahead = lookAheadFrames(settings, sampleRate);
    const length = 2 * Math.round((AVERAGED_SECONDS * sampleRate - 1) / 2) + 1;
    this.#means = Array.from({ length: Math.ceil(channels / 2) }, () => movingAverage(length));
    const lines = (frames: Frames) => Array.from({ length: channels }, () => new DelayLine(frames));
    this.#bass = emptyPlanar(channels, MOST_FRAMES);
    const known = this.#means[0]!.latency;
    [this.#first, this.#second, this.#bassDelays] = [lines(known), lines(ahead), lines(ahead)];
    this.latency = known + ahead;
    this.#ceiling = settings.ceiling;
    this.#limit = gainsOf(settings, sampleRate);
  }

  copyFrom(other: LowBandLimiter): void {
    const delays = (of: LowBandLimiter) => [...of.#first, ...of.#second, ...of.#bassDelays];
    delays(this).forEach((line, n) => line.copyFrom(delays(other)[n]!));
    const tables = (of: LowBandLimiter) => [...of.#means.flatMap(({ remembered }) => remembered), ...of.#limit.memory];
    tables(this).forEach((table, n) => table.set(tables(other)[n]!));
  }

  /** In place. */
  process(block: Planar, frames: Frames): void {
    for (let start = 0; start < frames; start += MOST_FRAMES)
      this.#chunk(slicePlanar(block, start, Math.min(frames, start + MOST_FRAMES)));
  }

  #chunk(block: Planar): void {
    const frames = framesOf(block);
    const bass = this.#bass.map((x) => x.subarray(0, frames));
    const gains = this.#gains;
    this.#means.forEach((means, n) => means.process(block.slice(2 * n, 2 * n + 2), bass.slice(2 * n, 2 * n + 2)));
    gains.fill(0, 0, frames);
    block.forEach((x, c) => {
      this.#first[c]!.process(x);
      askFor(gains, x, bass[c]!, this.#ceiling);
    });
    const limits = this.#limit.process(gains, frames);
    block.forEach((x, c) => {
      this.#second[c]!.process(x);
      this.#bassDelays[c]!.process(bass[c]!);
      if (limits) holdBack(x, bass[c]!, gains);
    });
  }

  takeMinimumGain(): number {
    return this.#limit.takeMinimumGain();
  }
}

/**
 * Raises `peaks` to what a limiter would have to see to turn the bass down by as much as its share in what lies above
 * the ceiling. Hot.
 */
function askFor(peaks: Float64Array, x: Float32Array, bass: Float32Array, ceiling: number): void {
  for (let i = 0; i < x.length; i++) {
    const size = Math.abs(x[i]!);
    if (size <= ceiling) continue;
    const low = Math.abs(bass[i]!);
    const share = (low / (low + Math.abs(x[i]! - bass[i]!)) - SHARED_FROM) / (ALONE_FROM - SHARED_FROM);
    // Bass of the other sign than the whole holds it back.
    if (share <= 0 || x[i]! * bass[i]! <= 0) continue;
    const gain = 1 - ((share < 1 ? share : 1) * (size - ceiling)) / low;
    const peak = ceiling / (gain > LEAST_GAIN ? gain : LEAST_GAIN);
    if (peak > peaks[i]!) peaks[i] = peak;
  }
}

/** Takes the part of the bass away that its gain does not let through. Hot. */
function holdBack(x: Float32Array, bass: Float32Array, gains: Float64Array): void {
  for (let i = 0; i < x.length; i++) x[i] = x[i]! - (1 - gains[i]!) * bass[i]!;
}
