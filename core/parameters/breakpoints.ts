import type { Breakpoint } from "./parameter";

/** Index of the first point behind `x`. */
function behind(points: readonly Breakpoint[], x: number): number {
  let [low, high] = [0, points.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (points[middle]![0] <= x) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** A line through points: straight between them, level before the first and behind the last; 0 where there are none. */
export function envelopeAt(points: readonly Breakpoint[], x: number): number {
  const at = behind(points, x);
  const [before, after] = [points[at - 1], points[at]];
  if (!before) return after?.[1] ?? 0;
  if (!after) return before[1];
  return before[1] + ((x - before[0]) / (after[0] - before[0])) * (after[1] - before[1]);
}

/** Points that `line` can do without: the line stays within `tolerance` of where it was (Douglas & Peucker 1973). */
export function decimatedBreakpoints(points: readonly Breakpoint[], tolerance: number): Breakpoint[] {
  if (points.length < 3) return [...points];
  const [first, last] = [points[0]!, points[points.length - 1]!];
  let [farthest, most] = [0, tolerance];
  for (let i = 1; i < points.length - 1; i++) {
    const away = Math.abs(points[i]![1] - envelopeAt([first, last], points[i]![0]));
    if (away > most) [farthest, most] = [i, away];
  }
  if (farthest === 0) return [first, last];
  const head = decimatedBreakpoints(points.slice(0, farthest + 1), tolerance);
  return [...head.slice(0, -1), ...decimatedBreakpoints(points.slice(farthest), tolerance)];
}
