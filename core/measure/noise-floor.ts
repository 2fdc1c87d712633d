import { finiteOrNull, powerToDb } from "../audio/decibel";
import type { Seconds } from "../audio/units";
import { DIGITAL_SILENCE_SECONDS, JoinedRuns } from "./digital-silence";
import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { HALF_SECOND_PARTS, PartPowers } from "./part-powers";
import { GrowableTable } from "./decimating-series";
import { PART_SECONDS, type Run } from "./analysis-block";

export interface NoiseFloorFigures {
  /** Lowest RMS over any 500 ms, windows with digital silence left out; `null` when there is none. */
  noiseFloorDbfs: number | null;
  /** Where that window starts. */
  noiseFloorSeconds: Seconds | null;
}

/** The quietest half second that is not digital silence: what a noise-floor limit is held against. */
export const noiseFloor: MeasurementDefinition<NoiseFloorFigures, { rmsDbfs: TimeSeries }> = {
  id: "noise-floor",
  help: "Lowest RMS over any 500 ms, leaving out digital silence; RMS each 50 ms",
  source: "Resonum: 500 ms windows each 50 ms, over all channels",
  create({ sampleRate, layout }) {
    const least = Math.ceil(DIGITAL_SILENCE_SECONDS * sampleRate);
    const powers = new PartPowers(layout.speakers.length, sampleRate);
    const joined = new JoinedRuns();
    const ring = new Float64Array(HALF_SECOND_PARTS);
    const curve = new GrowableTable();
    let parts = 0;
    let lastSilent = -Infinity;
    let lowest = Infinity;
    let lowestPart = 0;
    // A part is silent where a run of zeros has lasted for 10 ms.
    const silent = (runs: Run[], start: number, end: number) =>
      runs.some((run) => run.length >= least && run.start + least - 1 < end && run.start + run.length > start);
    return {
      block(tick) {
        const runs = joined.take(tick);
        powers.each(tick, (power, _, start, end) => {
          curve.push(powerToDb(power));
          ring[parts % HALF_SECOND_PARTS] = power;
          if (silent(runs, start, end)) lastSilent = parts;
          parts++;
          if (parts < HALF_SECOND_PARTS || lastSilent >= parts - HALF_SECOND_PARTS) return;
          let mean = 0;
          for (let i = 0; i < HALF_SECOND_PARTS; i++) mean += ring[i]!;
          mean /= HALF_SECOND_PARTS;
          if (mean >= lowest) return;
          lowest = mean;
          lowestPart = parts - HALF_SECOND_PARTS;
        });
      },
      result: () => ({
        figures: {
          noiseFloorDbfs: lowest === Infinity ? null : finiteOrNull(powerToDb(lowest)),
          noiseFloorSeconds: lowest === Infinity ? null : lowestPart * PART_SECONDS,
        },
        curves: { rmsDbfs: { hopSeconds: PART_SECONDS, columns: 1, values: curve.values() } },
      }),
    };
  },
};
