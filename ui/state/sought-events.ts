/** What the search found in a recording, as the item has it. */
import type { SoughtEvents } from "@core/events/sought-events";
import { isActive } from "@core/repair";
import type { ItemFacts } from "./current-item";
import { secondsOfRecording } from "./item-time";

/**
 * Places in seconds of the item, without what is cut out and what its repairs take away; where more were found than
 * places are kept, counted by their share.
 */
export function soughtInItem(facts: ItemFacts): SoughtEvents[] {
  const { source, item, sampleRate } = facts;
  const mended = new Set<string>(item.repairs.filter(isActive).map(({ type }) => type));
  return (source.events ?? []).flatMap(({ kind, count, places }) => {
    if (mended.has(kind)) return [];
    const heard = places.flatMap(({ seconds, length }) => {
      const at = secondsOfRecording(facts, Math.round(seconds * sampleRate));
      return at === null ? [] : [{ seconds: at, length }];
    });
    const share = Math.round((count * heard.length) / places.length);
    return share === 0 ? [] : [{ kind, count: share, places: heard }];
  });
}
