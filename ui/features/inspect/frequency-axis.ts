import { CHART_TEXT } from "./chart-style";

/** Frequencies that charts are marked at. */
const TICKS = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000];

/** "630", "1.25k". */
export const hertzWords = (hertz: number): string =>
  hertz >= 1000 ? `${Number((hertz / 1000).toPrecision(3))}k` : String(Math.round(hertz * 10) / 10);

/** The axis of charts over frequency, from 20 Hz to 20 kHz. */
export const FREQUENCY_AXIS = {
  dataKey: "hertz",
  type: "number",
  scale: "log",
  domain: [20, 20_000],
  ticks: TICKS,
  tick: CHART_TEXT,
  stroke: "var(--hair)",
  tickFormatter: hertzWords,
} as const;
