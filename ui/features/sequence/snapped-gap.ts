import type { Item } from "@core/project/document";

/** Pauses snap within so many pixels. */
const REACH_PIXELS = 6;

/**
 * The pause that is meant: half seconds, no pause, or a whole number of beats of the item that is over, where its tempo
 * is known; as wanted where none is near.
 */
export function snappedGap(wanted: number, secondsPerPixel: number, outgoing: Pick<Item, "tempo">): number {
  const beat = outgoing.tempo ? 60 / outgoing.tempo.beatsPerMinute : null;
  const places = [Math.round(wanted * 2) / 2, ...(beat ? [Math.round(wanted / beat) * beat] : [])];
  const nearest = places.reduce((a, b) => (Math.abs(b - wanted) < Math.abs(a - wanted) ? b : a));
  return Math.abs(nearest - wanted) <= REACH_PIXELS * secondsPerPixel ? nearest : wanted;
}
