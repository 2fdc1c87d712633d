import { finiteOrNull, powerToDb } from "../audio/decibel";
import type { Seconds } from "../audio/units";
import { DIGITAL_SILENCE_SECONDS, JoinedRuns } from "./digital-silence";
import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { HALF_SECOND_PARTS, PartPowers } from "./part-powers";
import { GrowableTable } from "./decimating-series";
import { PART_SECONDS, type Run } from "./analysis-block";

export interface NoiseFloorFigures {
  /**
   * Lowest RMS over any 500 ms, windows with digital silence left out. `null` where there is none: the recording is
   * shorter, or its pauses are digital silence and every other half second is programme.
   */
  noiseFloorDbfs: number | null;
  /** Where that window starts. */
  noiseFloorSeconds: Seconds | null;
}

/** Beside pauses of digital silence, what lies nearer to the programme's level than this is programme, not its floor. */
const PROGRAMME_ABOVE_FLOOR_DB = 20;

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
    /** Silent parts in a row, and whether there were half a second of them. */
    let silentParts = 0;
    let hasSilentPause = false;
    let sounding = { power: 0, parts: 0 };
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
          else sounding = { power: sounding.power + power, parts: sounding.parts + 1 };
          silentParts = power === 0 ? silentParts + 1 : 0;
          hasSilentPause ||= silentParts >= HALF_SECOND_PARTS;
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
      result() {
        const mean = sounding.power / Math.max(1, sounding.parts);
        const isProgramme = hasSilentPause && powerToDb(mean) - powerToDb(lowest) < PROGRAMME_ABOVE_FLOOR_DB;
        const isThere = lowest !== Infinity && !isProgramme;
        return {
          figures: {
            noiseFloorDbfs: isThere ? finiteOrNull(powerToDb(lowest)) : null,
            noiseFloorSeconds: isThere ? lowestPart * PART_SECONDS : null,
          },
          curves: { rmsDbfs: { hopSeconds: PART_SECONDS, columns: 1, values: curve.values() } },
        };
      },
    };
  },
};
