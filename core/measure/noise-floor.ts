import { finiteOrNull, powerToDb } from "../signal/decibel";
import type { MeasurementDefinition } from "./measurement";

export interface NoiseFloorFigures {
  /** Lowest RMS over any 500 ms, windows with digital silence left out; `null` when there is none. */
  noiseFloorDbfs: number | null;
  /** Where that window starts. */
  noiseFloorSeconds: number | null;
}

const HOPS_PER_SECOND = 20; // 50 ms
const WINDOW_HOPS = 10; // 500 ms
const DIGITAL_SILENCE_SECONDS = 0.01;

/** The quietest half second that is not digital silence: what a noise-floor limit is held against. */
export const noiseFloor: MeasurementDefinition<NoiseFloorFigures> = {
  id: "noise-floor",
  help: "Lowest RMS over any 500 ms, leaving out digital silence",
  source: "Resonum: 500 ms windows each 50 ms, over all channels",
  create({ sampleRate, layout }) {
    const channels = layout.speakers.length;
    const zerosForSilence = Math.ceil(DIGITAL_SILENCE_SECONDS * sampleRate);
    const sums = new Float64Array(channels);
    const means = new Float64Array(WINDOW_HOPS);
    const silentHops = new Uint8Array(WINDOW_HOPS);
    let hop = 0;
    let hopStart = 0;
    let position = 0;
    let zeroRun = 0;
    let silent = 0;
    let lowest = Infinity;
    let lowestHop = 0;

    const closeHop = () => {
      const slot = hop % WINDOW_HOPS;
      let sum = 0;
      for (let c = 0; c < channels; c++) {
        sum += sums[c]!;
        sums[c] = 0;
      }
      means[slot] = sum / (channels * Math.max(1, position - hopStart));
      silentHops[slot] = silent;
      silent = zeroRun >= zerosForSilence ? 1 : 0;
      hopStart = position;
      hop++;
      if (hop < WINDOW_HOPS || silentHops.includes(1)) return;
      let mean = 0;
      for (let i = 0; i < WINDOW_HOPS; i++) mean += means[i]!;
      mean /= WINDOW_HOPS;
      if (mean < lowest) {
        lowest = mean;
        lowestHop = hop - WINDOW_HOPS;
      }
    };

    return {
      process(block, frames) {
        let from = 0;
        while (from < frames) {
          const hopEnd = Math.round(((hop + 1) * sampleRate) / HOPS_PER_SECOND);
          const to = Math.min(frames, from + hopEnd - position);
          for (let c = 0; c < channels; c++) {
            const x = block[c]!;
            let sum = sums[c]!;
            for (let i = from; i < to; i++) sum += x[i]! * x[i]!;
            sums[c] = sum;
          }
          for (let i = from; i < to; i++) {
            let zero = true;
            for (let c = 0; zero && c < channels; c++) zero = block[c]![i] === 0;
            zeroRun = zero ? zeroRun + 1 : 0;
            if (zeroRun >= zerosForSilence) silent = 1;
          }
          position += to - from;
          from = to;
          if (position === hopEnd) closeHop();
        }
      },
      result: () => ({
        noiseFloorDbfs: lowest === Infinity ? null : finiteOrNull(powerToDb(lowest)),
        noiseFloorSeconds: lowest === Infinity ? null : lowestHop / HOPS_PER_SECOND,
      }),
    };
  },
};
