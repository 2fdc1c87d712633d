/** A gain line over the map: from pixels to dB and back, and what comes of a point that is set, moved or taken away. */

/** Seconds of what the line belongs to, and dB. */
export type Point = [number, number];

/** dB at the top and the bottom of the drawing. */
export const TOP_DB = 12;
export const BOTTOM_DB = -36;
/** Points are apart by so much at least. */
const LEAST_APART_SECONDS = 0.001;

const clamped = (low: number, high: number, value: number) => Math.max(low, Math.min(high, value));

/** Share of the height from the top, 0 to 1. */
export const shareOfDb = (db: number): number => clamped(0, 1, (TOP_DB - db) / (TOP_DB - BOTTOM_DB));

/** In steps of half a dB. */
export const dbOfShare = (share: number): number =>
  Math.round(2 * (TOP_DB - clamped(0, 1, share) * (TOP_DB - BOTTOM_DB))) / 2;

export const withPoint = (line: readonly Point[], [seconds, db]: Point): Point[] =>
  [...line.filter(([at]) => Math.abs(at - seconds) >= LEAST_APART_SECONDS), [seconds, db] as Point].sort(
    ([a], [b]) => a - b,
  );

/** A point moved between its neighbours, within the length of what the line belongs to. */
export function withPointMoved(line: readonly Point[], index: number, [seconds, db]: Point, length: number): Point[] {
  const low = line[index - 1] ? line[index - 1]![0] + LEAST_APART_SECONDS : 0;
  const high = line[index + 1] ? line[index + 1]![0] - LEAST_APART_SECONDS : length;
  const at = Number(clamped(low, high, seconds).toFixed(3));
  return line.map((point, i) => (i === index ? [at, clamped(-60, 24, db)] : point));
}
