/** The window on the programme: seconds to pixels and back, and how it moves. */
import type { Stretch } from "@ui/workspace/desk";

/** The shortest window, seconds: a hundred samples at 48 kHz or so. */
const SHORTEST = 0.002;

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

const STEPS = [1, 2, 5];

/** Seconds between two labels of a ruler, so that they are at least `pixels` apart, and the decimals they need. */
export function rulerStep(view: Stretch, width: number, pixels = 84): { step: number; decimals: number } {
  const wanted = ((view.end - view.start) / width) * pixels;
  const clock = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200];
  if (wanted > 0.5) return { step: clock.find((step) => step >= wanted) ?? 14_400, decimals: 0 };
  for (let power = -4; power < 1; power++) {
    for (const digit of STEPS) {
      const step = digit * 10 ** power;
      if (step >= wanted) return { step, decimals: Math.max(0, -power) };
    }
  }
  return { step: 1, decimals: 0 };
}
