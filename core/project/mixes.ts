/** Items as they are in one of their mixes: what is done to an item holds for all of them. */
import { MAIN_MIX, type Item } from "./document";
import type { KnownRecordings } from "./known-recordings";
import { movedAlong, type MovedItem } from "./replacement";

/** The recording of an item's mix; `null` where it has none of that name. */
export function sourceInMix({ source, mixes }: Pick<Item, "source" | "mixes">, mix: string | undefined): string | null {
  if (mix === undefined) return source;
  const found = mixes?.find(({ name }) => name === mix);
  return found?.source ?? (mixes === undefined && mix === MAIN_MIX ? source : null);
}

/** The programme of a mix; items that have no such mix stand in it with the one in force. */
export const sourceInProgramme = (item: Item, mix: string | undefined): string => sourceInMix(item, mix) ?? item.source;

/** Frames by which the same sound lies later in another mix than in the one in force. */
function shiftTo({ source, mixes }: Pick<Item, "source" | "mixes">, other: string): number {
  const of = (hash: string) => mixes?.find((mix) => mix.source === hash)?.shift ?? 0;
  return of(other) - of(source);
}

/** What is done to the item, moved along to another of its mixes; `null` where that lies at the same place. */
export function movedToMix(
  item: Item,
  mix: string | undefined,
  known: KnownRecordings,
): Omit<MovedItem, "lost"> | null {
  const source = sourceInProgramme(item, mix);
  const shift = shiftTo(item, source);
  const [here, there] = [known(item.source), known(source)];
  if (shift === 0 || !here || !there) return null;
  const stretch = { start: Math.max(0, -shift), end: Math.min(here.frames, there.frames - shift), shift };
  const frames = { earlier: here.frames, later: there.frames };
  const { lost: _, ...moved } = movedAlong(item, { stretches: [stretch] }, frames, there.sampleRate);
  return moved;
}

/** The item made of another of its mixes; of the one in force where it has none of that name. */
export function itemInMix(item: Item, mix: string | undefined, known: KnownRecordings): Item {
  const source = sourceInProgramme(item, mix);
  if (source === item.source) return item;
  const moved = movedToMix(item, mix, known);
  if (!moved) return { ...item, source };
  const { clips, envelope: _, ...rest } = moved;
  const { clips: __, ...bare } = item;
  return { ...bare, ...rest, source, ...(clips ? { clips } : {}) };
}
