import { finiteOrNull, gainToDb, powerToDb } from "../audio/decibel";
import type { Seconds } from "../audio/units";
import type { MeasurementDefinition } from "./measurement";
import { HALF_SECOND_PARTS, PartPowers } from "./part-powers";
import { HOPS_PER_BLOCK, PART_SECONDS } from "./analysis-block";

export interface LevelFigures {
  samplePeakDbfs: number | null;
  samplePeakPerChannelDbfs: (number | null)[];
  rmsDbfs: number | null;
  rmsPerChannelDbfs: (number | null)[];
  /** RMS of the loudest 500 ms of all channels together, and where it begins; so below. */
  loudestRmsDbfs: number | null;
  loudestRmsSeconds: Seconds | null;
  quietestRmsDbfs: number | null;
  quietestRmsSeconds: Seconds | null;
  loudestRmsPerChannelDbfs: (number | null)[];
  quietestRmsPerChannelDbfs: (number | null)[];
  dcOffset: number[];
}

/** The largest and the smallest mean square of ten parts in a row. */
class Extremes {
  readonly #ring = new Float64Array(HALF_SECOND_PARTS);
  #parts = 0;
  largest = -Infinity;
  largestPart = 0;
  smallest = Infinity;
  smallestPart = 0;

  push(power: number): void {
    this.#ring[this.#parts % HALF_SECOND_PARTS] = power;
    this.#parts++;
    if (this.#parts < HALF_SECOND_PARTS) return;
    let mean = 0;
    for (let i = 0; i < HALF_SECOND_PARTS; i++) mean += this.#ring[i]!;
    mean /= HALF_SECOND_PARTS;
    if (mean > this.largest) {
      this.largest = mean;
      this.largestPart = this.#parts - HALF_SECOND_PARTS;
    }
    if (mean < this.smallest) {
      this.smallest = mean;
      this.smallestPart = this.#parts - HALF_SECOND_PARTS;
    }
  }

  get known(): boolean {
    return this.#parts >= HALF_SECOND_PARTS;
  }
}

const levelOf = (power: number): number | null => finiteOrNull(powerToDb(power));

/** Sample peak, plain RMS and mean of each channel and over all; loudest and quietest half second. */
export const level: MeasurementDefinition<LevelFigures> = {
  id: "level",
  help: "Sample peak, RMS, loudest and quietest 500 ms and DC offset, per channel",
  source: "AES17 for the reference of dBFS; plain RMS, a full-scale square wave reads 0",
  create({ sampleRate, layout }) {
    const count = layout.speakers.length;
    const peaks = new Float64Array(count);
    const squares = new Float64Array(count);
    const sums = new Float64Array(count);
    const powers = new PartPowers(count, sampleRate);
    const extremes = layout.speakers.map(() => new Extremes());
    const together = new Extremes();
    let total = 0;
    return {
      block(tick) {
        for (let c = 0; c < count; c++) {
          peaks[c] = Math.max(peaks[c]!, tick.largest[c]!, -tick.smallest[c]!);
          sums[c]! += tick.sum[c]!;
          for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) squares[c]! += tick.energy[c * HOPS_PER_BLOCK + hop]!;
        }
        total += tick.frames;
        powers.each(tick, (all, perChannel) => {
          together.push(all);
          for (let c = 0; c < count; c++) extremes[c]!.push(perChannel[c]!);
        });
      },
      result() {
        const frames = Math.max(1, total);
        const meanSquare = squares.reduce((sum, square) => sum + square, 0) / (frames * count);
        return {
          figures: {
            samplePeakDbfs: finiteOrNull(gainToDb(Math.max(...peaks))),
            samplePeakPerChannelDbfs: Array.from(peaks, (peak) => finiteOrNull(gainToDb(peak))),
            rmsDbfs: levelOf(meanSquare),
            rmsPerChannelDbfs: Array.from(squares, (square) => levelOf(square / frames)),
            loudestRmsDbfs: levelOf(together.largest),
            loudestRmsSeconds: together.largest > 0 ? together.largestPart * PART_SECONDS : null,
            quietestRmsDbfs: levelOf(together.smallest),
            quietestRmsSeconds: together.known ? together.smallestPart * PART_SECONDS : null,
            loudestRmsPerChannelDbfs: extremes.map(({ largest }) => levelOf(largest)),
            quietestRmsPerChannelDbfs: extremes.map(({ smallest }) => levelOf(smallest)),
            dcOffset: Array.from(sums, (sum) => sum / frames),
          },
        };
      },
    };
  },
};
