/** References at their places beside the programme. */
import type { EditList } from "../edit-list/edit-list";
import type { Frames, Hertz } from "../audio/units";
import { framesAt, type PlacedItem, type Timeline } from "./timeline";
import type { Reference } from "./programme";

/**
 * Those that are heard, one at a place: of each item the chosen one, or its first; of the whole only where it is chosen,
 * or no item has any.
 */
export function heardReferences(references: readonly Reference[], chosen: string | null): Reference[] {
  const choice = references.find(({ id }) => id === chosen);
  if (choice?.item === null) return [choice];
  const byItem = new Map<string, Reference>();
  for (const reference of references)
    if (reference.item !== null && (!byItem.has(reference.item) || reference === choice))
      byItem.set(reference.item, reference);
  return byItem.size > 0 ? [...byItem.values()] : references.slice(0, 1);
}

/** What must be known of a recording before it has a place; `null` while it is not read. */
export type RecordingFormatOf = (source: string) => { frames: Frames; sampleRate: Hertz } | null;

/**
 * References at their places, in frames of the programme; they may begin before it. One of an item is heard as long as
 * that item. What is not read, or belongs to an item that is gone, has no place.
 */
export function placedReferences(
  references: readonly Reference[],
  timeline: Pick<Timeline, "sampleRate" | "order" | "onLanes">,
  formatOf: RecordingFormatOf,
): PlacedItem[] {
  const { sampleRate } = timeline;
  const places = new Map([...timeline.order, ...timeline.onLanes].map((placed) => [placed.item, placed]));
  return references.flatMap(({ id, source, item, atSeconds }) => {
    const format = formatOf(source);
    const owner = item === null ? null : places.get(item);
    if (!format || owner === undefined) return [];
    const start = (owner?.start ?? 0) + Math.round(atSeconds * sampleRate);
    const end = Math.min(start + framesAt(format, sampleRate), owner?.end ?? Infinity);
    return end > start ? [{ item: id, lane: null, start, end, fadeEnd: end, gap: 0 }] : [];
  });
}

/**
 * Where a reference begins so that it lies on an item's recording.
 * @param shift how many frames later the same sound lies in the reference
 * @returns seconds from the beginning of the item
 */
export function alignedAtSeconds({ placed }: EditList, shift: Frames, sampleRate: Hertz): number {
  const first = placed.find(({ clip }) => clip.kind === "recording");
  return first ? (first.at - first.clip.start - shift) / sampleRate : 0;
}
