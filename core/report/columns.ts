import type { Figures } from "../measure";
import { formatDb, formatTime } from "../audio/format";
import { LIMITED_FIGURES, type LimitedFigure } from "../delivery/spec";

/** A figure in tables: on screen, in CSV and in reports. */
export interface FigureColumn {
  id: string;
  label: string;
  /** In full, for papers. */
  name: string;
  unit: string;
  digits: number;
  /** `null` says that there is none, and not that it is silent. */
  mayBeMissing?: boolean;
  /** The figure that limits are set on, if any. */
  limited?: LimitedFigure;
  value(figures: Figures): number | null;
}

/** Those that no limit can be set on. */
const NAMES: Partial<Record<keyof Figures, string>> = {
  plrLu: "Peak to loudness ratio (PLR)",
  psrMinLu: "Lowest peak to short-term loudness ratio (PSR)",
  dialogueLufs: "Loudness of speech, estimated",
  clippedRuns: "Runs of clipped samples",
};

const column = (
  id: keyof Figures,
  label: string,
  unit: string,
  value: FigureColumn["value"],
  more: Partial<FigureColumn> = {},
): FigureColumn => {
  const name = more.limited ? LIMITED_FIGURES[more.limited].name : (NAMES[id] ?? label);
  return { id, label, name, unit, digits: 1, value, ...more };
};

/** Columns of tables of many recordings. */
export const FIGURE_COLUMNS: readonly FigureColumn[] = [
  column("integratedLufs", "Integrated", "LUFS", (figures) => figures.integratedLufs, { limited: "integratedLufs" }),
  column("truePeakDbtp", "True peak", "dBTP", (figures) => figures.truePeakDbtp, {
    limited: "truePeakDbtp",
    digits: 2,
  }),
  column("loudnessRangeLu", "Range", "LU", (figures) => figures.loudnessRangeLu, { limited: "loudnessRangeLu" }),
  column("shortTermMaxLufs", "Short-term max", "LUFS", (figures) => figures.shortTermMaxLufs, {
    limited: "shortTermMaxLufs",
  }),
  column("momentaryMaxLufs", "Momentary max", "LUFS", (figures) => figures.momentaryMaxLufs, {
    limited: "momentaryMaxLufs",
  }),
  column("rmsDbfs", "RMS", "dBFS", (figures) => figures.rmsDbfs, { limited: "rmsDbfs" }),
  column("noiseFloorDbfs", "Noise floor", "dBFS", (figures) => figures.noiseFloorDbfs, {
    limited: "noiseFloorDbfs",
    mayBeMissing: true,
  }),
  column("samplePeakDbfs", "Sample peak", "dBFS", (figures) => figures.samplePeakDbfs, {
    limited: "samplePeakDbfs",
    digits: 2,
  }),
  column("plrLu", "Peak to loudness", "LU", (figures) => figures.plrLu),
  column("psrMinLu", "Lowest peak to short-term", "LU", (figures) => figures.psrMinLu),
  column("correlation", "Correlation", "", (figures) => figures.correlation, { digits: 2 }),
  column("dialogueLufs", "Speech, estimated", "LUFS", (figures) => figures.dialogueLufs, { mayBeMissing: true }),
  column("clippedRuns", "Clipped runs", "", (figures) => figures.clippedRuns.count, { digits: 0 }),
];

/** A figure as it is read: −∞ for silence, a dash for what there is not. */
export function figureWords({ value, unit, digits, mayBeMissing }: FigureColumn, figures: Figures): string {
  const level = value(figures);
  const silent = !mayBeMissing && (unit.startsWith("LUFS") || unit.startsWith("dB"));
  return level === null && !silent ? "—" : formatDb(level, { digits });
}

export const lengthWords = (figures: Figures): string => formatTime(figures.durationSeconds, 1);
