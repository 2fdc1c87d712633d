import * as z from "zod";
import type { Curves } from "../measure";
import type { TimeSeries } from "../measure/measurement";
import { FINE_BANDS, joinedBands } from "../measure/spectrum";

/** Rows of the spectra curve that hold all channels together. */
export const SPECTRUM_ROWS = { average: 0, peak: 1, floor: 2 } as const;

export const spectrumRow = ({ values }: TimeSeries, row: number): Float32Array =>
  values.subarray(row * FINE_BANDS, (row + 1) * FINE_BANDS);

const MOST_POINTS = 1200;
const tenths = (level: number): number | null => (Number.isFinite(level) ? Math.round(level * 10) / 10 : null);

/** The highest value in each of at most `MOST_POINTS` equal parts of a curve. */
function thinned({ values }: TimeSeries): (number | null)[] {
  const count = Math.min(MOST_POINTS, values.length);
  return Array.from({ length: count }, (_, part) => {
    const from = Math.floor((part * values.length) / count);
    const to = Math.max(from + 1, Math.floor(((part + 1) * values.length) / count));
    return tenths(values.subarray(from, to).reduce((most, level) => Math.max(most, level), -Infinity));
  });
}

const LOWEST_BIN = -60;
const GATE = -70;

/** Part of the time at each loudness, in steps of one LU from −60 LUFS: of what lies above −70. */
export function distributionOf({ values }: TimeSeries): { lufs: number; share: number }[] {
  const counts = new Array<number>(-LOWEST_BIN + 1).fill(0);
  let all = 0;
  for (const level of values) {
    if (!(level > GATE)) continue;
    all++;
    const bin = Math.round(level) - LOWEST_BIN;
    if (bin >= 0) counts[Math.min(bin, counts.length - 1)]!++;
  }
  return counts.map((count, i) => ({ lufs: LOWEST_BIN + i, share: all === 0 ? 0 : count / all }));
}

export function drawingsOf({ momentaryLufs, shortTermLufs, spectraDbfs }: Curves): ReportDrawings {
  const known = spectraDbfs.values.length > 0;
  const spectrum = (row: number) =>
    known ? joinedBands(spectrumRow(spectraDbfs, row), 4).map(({ dbfs }) => tenths(dbfs)) : [];
  return {
    seconds: momentaryLufs.values.length * momentaryLufs.hopSeconds,
    momentaryLufs: thinned(momentaryLufs),
    shortTermLufs: thinned(shortTermLufs),
    distribution: distributionOf(shortTermLufs),
    averageDbfs: spectrum(SPECTRUM_ROWS.average),
    peakDbfs: spectrum(SPECTRUM_ROWS.peak),
  };
}

const levels = (most: number) => z.array(z.number().nullable()).max(most);

/** What is drawn in reports: as fine as it can be seen there, so that thousands of entries fit into memory. */
export const drawingsSchema = z.object({
  seconds: z.number(),
  momentaryLufs: levels(5000).describe("Highest of each of at most 1,200 equal parts; null for silence."),
  shortTermLufs: levels(5000),
  distribution: z.array(z.object({ lufs: z.number(), share: z.number() })).max(200),
  averageDbfs: levels(500).describe("Sixth octaves."),
  peakDbfs: levels(500),
});
export type ReportDrawings = z.infer<typeof drawingsSchema>;
