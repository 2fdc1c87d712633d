import { finiteOrNull } from "../signal/decibel";
import { integratedLoudness, loudnessRange, lufsOf } from "./gating";
import { HOPS_PER_POINT, HOPS_PER_SECOND, LoudnessSeries } from "./loudness-series";
import type { MeasurementDefinition } from "./measurement";

export interface LoudnessFigures {
  integratedLufs: number | null;
  momentaryMaxLufs: number | null;
  momentaryMaxSeconds: number | null;
  shortTermMaxLufs: number | null;
  shortTermMaxSeconds: number | null;
  loudnessRangeLu: number | null;
}

/** A curve over time: one value each `hopSeconds`, the first at `hopSeconds`. −Infinity where silent. */
export interface Curve {
  hopSeconds: number;
  values: Float32Array;
}

export interface LoudnessCurves {
  momentaryLufs: Curve;
  shortTermLufs: Curve;
}

const POINT_SECONDS = HOPS_PER_POINT / HOPS_PER_SECOND;

const curveOf = (energies: Float64Array): Curve => ({
  hopSeconds: POINT_SECONDS,
  values: Float32Array.from(energies, lufsOf),
});

/** Loudness of a programme: gated, windowed and its range, from one K-weighted pass. */
export const loudness: MeasurementDefinition<LoudnessFigures & { loudnessCurves: LoudnessCurves }> = {
  id: "loudness",
  help: "Integrated, momentary and short-term loudness, and loudness range",
  source: "ITU-R BS.1770-5 Annex 1 and 3; EBU Tech 3341; EBU Tech 3342",
  create(format) {
    const series = new LoudnessSeries(format);
    return {
      process: (block, frames) => series.process(block, frames),
      result: () => ({
        integratedLufs: finiteOrNull(integratedLoudness(series.momentary())),
        momentaryMaxLufs: finiteOrNull(lufsOf(series.momentaryMax)),
        momentaryMaxSeconds: series.momentaryMax > 0 ? series.momentaryMaxSeconds : null,
        shortTermMaxLufs: finiteOrNull(lufsOf(series.shortTermMax)),
        shortTermMaxSeconds: series.shortTermMax > 0 ? series.shortTermMaxSeconds : null,
        loudnessRangeLu: loudnessRange(series.shortTerm()),
        loudnessCurves: {
          momentaryLufs: curveOf(series.momentary()),
          shortTermLufs: curveOf(series.shortTerm()),
        },
      }),
    };
  },
};
