/** Curves of hours thinned to stretches of them, so that predictions follow a setting while it moves. */
import { joinedPlanar } from "../audio/units";
import type { Curves, Figures } from "../measure";
import type { TimeSeries } from "../measure/measurement";
import type { LevelCurves } from "../processors/processor";
import { highestOf, type KnownLevels } from "./predict-chain";

/** What a prediction after a chain begins with. */
export interface Predictable {
  figures: Figures;
  curves: Curves;
  known: KnownLevels | null;
}

/** Steps of 100 ms in a stretch: what follows levels over time is true within. */
const STRETCH = 50;
/** Ten minutes are gone through within a frame of the screen. */
const MOST_STEPS = 6000;

/** Stretches that stand for all of `steps`: evenly apart, and the one with the highest peak. */
function stretchesOf(peakDb: Float32Array, most: number): number[] {
  const count = Math.ceil(peakDb.length / STRETCH);
  const wanted = Math.floor(most / STRETCH);
  const chosen = Array.from({ length: wanted }, (_, i) => Math.floor(((i + 0.5) * count) / wanted));
  const highest = peakDb.indexOf(highestOf(peakDb));
  return [...new Set([...chosen, Math.floor(Math.max(0, highest) / STRETCH)])].sort((a, b) => a - b);
}

/** The same where it is short; else what its predictions are estimated from while something moves. */
export function sampled(predictable: Predictable, mostSteps = MOST_STEPS): Predictable {
  const { figures, curves, known } = predictable;
  const peaks = curves.samplePeakDbfs.values;
  if (peaks.length <= mostSteps) return predictable;
  const stretches = stretchesOf(peaks, mostSteps);
  const picked = (values: Float32Array): Float32Array => {
    const parts = stretches.map((stretch) => [values.subarray(stretch * STRETCH, (stretch + 1) * STRETCH)]);
    return joinedPlanar(parts, 1)[0]!;
  };
  const thinned = (series: TimeSeries): TimeSeries => ({ ...series, values: picked(series.values) });
  const levels = (after: LevelCurves): LevelCurves => ({
    ...after,
    peakDb: picked(after.peakDb),
    momentaryLufs: picked(after.momentaryLufs),
  });
  return {
    figures,
    curves: {
      ...curves,
      samplePeakDbfs: thinned(curves.samplePeakDbfs),
      momentaryLufs: thinned(curves.momentaryLufs),
    },
    known: known && { chain: known.chain, after: known.after.map(levels) },
  };
}
