import { powerToDb } from "../audio/decibel";
import type { Decibels, Hertz } from "../audio/units";
import type { MeasurementDefinition } from "./measurement";

export interface BandwidthFigures {
  /** Where the spectrum falls off a cliff below half the rate; `null` where it does not. */
  bandwidthHz: Hertz | null;
  /** 0…1: how sure that is, by the height of the cliff. */
  bandwidthConfidence: number;
}

const STEP: Hertz = 100;
/** Foot and edge of a cliff are this far apart … */
const CLIFF: Hertz = 400;
/** … and the levels on both sides are taken over this. */
const SIDE: Hertz = 1200;
const LEAST_DROP_DB: Decibels = 18;
const SURE_DROP_DB: Decibels = 45;
/** Whatever lies above the cliff stays this far below its edge. */
const STAYS_BELOW_DB: Decibels = 12;
/** Above this part of half the rate every converter has its cliff. */
const CONVERTERS_OWN = 0.92;
/** Quieter edges are the end of the noise, not of the sound. */
const LEAST_EDGE_DBFS = -110;

/** Mean of levels `from`…`to` hertz. */
function meanLevel(levels: number[], from: Hertz, to: Hertz): number {
  const part = levels.slice(Math.max(0, Math.round(from / STEP)), Math.round(to / STEP));
  return part.length === 0 ? NaN : part.reduce((sum, level) => sum + level, 0) / part.length;
}

/** Where a spectrum, in dB each 100 Hz, ends in a cliff. */
export function cliffOf(levels: number[]): { hertz: Hertz; dropDb: Decibels } | null {
  const end = levels.length * STEP;
  let best: { hertz: Hertz; dropDb: Decibels } | null = null;
  for (let hertz = 2000; hertz + CLIFF / 2 < end * CONVERTERS_OWN; hertz += STEP) {
    const edge = meanLevel(levels, hertz - CLIFF / 2 - SIDE, hertz - CLIFF / 2);
    const foot = meanLevel(levels, hertz + CLIFF / 2, Math.min(end, hertz + CLIFF / 2 + SIDE));
    if (edge < LEAST_EDGE_DBFS || edge - foot < Math.max(LEAST_DROP_DB, best?.dropDb ?? 0)) continue;
    const highestAbove = Math.max(...levels.slice(Math.round((hertz + CLIFF / 2) / STEP)));
    if (highestAbove > edge - STAYS_BELOW_DB) continue;
    best = { hertz, dropDb: edge - foot };
  }
  return best;
}

/** Where the spectrum ends, if a lossy codec or a lower rate has ended it. */
export const bandwidth: MeasurementDefinition<BandwidthFigures> = {
  id: "bandwidth",
  help: "Where the spectrum ends before half the sample rate: a lossy or upsampled past",
  source: "Resonum: a drop of 18 dB or more within 400 Hz in the peak spectrum, with nothing above it",
  create({ sampleRate }) {
    return {
      result(spectra) {
        const none = { figures: { bandwidthHz: null, bandwidthConfidence: 0 } };
        if (!spectra.known) return none;
        const peak = spectra.mean("peak");
        const width = spectra.binWidth(sampleRate);
        const levels = Array.from({ length: Math.floor(sampleRate / 2 / STEP) }, (_, i) => {
          const [first, last] = [Math.floor((i * STEP) / width), Math.ceil(((i + 1) * STEP) / width)];
          return powerToDb(Math.max(1e-20, ...peak.subarray(first, last)));
        });
        const cliff = cliffOf(levels);
        if (!cliff) return none;
        const confidence = (cliff.dropDb - LEAST_DROP_DB / 2) / (SURE_DROP_DB - LEAST_DROP_DB / 2);
        return { figures: { bandwidthHz: cliff.hertz, bandwidthConfidence: Math.min(1, confidence) } };
      },
    };
  },
};
