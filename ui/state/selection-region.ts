/** Selections: a stretch of time, perhaps only a band of it or a shape drawn by hand, perhaps only one channel. */
import type { Band } from "@core/dsp/butterworth";
import { formatHertz, formatTime } from "@core/audio/format";

export interface SelectionRegion {
  start: number;
  end: number;
  band?: Band;
  /** Corners of a shape drawn by hand: seconds and hertz. */
  outline?: { seconds: number; hertz: number }[];
  /** The only channel that is meant. */
  channel?: number;
}

/** "2.341 s", or in minutes when long. */
export const lengthLabel = ({ start, end }: SelectionRegion): string =>
  end - start < 60 ? `${(end - start).toFixed(3)} s` : formatTime(end - start, 2);

export const hertzLabel = (hertz: number): string => formatHertz(hertz < 1000 ? Math.round(hertz) : hertz);

export const bandLabel = ({ low, high }: Band): string => `${hertzLabel(low)} – ${hertzLabel(high)}`;

/** The region that a shape encloses. */
export function regionOfOutline(outline: { seconds: number; hertz: number }[], channel?: number): SelectionRegion {
  const seconds = outline.map((corner) => corner.seconds);
  const hertz = outline.map((corner) => corner.hertz);
  return {
    start: Math.min(...seconds),
    end: Math.max(...seconds),
    band: { low: Math.min(...hertz), high: Math.max(...hertz) },
    outline,
    ...(channel === undefined ? {} : { channel }),
  };
}
