import { framesOf, slicePlanar, type Hertz, type Seconds } from "../audio/units";
import type { RepairWork } from "./repair";

/** A piece of work, and how far around a place it looks. */
export interface Part {
  work: RepairWork;
  seconds: Seconds;
}

/** How far around all of them look, one after the other. */
export const reachOf = (parts: readonly Pick<Part, "seconds">[]): Seconds =>
  parts.reduce((sum, { seconds }) => sum + seconds, 0);

/** Several pieces of work in a row on one block, each giving what it would give as a step of its own. */
export function inTurn(parts: readonly Part[], sampleRate: Hertz): RepairWork {
  const reaches = parts.map(({ seconds }) => Math.ceil(seconds * sampleRate));
  // Each part is asked for as much around as those behind it look at.
  const around = parts.map((_, i) => reaches.slice(i + 1).reduce((sum, frames) => sum + frames, 0));
  return (block, place) =>
    parts.forEach(({ work }, i) => {
      const from = Math.max(place.heldFrom, place.from - around[i]!);
      const to = Math.min(place.heldTo, place.to + around[i]!);
      // It sees as much around as it would as a step of its own.
      const start = Math.max(0, from - reaches[i]!);
      const seen = slicePlanar(block, start, Math.min(framesOf(block), to + reaches[i]!));
      work(seen, {
        first: place.first + start,
        from: from - start,
        to: to - start,
        heldFrom: Math.max(0, place.heldFrom - start),
        heldTo: Math.min(framesOf(seen), place.heldTo - start),
      });
    });
}
