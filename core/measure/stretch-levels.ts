/** Levels of a stretch at once, from the tables of a recording: without reading a sample. */
import { dbToPower, powerToDb } from "../audio/decibel";
import type { Decibels, Seconds } from "../audio/units";
import type { TimeSeries } from "./measurement";

/** Steps of a series that a stretch touches, each with the share of it that lies in the stretch. */
function touched({ hopSeconds, values }: TimeSeries, start: Seconds, end: Seconds): { index: number; share: number }[] {
  const first = Math.max(0, Math.floor(start / hopSeconds + 1e-9));
  const last = Math.min(values.length, Math.ceil(end / hopSeconds - 1e-9));
  return Array.from({ length: Math.max(0, last - first) }, (_, i) => {
    const index = first + i;
    const overlap = Math.min(end, (index + 1) * hopSeconds) - Math.max(start, index * hopSeconds);
    return { index, share: overlap / hopSeconds };
  });
}

export interface StretchLevels {
  /** Steps that lie half inside count by half: exact where the level is steady in them. −Infinity of silence. */
  rmsDbfs: Decibels;
  /** The highest sample of all steps that are touched: the stretch's own, or less than one step beyond. */
  samplePeakDbfs: Decibels;
  /** Whether both are exact: the stretch begins and ends with steps of both tables. */
  isExact: boolean;
}

/** @param curves 50 ms RMS and peaks of each 100 ms */
export function stretchLevels(
  { rmsDbfs, samplePeakDbfs }: { rmsDbfs: TimeSeries; samplePeakDbfs: TimeSeries },
  start: Seconds,
  end: Seconds,
): StretchLevels {
  const parts = touched(rmsDbfs, start, end);
  const peaks = touched(samplePeakDbfs, start, end);
  const shares = parts.reduce((sum, { share }) => sum + share, 0);
  const power = parts.reduce((sum, { index, share }) => sum + share * dbToPower(rmsDbfs.values[index]!), 0);
  return {
    rmsDbfs: powerToDb(power / Math.max(shares, 1e-9)),
    samplePeakDbfs: peaks.reduce((most, { index }) => Math.max(most, samplePeakDbfs.values[index]!), -Infinity),
    isExact: [...parts, ...peaks].every(({ share }) => share > 1 - 1e-6),
  };
}
