/** What the pictures that are drawn say of a place, for the read-out of the pointer. */
import type { LaneId } from "@ui/state/lane-settings";
import type { Decibels, Hertz, Seconds } from "@core/audio/units";

/** Level at a place of a picture; `null` where it is not made yet. */
export type PictureLevel = (seconds: Seconds, hertz: Hertz) => Decibels | null;

const shown = new Map<LaneId, PictureLevel>();

/** A lane tells what it shows, until it is gone. */
export function showLevels(lane: LaneId, level: PictureLevel): () => void {
  shown.set(lane, level);
  return () => {
    if (shown.get(lane) === level) shown.delete(lane);
  };
}

export const pictureLevel = (lane: LaneId, seconds: Seconds, hertz: Hertz): Decibels | null =>
  shown.get(lane)?.(seconds, hertz) ?? null;
