/** Items as they are in one of their mixes: what is done to an item holds for all of them, but for what is left out of one. */
import { MAIN_MIX, type Item, type Mix } from "./document";
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

/** The mix of an item that has a recording. */
const mixWith = ({ mixes }: Pick<Item, "mixes">, source: string): Mix | undefined =>
  mixes?.find((mix) => mix.source === source);

/** Whether a repair or processor is left out of a mix. */
export const isLeftOut = ({ leftOut }: Mix, id: string | undefined): boolean =>
  id !== undefined && leftOut !== undefined && leftOut.includes(id);

/** Repairs and processors as they are switched in the mix of another recording than the one in force. */
export function switchedToMix(item: Item, source: string): Pick<Item, "repairs" | "chain"> {
  const [here, there] = [mixWith(item, item.source), mixWith(item, source)];
  const switched = (id: string | undefined, isOn: boolean): boolean => {
    if (there && isLeftOut(there, id)) return false;
    return isOn || (here !== undefined && isLeftOut(here, id));
  };
  return {
    repairs: item.repairs.map((step) => ({ ...step, enabled: switched(step.id, step.enabled) })),
    chain: item.chain.map((entry) => ({ ...entry, bypass: !switched(entry.id, !entry.bypass) })),
  };
}

/** Forgets what is left out and is gone, or was switched on in the mix in force. */
export function settleLeftOut(item: Item): void {
  if (!item.mixes?.some(({ leftOut }) => leftOut)) return;
  const work = [
    ...item.repairs.map(({ id, enabled }) => ({ id, isOn: enabled })),
    ...item.chain.map(({ id, bypass }) => ({ id, isOn: !bypass })),
  ];
  item.mixes = item.mixes.map(({ leftOut, ...mix }) => {
    const isInForce = mix.source === item.source;
    const kept = leftOut?.filter((id) => work.some((one) => one.id === id && !(isInForce && one.isOn)));
    return { ...mix, ...(kept && kept.length > 0 ? { leftOut: kept } : {}) };
  });
}

/** The item made of another of its mixes; of the one in force where it has none of that name. */
export function itemInMix(item: Item, mix: string | undefined, known: KnownRecordings): Item {
  const source = sourceInProgramme(item, mix);
  if (source === item.source) return item;
  const { clips, envelope: _, ...moved } = movedToMix(item, mix, known) ?? { clips: item.clips, envelope: null };
  const { clips: __, ...bare } = { ...item, ...moved };
  return { ...bare, ...switchedToMix({ ...item, ...moved }, source), source, ...(clips ? { clips } : {}) };
}
