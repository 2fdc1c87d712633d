import { powerToDb } from "../audio/decibel";
import type { Seconds } from "../audio/units";
import { JoinedRuns } from "./digital-silence";
import type { MeasurementDefinition } from "./measurement";
import { PartPowers } from "./part-powers";
import { GrowableTable } from "./decimating-series";
import { PART_SECONDS } from "./analysis-block";

export interface LeadingTrailingSilenceFigures {
  /** Digital silence before the first and after the last sample that is not 0; the whole length where all is. */
  headSilenceSeconds: Seconds;
  tailSilenceSeconds: Seconds;
  /** Before the first and after the last wanted sound, digital silence included; `null` where nothing stands out. */
  headRoomToneSeconds: Seconds | null;
  tailRoomToneSeconds: Seconds | null;
}

/** Wanted sound stands this far above the floor … */
const ABOVE_FLOOR_DB = 12;
/** … and at most this far below the loudest. */
const BELOW_LOUDEST_DB = 50;
/** Less between floor and loudest, and there is no telling room tone from wanted sound. */
const LEAST_CONTRAST_DB = 20;
/** The floor is what the quietest tenth of the recording stays below; digital silence is left out. */
const FLOOR_RANK = 0.05;

/** Room tone is steady: nine tenths of it lie within this. What swells is a beginning of its own. */
const STEADY_DB = 8;

/** Whether levels are those of a room and not of something that fades; digital silence is passed over. */
export function isSteady(levels: Float32Array): boolean {
  const sorted = levels.filter((level) => level > -Infinity).sort();
  const rank = (fraction: number) => sorted[Math.floor((sorted.length - 1) * fraction)] ?? 0;
  return rank(0.95) - rank(0.05) <= STEADY_DB;
}

/** Where wanted sound begins and ends, by the RMS of each 50 ms. */
export function wantedStretch(rmsDbfs: Float32Array): { first: number; last: number } | null {
  const sorted = rmsDbfs.filter((level) => level > -Infinity).sort();
  if (sorted.length === 0) return null;
  const floor = sorted[Math.floor((sorted.length - 1) * FLOOR_RANK)]!;
  const loudest = sorted[sorted.length - 1]!;
  if (loudest - floor < LEAST_CONTRAST_DB) return null;
  const threshold = Math.max(floor + ABOVE_FLOOR_DB, loudest - BELOW_LOUDEST_DB);
  const first = rmsDbfs.findIndex((level) => level > threshold);
  if (first < 0) return null;
  let last = rmsDbfs.length - 1;
  while (!(rmsDbfs[last]! > threshold)) last--;
  return { first, last };
}

/** Silence and room tone before and after what the recording is for. */
export const leadingTrailingSilence: MeasurementDefinition<LeadingTrailingSilenceFigures> = {
  id: "head-and-tail",
  help: "Digital silence and room tone at head and tail",
  source: "Resonum: exact zeros in all channels; 50 ms RMS at least 12 dB over the floor is wanted sound",
  create({ sampleRate, layout }) {
    const joined = new JoinedRuns();
    const powers = new PartPowers(layout.speakers.length, sampleRate);
    const levels = new GrowableTable();
    let zeros = 0;
    let frames = 0;
    return {
      block(tick) {
        for (const run of joined.take(tick)) if (run.start === 0) zeros = run.length;
        frames = tick.start + tick.frames;
        powers.each(tick, (power) => levels.push(powerToDb(power)));
      },
      result() {
        const values = levels.values();
        const wanted = wantedStretch(values);
        const head = wanted && isSteady(values.subarray(0, wanted.first));
        const tail = wanted && isSteady(values.subarray(wanted.last + 1));
        return {
          figures: {
            headSilenceSeconds: zeros / sampleRate,
            tailSilenceSeconds: (joined.open?.length ?? 0) / sampleRate,
            headRoomToneSeconds: head ? wanted.first * PART_SECONDS : null,
            tailRoomToneSeconds: tail ? Math.max(0, frames / sampleRate - (wanted.last + 1) * PART_SECONDS) : null,
          },
        };
      },
    };
  },
};
