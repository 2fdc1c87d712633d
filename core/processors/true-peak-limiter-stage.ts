/** Limits the peaks of the waveform between samples, looking ahead. */
import { intersamplePeaks, PEAK_CHUNK, PEAK_MARGIN } from "../dsp/intersample-peak";
import { limiterEnvelope, type LimiterEnvelope } from "../kernels/limiter-envelope";
import type { Frames, Hertz, Planar, Seconds } from "../audio/units";

const CHUNK = PEAK_CHUNK;
/** The longer limiting goes on, the slower it lets go: up to this many times the release. */
const SUSTAINED_RELEASE = 5;
const SUSTAIN_SECONDS = 0.4;

export interface TruePeakLimiterSettings {
  ceiling: number;
  lookAhead: Seconds;
  hold: Seconds;
  release: Seconds;
}

export const lookAheadFrames = ({ lookAhead }: TruePeakLimiterSettings, sampleRate: Hertz): Frames =>
  Math.max(2, Math.round(lookAhead * sampleRate));

/** The gains of a limiter as it is set. */
export const gainsOf = (settings: TruePeakLimiterSettings, sampleRate: Hertz): LimiterEnvelope =>
  limiterEnvelope({
    ceiling: settings.ceiling,
    releaseFrames: Math.max(1, settings.release * sampleRate),
    slower: SUSTAINED_RELEASE - 1,
    sustainStep: 1 / (SUSTAIN_SECONDS * sampleRate),
    lookAhead: lookAheadFrames(settings, sampleRate),
    hold: Math.round(settings.hold * sampleRate),
  });

/** Limits a group of channels by one common gain. Delays by `latency`. */
export class TruePeakLimiterStage {
  readonly latency: Frames;
  readonly #ceiling: number;
  /** Per channel: the delay line, contiguous so that the detector can read across it. */
  readonly #lines: Float32Array[];
  readonly #gains = new Float64Array(CHUNK);
  readonly #limit: LimiterEnvelope;

  constructor(channels: number, sampleRate: Hertz, settings: TruePeakLimiterSettings) {
    this.latency = lookAheadFrames(settings, sampleRate) + PEAK_MARGIN;
    this.#ceiling = settings.ceiling;
    // The detector looks PEAK_MARGIN back from a frame that is PEAK_MARGIN behind the input.
    const history = Math.max(this.latency, 2 * PEAK_MARGIN);
    this.#lines = Array.from({ length: channels }, () => new Float32Array(history + CHUNK));
    this.#limit = gainsOf(settings, sampleRate);
  }

  copyFrom(other: TruePeakLimiterStage): void {
    this.#lines.forEach((line, c) => line.set(other.#lines[c]!));
    this.#limit.memory.forEach((table, n) => table.set(other.#limit.memory[n]!));
  }

  /** Limits `block` in place, delayed. */
  process(block: Planar, frames: Frames): void {
    for (let start = 0; start < frames; start += CHUNK) this.#chunk(block, start, Math.min(CHUNK, frames - start));
  }

  #chunk(block: Planar, start: number, count: number): void {
    const { latency } = this;
    const history = this.#lines[0]!.length - CHUNK;
    const gains = this.#gains;
    gains.fill(0, 0, count);
    const at = history - PEAK_MARGIN;
    for (let c = 0; c < this.#lines.length; c++) {
      const line = this.#lines[c]!;
      line.set(block[c]!.subarray(start, start + count), history);
      intersamplePeaks(line, at, at + count, this.#ceiling, gains);
    }
    const limits = this.#limit.process(gains, count);
    for (let c = 0; c < this.#lines.length; c++) {
      const line = this.#lines[c]!;
      const delayed = line.subarray(history - latency, history - latency + count);
      const out = block[c]!.subarray(start, start + count);
      if (limits) this.#limit.apply(delayed, out);
      else out.set(delayed);
      line.copyWithin(0, count, history + count);
    }
  }

  /** The smallest gain since the last call. */
  takeMinimumGain(): number {
    return this.#limit.takeMinimumGain();
  }
}
