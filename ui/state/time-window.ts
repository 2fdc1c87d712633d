/** The window on the programme: seconds to pixels and back, and how it moves. */
import { useDesk, type Stretch } from "@ui/state/workspace-store";

/** The shortest window, seconds: two dozen samples at 48 kHz. */
const SHORTEST = 0.0005;

export const xOf = (seconds: number, view: Stretch, width: number): number =>
  ((seconds - view.start) / (view.end - view.start)) * width;

export const secondsAt = (x: number, view: Stretch, width: number): number =>
  view.start + (x / width) * (view.end - view.start);

function held(start: number, length: number, duration: number): Stretch {
  const span = Math.min(Math.max(length, Math.min(SHORTEST, duration)), duration);
  const from = Math.max(0, Math.min(start, duration - span));
  return { start: from, end: from + span };
}

/** Zooms by `factor` (> 1 is closer) so that `around` stays where it is. */
export function zoomed(view: Stretch, factor: number, around: number, duration: number): Stretch {
  const length = Math.min(duration, Math.max(SHORTEST, (view.end - view.start) / factor));
  const share = (around - view.start) / (view.end - view.start);
  return held(around - share * length, length, duration);
}

export const scrolled = (view: Stretch, seconds: number, duration: number): Stretch =>
  held(view.start + seconds, view.end - view.start, duration);

/** The window moved so that `seconds` is in it, if it is not. */
export function following(view: Stretch, seconds: number, duration: number): Stretch {
  if (seconds >= view.start && seconds <= view.end) return view;
  return held(seconds - (view.end - view.start) * 0.1, view.end - view.start, duration);
}

/** The window around a stretch, with a little air. */
export function around(stretch: Stretch, duration: number): Stretch {
  const air = (stretch.end - stretch.start) * 0.1;
  return held(stretch.start - air, stretch.end - stretch.start + 2 * air, duration);
}

/** The window on an item as the desk has it. */
export const windowNow = (duration: number): Stretch => useDesk.getState().view ?? { start: 0, end: duration };

/** Calls back whenever the window moves, outside of React. */
export const onWindow = (changed: () => void): (() => void) =>
  useDesk.subscribe((desk, before) => desk.view !== before.view && changed());
