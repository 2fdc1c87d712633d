import { finiteOrNull, gainToDb, powerToDb } from "../signal/decibel";
import type { MeasurementDefinition } from "./measurement";

export interface LevelFigures {
  samplePeakDbfs: number | null;
  samplePeakPerChannelDbfs: (number | null)[];
  rmsDbfs: number | null;
  rmsPerChannelDbfs: (number | null)[];
  dcOffset: number[];
}

/** Sample peak, plain RMS and mean of each channel and over all. */
export const level: MeasurementDefinition<LevelFigures> = {
  id: "level",
  help: "Sample peak, RMS and DC offset, per channel",
  source: "AES17 for the reference of dBFS; plain RMS, a full-scale square wave reads 0",
  create(format) {
    const count = format.layout.speakers.length;
    const peaks = new Float64Array(count);
    const squares = new Float64Array(count);
    const sums = new Float64Array(count);
    let total = 0;
    return {
      process(block, frames) {
        for (let c = 0; c < count; c++) {
          const x = block[c]!;
          let peak = peaks[c]!;
          let square = squares[c]!;
          let sum = sums[c]!;
          for (let i = 0; i < frames; i++) {
            const v = x[i]!;
            const magnitude = v < 0 ? -v : v;
            if (magnitude > peak) peak = magnitude;
            square += v * v;
            sum += v;
          }
          peaks[c] = peak;
          squares[c] = square;
          sums[c] = sum;
        }
        total += frames;
      },
      result() {
        const frames = Math.max(1, total);
        const meanSquare = squares.reduce((sum, square) => sum + square, 0) / (frames * count);
        return {
          samplePeakDbfs: finiteOrNull(gainToDb(Math.max(...peaks))),
          samplePeakPerChannelDbfs: Array.from(peaks, (peak) => finiteOrNull(gainToDb(peak))),
          rmsDbfs: finiteOrNull(powerToDb(meanSquare)),
          rmsPerChannelDbfs: Array.from(squares, (square) => finiteOrNull(powerToDb(square / frames))),
          dcOffset: Array.from(sums, (sum) => sum / frames),
        };
      },
    };
  },
};
