import { PEAK_CHUNK, PEAK_FILTER, PEAK_MARGIN, raiseToHighest, type Peak } from "../dsp/intersample-peak";
import { prescannedSamples } from "../kernels/true-peak-prescan";
import { finiteOrNull, gainToDb } from "../audio/decibel";
import type { Frames } from "../audio/units";
import type { MeasurementDefinition } from "./measurement";

export interface TruePeakFigures {
  truePeakDbtp: number | null;
  truePeakSeconds: number | null;
  truePeakPerChannelDbtp: (number | null)[];
  truePeakFilter: string;
}

const CHUNK = 4 * PEAK_CHUNK;
const WINDOW = CHUNK + 2 * PEAK_MARGIN;

/** Running true peak of one channel, for meters: the largest magnitude of the interpolated waveform so far. */
export class TruePeakChannel {
  /** Margin before, the chunk, margin after. */
  readonly #room = prescannedSamples(WINDOW);
  readonly #peak: Peak = { level: 0, frame: 0 };
  #filled = PEAK_MARGIN; // silence lies before the first sample

  process(x: Float32Array, frames: Frames): void {
    const { samples, prescan } = this.#room;
    let taken = 0;
    while (taken < frames) {
      const count = Math.min(frames - taken, WINDOW - this.#filled);
      samples.set(x.subarray(taken, taken + count), this.#filled);
      this.#filled += count;
      taken += count;
      if (this.#filled === WINDOW) {
        raiseToHighest(samples, PEAK_MARGIN, PEAK_MARGIN + CHUNK, this.#peak, prescan);
        samples.copyWithin(0, CHUNK);
        this.#filled -= CHUNK;
      }
    }
  }

  /** The peak since the last call. */
  take(): number {
    const { level } = this.#peak;
    this.#peak.level = 0;
    return level;
  }
}

/** True peak per channel and over all. */
export const truePeak: MeasurementDefinition<TruePeakFigures> = {
  id: "true-peak",
  help: "True peak of the waveform between samples, per channel",
  source: "ITU-R BS.1770-5 Annex 2",
  create({ sampleRate, layout }) {
    const peaks: Peak[] = layout.speakers.map(() => ({ level: 0, frame: 0 }));
    return {
      block({ truePeak: levels, truePeakFrame }) {
        peaks.forEach((peak, c) => {
          if (levels[c]! <= peak.level) return;
          peak.level = levels[c]!;
          peak.frame = truePeakFrame[c]!;
        });
      },
      result() {
        const highest = peaks.reduce((best, next) => (next.level > best.level ? next : best));
        return {
          figures: {
            truePeakDbtp: finiteOrNull(gainToDb(highest.level)),
            truePeakSeconds: highest.level > 0 ? highest.frame / sampleRate : null,
            truePeakPerChannelDbtp: peaks.map(({ level }) => finiteOrNull(gainToDb(level))),
            truePeakFilter: PEAK_FILTER,
          },
        };
      },
    };
  },
};
