/** Places that a dragged edge is drawn to. */
import type { TimeGrid } from "@core/audio/timecode";

export interface SnapModel {
  /** Lines to snap to; `null` for none. */
  grid: TimeGrid | null;
  /** Other places: markers, edges of the selection, the playhead. Seconds. */
  places: readonly number[];
  /** Seconds within which a place draws. */
  reach: number;
}

export const onGrid = (seconds: number, { origin, step, parts }: TimeGrid): number => {
  const part = step / parts;
  return origin + Math.round((seconds - origin) / part) * part;
};

/** The nearest place within reach; the time itself where none is. */
export function snapped(seconds: number, { grid, places, reach }: SnapModel): number {
  let best = seconds;
  let distance = reach;
  const consider = (place: number) => {
    const away = Math.abs(place - seconds);
    if (away > distance) return;
    distance = away;
    best = place;
  };
  if (grid) consider(onGrid(seconds, grid));
  places.forEach(consider);
  return best;
}

/** The rising or falling zero crossing of `x` nearest to sample `at`, within `reach` samples; `at` where there is none. */
export function zeroCrossing(x: ArrayLike<number>, at: number, reach: number): number {
  for (let away = 0; away <= reach; away++)
    for (const i of [at - away, at + away])
      if (i > 0 && i < x.length && (x[i] === 0 || x[i - 1]! < 0 !== x[i]! < 0)) return i;
  return at;
}
