/** Limits the peaks of the waveform between samples, looking ahead. */
import { intersamplePeaks, PEAK_CHUNK, PEAK_MARGIN } from "../dsp/intersample-peak";
import { limiterEnvelope, type LimiterEnvelope } from "../kernels/limiter-envelope";
import type { Frames, Hertz, Planar, Seconds } from "../audio/units";

const CHUNK = PEAK_CHUNK;
/**
 * After a peak the gain is back in a moment; what is kept of the mean reduction grows with it, so that dense sound is
 * turned down as a whole instead of being torn open between its peaks. Fitted on drums, strings, orchestra, mixes and
 * speech: least loss of loudness at less distortion than one release gives.
 */
const PROGRAMME = { peakRelease: 0.0015, levelAttack: 0.03, levelShare: 0.2, levelShareSlope: 2.5, block: 0.025 };

export interface TruePeakLimiterSettings {
  ceiling: number;
  lookAhead: Seconds;
  /** In which the mean reduction is let go of, 63 % of the way. */
  release: Seconds;
  peakRelease?: Seconds;
}

export const lookAheadFrames = ({ lookAhead }: TruePeakLimiterSettings, sampleRate: Hertz): Frames =>
  Math.max(2, Math.round(lookAhead * sampleRate));

/** The gains of a limiter as it is set. */
export const gainsOf = (settings: TruePeakLimiterSettings, sampleRate: Hertz): LimiterEnvelope =>
  limiterEnvelope({
    ceiling: settings.ceiling,
    lookAhead: lookAheadFrames(settings, sampleRate),
    peakRelease: (settings.peakRelease ?? PROGRAMME.peakRelease) * sampleRate,
    levelAttack: PROGRAMME.levelAttack * sampleRate,
    levelRelease: settings.release * sampleRate,
    levelShare: PROGRAMME.levelShare,
    levelShareSlope: PROGRAMME.levelShareSlope,
    block: Math.round(PROGRAMME.block * sampleRate),
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
