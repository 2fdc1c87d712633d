/**
 * The gain of a look-ahead limiter, from the peaks of the waveform between samples. For each frame the smallest gain
 * that anything within the window demands is held, released slowly, and smoothed by two moving averages that are
 * together no longer than the look-ahead: the smoothed gain is never above what a frame demands.
 *
 * Gains are whole multiples of 2⁻³⁰, so the moving sums are exact: no drift, no dependence on block sizes, and a
 * gain of exactly 1 where nothing is limited.
 */
import { intersamplePeaks, PEAK_CHUNK, PEAK_MARGIN } from "../kernels/intersample-peak";
import type { Frames, Hertz, Planar, Seconds } from "../signal/units";
import { SlidingMaximum } from "./sliding-maximum";

const UNIT = 2 ** 30;
const CHUNK = PEAK_CHUNK;
/** Below this distance a release has arrived (−144 dB). */
const ARRIVED = 2 ** -24;
/** The longer limiting goes on, the slower it lets go: up to this many times the release. */
const SUSTAINED_RELEASE = 5;
const SUSTAIN_SECONDS = 0.4;

export interface LookAheadSettings {
  ceiling: number;
  lookAhead: Seconds;
  hold: Seconds;
  release: Seconds;
}

/** Limits a group of channels by one common gain. Delays by `latency`. */
export class LookAheadGain {
  readonly latency: Frames;
  readonly #ceiling: number;
  readonly #releaseFrames: number;
  readonly #sustainStep: number;
  readonly #lookAhead: number;
  /** Per channel: the delay line, contiguous so that the detector can read across it. */
  readonly #lines: Float32Array[];
  readonly #peaks = new Float64Array(CHUNK);
  readonly #gains = new Float64Array(CHUNK);
  readonly #held: SlidingMaximum;
  readonly #first: MovingSum;
  readonly #second: MovingSum;
  readonly #full: number;
  #previousPeak = 0;
  #released = 1;
  #sustain = 0;
  #smallest = 1;

  constructor(channels: number, sampleRate: Hertz, settings: LookAheadSettings) {
    const lookAhead = Math.max(2, Math.round(settings.lookAhead * sampleRate));
    const hold = Math.round(settings.hold * sampleRate);
    this.#lookAhead = lookAhead;
    this.latency = lookAhead + PEAK_MARGIN;
    this.#ceiling = settings.ceiling;
    this.#releaseFrames = Math.max(1, settings.release * sampleRate);
    this.#sustainStep = 1 / (SUSTAIN_SECONDS * sampleRate);
    // The detector looks PEAK_MARGIN back from a frame that is PEAK_MARGIN behind the input.
    const history = Math.max(this.latency, 2 * PEAK_MARGIN);
    this.#lines = Array.from({ length: channels }, () => new Float32Array(history + CHUNK));
    this.#held = new SlidingMaximum(lookAhead + hold + 1);
    const half = Math.floor((lookAhead + 2) / 2);
    this.#first = new MovingSum(half, UNIT);
    this.#second = new MovingSum(lookAhead + 2 - half, UNIT * half);
    this.#full = UNIT * half * (lookAhead + 2 - half);
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
      intersamplePeaks(line, at, at + count, this.#ceiling, this.#peaks);
      for (let i = 0; i < count; i++) if (this.#peaks[i]! > gains[i]!) gains[i] = this.#peaks[i]!;
    }
    this.#toGains(count);
    for (let c = 0; c < this.#lines.length; c++) {
      const line = this.#lines[c]!;
      const out = block[c]!;
      const from = history - latency;
      for (let i = 0; i < count; i++) out[start + i] = line[from + i]! * gains[i]!;
      line.copyWithin(0, count, history + count);
    }
  }

  /** From the peaks of the next intervals to the gains of the frames `#lookAhead` earlier, in place. Hot. */
  #toGains(count: number): void {
    const gains = this.#gains;
    const ceiling = this.#ceiling;
    // A peak between two frames is scaled by the gains of both.
    let previous = this.#previousPeak;
    for (let i = 0; i < count; i++) {
      const peak = gains[i]!;
      if (previous > peak) gains[i] = previous;
      previous = peak;
    }
    this.#previousPeak = previous;
    this.#held.process(gains, count);
    let released = this.#released;
    let sustain = this.#sustain;
    const [releaseFrames, sustainStep] = [this.#releaseFrames, this.#sustainStep];
    for (let i = 0; i < count; i++) {
      const peak = gains[i]!;
      const held = peak > ceiling ? ceiling / peak : 1;
      if (held <= released) released = held;
      else {
        const slower = 1 + (SUSTAINED_RELEASE - 1) * sustain;
        released += (held - released) / (1 + releaseFrames * slower);
        if (held - released < ARRIVED) released = held;
      }
      sustain += ((held < 1 ? 1 : 0) - sustain) * sustainStep;
      if (sustain < ARRIVED) sustain = 0;
      gains[i] = Math.floor(released * UNIT);
    }
    this.#released = released;
    this.#sustain = sustain;
    this.#first.process(gains, count);
    this.#second.process(gains, count);
    let smallest = this.#smallest;
    const full = this.#full;
    for (let i = 0; i < count; i++) {
      const smooth = gains[i]! / full;
      gains[i] = smooth;
      if (smooth < smallest) smallest = smooth;
    }
    this.#smallest = smallest;
  }

  /** The smallest gain since the last call. */
  takeSmallest(): number {
    const smallest = this.#smallest;
    this.#smallest = 1;
    return smallest;
  }
}

/** Sum of the last `length` whole numbers, exact; starts as if `initial` had gone on for ever. */
class MovingSum {
  readonly #ring: Float64Array;
  #sum: number;
  #next = 0;

  constructor(length: number, initial: number) {
    this.#ring = new Float64Array(length).fill(initial);
    this.#sum = length * initial;
  }

  /** In place. Hot. */
  process(values: Float64Array, count: number): void {
    const ring = this.#ring;
    let sum = this.#sum;
    let next = this.#next;
    for (let i = 0; i < count; i++) {
      const value = values[i]!;
      sum += value - ring[next]!;
      ring[next] = value;
      if (++next === ring.length) next = 0;
      values[i] = sum;
    }
    this.#sum = sum;
    this.#next = next;
  }
}
