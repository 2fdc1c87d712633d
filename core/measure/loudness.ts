import { finiteOrNull, powerToDb } from "../audio/decibel";
import { loudnessWeight } from "../audio/layout";
import { integratedLoudness, loudnessRange, lufsOf } from "./gating";
import { LoudnessWindows } from "./loudness-windows";
import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { HOPS_PER_BLOCK, hopStart, BLOCKS_PER_SECOND } from "./analysis-block";

export interface LoudnessFigures {
  integratedLufs: number | null;
  momentaryMaxLufs: number | null;
  /** Where that window ends; so below. */
  momentaryMaxSeconds: number | null;
  shortTermMaxLufs: number | null;
  shortTermMaxSeconds: number | null;
  loudnessRangeLu: number | null;
  /** What each channel gives to the loudness, against all together; `null` for LFE and silence. */
  loudnessSharePerChannelDb: (number | null)[];
}

export interface LoudnessCurves {
  momentaryLufs: TimeSeries;
  shortTermLufs: TimeSeries;
}

const curveOf = (energies: Float64Array): TimeSeries => ({
  hopSeconds: 1 / BLOCKS_PER_SECOND,
  columns: 1,
  values: Float32Array.from(energies, lufsOf),
});

/** Loudness of a programme: gated, windowed and its range, from one K-weighted pass. */
export const loudness: MeasurementDefinition<LoudnessFigures, LoudnessCurves> = {
  id: "loudness",
  help: "Integrated, momentary and short-term loudness, loudness range, and the share of each channel",
  source: "ITU-R BS.1770-5 Annex 1 and 3; EBU Tech 3341; EBU Tech 3342",
  create({ sampleRate, layout }) {
    const weights = layout.speakers.map(loudnessWeight);
    const windows = new LoudnessWindows();
    const totals = new Float64Array(weights.length);
    return {
      block({ index, hops, weighted }) {
        for (let hop = 0; hop < hops; hop++) {
          let energy = 0;
          for (let c = 0; c < weights.length; c++) {
            const part = weights[c]! * weighted[c * HOPS_PER_BLOCK + hop]!;
            totals[c]! += part;
            energy += part;
          }
          const number = index * HOPS_PER_BLOCK + hop;
          windows.push(energy / (hopStart(number + 1, sampleRate) - hopStart(number, sampleRate)));
        }
      },
      result() {
        const all = totals.reduce((sum, total) => sum + total, 0);
        return {
          figures: {
            integratedLufs: finiteOrNull(integratedLoudness(windows.momentary())),
            momentaryMaxLufs: finiteOrNull(lufsOf(windows.momentaryMax)),
            momentaryMaxSeconds: windows.momentaryMax > 0 ? windows.momentaryMaxSeconds : null,
            shortTermMaxLufs: finiteOrNull(lufsOf(windows.shortTermMax)),
            shortTermMaxSeconds: windows.shortTermMax > 0 ? windows.shortTermMaxSeconds : null,
            loudnessRangeLu: loudnessRange(windows.shortTerm()),
            loudnessSharePerChannelDb: Array.from(totals, (total) => finiteOrNull(powerToDb(total / all))),
          },
          curves: { momentaryLufs: curveOf(windows.momentary()), shortTermLufs: curveOf(windows.shortTerm()) },
        };
      },
    };
  },
};
