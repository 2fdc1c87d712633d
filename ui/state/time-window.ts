/** The window on the programme: seconds to pixels and back, and how it moves. */
import { useWorkspace, type TimeRange } from "@ui/state/workspace-store";

/** The shortest window, seconds: two dozen samples at 48 kHz. */
const SHORTEST = 0.0005;

export const xOf = (seconds: number, view: TimeRange, width: number): number =>
  ((seconds - view.start) / (view.end - view.start)) * width;

export const secondsAt = (x: number, view: TimeRange, width: number): number =>
  view.start + (x / width) * (view.end - view.start);

function held(start: number, length: number, duration: number): TimeRange {
  const span = Math.min(Math.max(length, Math.min(SHORTEST, duration)), duration);
  const from = Math.max(0, Math.min(start, duration - span));
  return { start: from, end: from + span };
}

/** Zooms by `factor` (> 1 is closer) so that `around` stays where it is. */
export function zoomed(view: TimeRange, factor: number, around: number, duration: number): TimeRange {
  const length = Math.min(duration, Math.max(SHORTEST, (view.end - view.start) / factor));
  const share = (around - view.start) / (view.end - view.start);
  return held(around - share * length, length, duration);
}

export const scrolled = (view: TimeRange, seconds: number, duration: number): TimeRange =>
  held(view.start + seconds, view.end - view.start, duration);

/** The window moved so that `seconds` is in it, if it is not. */
export function following(view: TimeRange, seconds: number, duration: number): TimeRange {
  if (seconds >= view.start && seconds <= view.end) return view;
  return held(seconds - (view.end - view.start) * 0.1, view.end - view.start, duration);
}

/** The window around a stretch, with a little air. */
export function around(stretch: TimeRange, duration: number): TimeRange {
  const air = (stretch.end - stretch.start) * 0.1;
  return held(stretch.start - air, stretch.end - stretch.start + 2 * air, duration);
}

/** The window on an item as the workspace has it. */
export const windowNow = (duration: number): TimeRange => useWorkspace.getState().view ?? { start: 0, end: duration };

/** Calls back whenever the window moves, outside of React. */
export const onWindow = (changed: () => void): (() => void) =>
  useWorkspace.subscribe((workspace, before) => workspace.view !== before.view && changed());
