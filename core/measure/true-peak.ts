import { intersamplePeaks, PEAK_CHUNK, PEAK_FILTER, PEAK_MARGIN } from "../kernels/intersample-peak";
import { finiteOrNull, gainToDb } from "../signal/decibel";
import type { Frames, Planar } from "../signal/units";
import type { MeasurementDefinition } from "./measurement";

export interface TruePeakFigures {
  truePeakDbtp: number | null;
  truePeakSeconds: number | null;
  truePeakPerChannelDbtp: (number | null)[];
  truePeakFilter: string;
}

const CHUNK = 4 * PEAK_CHUNK;
const WINDOW = CHUNK + 2 * PEAK_MARGIN;

/** Running true peak of one channel: the largest magnitude of the interpolated waveform so far. */
export class TruePeakChannel {
  /** Margin before, the chunk, margin after; and a second margin after, for the silence behind the last sample. */
  readonly #buffer = new Float32Array(CHUNK + 3 * PEAK_MARGIN);
  readonly #out = new Float64Array(PEAK_CHUNK);
  #filled = PEAK_MARGIN; // silence lies before the first sample
  #frame = -PEAK_MARGIN; // frame number of the buffer's first sample
  peak = 0;
  peakFrame: Frames = 0;

  process(x: Float32Array, frames: Frames): void {
    let taken = 0;
    while (taken < frames) {
      const count = Math.min(frames - taken, WINDOW - this.#filled);
      this.#buffer.set(x.subarray(taken, taken + count), this.#filled);
      this.#filled += count;
      taken += count;
      if (this.#filled === WINDOW) {
        this.#scan(CHUNK);
        this.#buffer.copyWithin(0, CHUNK);
        this.#filled -= CHUNK;
        this.#frame += CHUNK;
      }
    }
  }

  /** Looks at what still lacks its margin, as if silence followed, without changing what comes later. */
  peakWithTail(): { peak: number; frame: Frames } {
    const pending = this.#filled - PEAK_MARGIN;
    const before = { peak: this.peak, frame: this.peakFrame };
    if (pending > 0) {
      this.#buffer.fill(0, this.#filled);
      this.#scan(pending);
    }
    const result = { peak: this.peak, frame: this.peakFrame };
    this.peak = before.peak;
    this.peakFrame = before.frame;
    return result;
  }

  #scan(count: number): void {
    const out = this.#out;
    let position = 0;
    // The maximum so far is the threshold; taking it anew for each stretch keeps the expensive part rare.
    while (position < count) {
      const end = Math.min(count, position + PEAK_CHUNK);
      intersamplePeaks(this.#buffer, PEAK_MARGIN + position, PEAK_MARGIN + end, this.peak, out);
      for (let i = 0; i < end - position; i++) {
        if (out[i]! > this.peak) {
          this.peak = out[i]!;
          this.peakFrame = this.#frame + PEAK_MARGIN + position + i;
        }
      }
      position = end;
    }
  }
}

/** True peak per channel and over all. */
export const truePeak: MeasurementDefinition<TruePeakFigures> = {
  id: "true-peak",
  help: "True peak of the waveform between samples, per channel",
  source: "ITU-R BS.1770-5 Annex 2",
  create(format) {
    const channels = format.layout.speakers.map(() => new TruePeakChannel());
    return {
      process(block: Planar, frames) {
        for (let c = 0; c < channels.length; c++) channels[c]!.process(block[c]!, frames);
      },
      result() {
        const peaks = channels.map((channel) => channel.peakWithTail());
        const highest = peaks.reduce((best, next) => (next.peak > best.peak ? next : best));
        return {
          truePeakDbtp: finiteOrNull(gainToDb(highest.peak)),
          truePeakSeconds: highest.peak > 0 ? Math.max(0, highest.frame) / format.sampleRate : null,
          truePeakPerChannelDbtp: peaks.map(({ peak }) => finiteOrNull(gainToDb(peak))),
          truePeakFilter: PEAK_FILTER,
        };
      },
    };
  },
};
