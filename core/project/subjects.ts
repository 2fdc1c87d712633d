/** What masters are made of: items by themselves, the whole programme, or its files. */
import { cutsOf, type ItemCut } from "../programme/cuts";
import { EditList } from "../edit-list/edit-list";
import { isInOrder, placementOf } from "../programme/placement";
import { timelineOf, type Timeline } from "../programme/timeline";
import { itemOf, MAIN_MIX, PROGRAMME_ID, type Deliverable, type Item, type ProjectDocument } from "./document";
import type { KnownRecordings } from "./known-recordings";

type Named = Pick<ProjectDocument, "about" | "name" | "items">;

/** The whole, as something that has a master. */
export const programmeItem = ({ about, name, items }: Named): Item => ({
  id: PROGRAMME_ID,
  name: about.title || name,
  source: items.find(isInOrder)?.source ?? "",
  repairs: [],
  chain: [],
  markers: [],
});

export const subjectOf = (document: ProjectDocument, id: string): Item | undefined =>
  id === PROGRAMME_ID ? programmeItem(document) : itemOf(document, id);

/** Items of the order. */
export const orderOf = ({ items }: Pick<ProjectDocument, "items">): Item[] => items.filter(isInOrder);

/** Items of the order that have a number: all but what lies hidden before the first title. */
export function numberedItems(document: Pick<ProjectDocument, "items">): Item[] {
  const order = orderOf(document);
  return order.length > 1 && placementOf(order[0]!).hidden ? order.slice(1) : order;
}

/** Number of a title, from 1; 0 of what has none. */
export const titleNumber = (document: Pick<ProjectDocument, "items">, { id }: Pick<Item, "id">): number =>
  numberedItems(document).findIndex((item) => item.id === id) + 1;

/** The recording of an item's mix; `null` where it has none of that name. */
export function sourceInMix({ source, mixes }: Pick<Item, "source" | "mixes">, mix: string | undefined): string | null {
  if (mix === undefined) return source;
  const found = mixes?.find(({ name }) => name === mix);
  return found?.source ?? (mixes === undefined && mix === MAIN_MIX ? source : null);
}

/** What a deliverable has masters of: in a programme the whole first, then the files that it is cut into. */
export function subjectsOf(document: ProjectDocument, { programme, mix }: Deliverable): Item[] {
  if (!programme) return orderOf(document).filter((item) => sourceInMix(item, mix) !== null);
  const titles = numberedItems(document);
  if (titles.length === 0) return [];
  return [programmeItem(document), ...(programme === "one file" ? [] : titles)];
}

/** All masters that a project has, by deliverable. */
export const allSubjects = (document: ProjectDocument): { item: Item; deliverable: Deliverable }[] =>
  document.deliverables.flatMap((deliverable) =>
    subjectsOf(document, deliverable).map((item) => ({ item, deliverable })),
  );

type Timed = Pick<ProjectDocument, "items" | "programme">;

/** The programme of a mix; items that have no such mix stand in it with the one in force. */
export const sourceInProgramme = (item: Item, mix: string | undefined): string => sourceInMix(item, mix) ?? item.source;

/** Times of the programme; `null` while a recording is not read, or nothing is in the order. */
export function programmeTimeline({ items, programme }: Timed, known: KnownRecordings, mix?: string): Timeline | null {
  const byId = new Map(items.map((item) => [item.id, item]));
  return timelineOf(items, programme, (id) => {
    const item = byId.get(id)!;
    const recording = known(sourceInProgramme(item, mix));
    return recording && { ...recording, frames: EditList.of(item.clips, recording.frames).frames };
  });
}

/** Where the programme is cut into files. */
export const programmeCuts = (document: Timed, timeline: Timeline): ItemCut[] =>
  cutsOf(timeline, document.items, document.programme.pauses);

/** Index among all items at which one must stand so that it is number `to` of the order, counted from 0. */
export function indexInItems({ items }: Pick<ProjectDocument, "items">, item: string, to: number): number {
  const others = items.filter(({ id }) => id !== item);
  const follows = others.filter(isInOrder)[to];
  return follows ? others.indexOf(follows) : others.length;
}
