import { gainToDb } from "../audio/decibel";
import { loudnessWeight } from "../audio/layout";
import type { Seconds } from "../audio/units";
import { ABSOLUTE_GATE, lufsOf } from "./gating";
import type { MeasurementDefinition } from "./measurement";
import { HOPS_PER_BLOCK, BLOCKS_PER_SECOND } from "./analysis-block";

export interface PeakToLoudnessFigures {
  /** Lowest difference of true peak and short-term loudness, both of the same 3 s; `null` where nothing is loud. */
  psrMinLu: number | null;
  /** Where those 3 s end. */
  psrMinSeconds: Seconds | null;
}

const WINDOW_SECONDS = 3;

/** How much of its peaks a programme has kept, where it has kept least: each second, over 3 s. */
export const peakToLoudness: MeasurementDefinition<PeakToLoudnessFigures> = {
  id: "peak-to-loudness",
  help: "Lowest ratio of true peak to short-term loudness",
  source: "Resonum: true peak less short-term loudness of the same 3 s, each second, above −70 LUFS",
  create({ sampleRate, layout }) {
    const weights = layout.speakers.map(loudnessWeight);
    const energies = new Float64Array(WINDOW_SECONDS);
    const peaks = new Float64Array(WINDOW_SECONDS);
    let energy = 0;
    let peak = 0;
    let seconds = 0;
    let lowest = Infinity;
    let lowestSeconds = 0;
    return {
      block({ index, hops, weighted, truePeak }) {
        if (hops < HOPS_PER_BLOCK) return;
        for (let c = 0; c < weights.length; c++) {
          let sum = 0;
          for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) sum += weighted[c * HOPS_PER_BLOCK + hop]!;
          energy += weights[c]! * sum;
          if (truePeak[c]! > peak) peak = truePeak[c]!;
        }
        if ((index + 1) % BLOCKS_PER_SECOND !== 0) return;
        energies[seconds % WINDOW_SECONDS] = energy;
        peaks[seconds % WINDOW_SECONDS] = peak;
        energy = 0;
        peak = 0;
        seconds++;
        if (seconds < WINDOW_SECONDS) return;
        const meanSquare = energies.reduce((sum, part) => sum + part, 0) / (WINDOW_SECONDS * sampleRate);
        const shortTerm = lufsOf(meanSquare);
        if (shortTerm < ABSOLUTE_GATE) return;
        const ratio = gainToDb(Math.max(...peaks)) - shortTerm;
        if (ratio >= lowest) return;
        lowest = ratio;
        lowestSeconds = seconds;
      },
      result: () => ({
        figures:
          lowest === Infinity
            ? { psrMinLu: null, psrMinSeconds: null }
            : { psrMinLu: lowest, psrMinSeconds: lowestSeconds },
      }),
    };
  },
};
