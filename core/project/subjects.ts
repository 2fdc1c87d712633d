/** What masters are made of: items by themselves, the whole programme, or its files. */
import { cutsOf, type ItemCut } from "../programme/cuts";
import { EditList } from "../edit-list/edit-list";
import { isInOrder, placementOf } from "../programme/placement";
import { timelineOf, type Timeline } from "../programme/timeline";
import { itemOf, PROGRAMME_ID, type Deliverable, type Item, type ProjectDocument } from "./document";
import type { KnownRecordings } from "./known-recordings";
import { itemInMix, sourceInMix } from "./mixes";

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

/** Stretches of the programme that have markers, as something that has a master. */
export const markedItems = (document: Pick<ProjectDocument, "items" | "programme" | "about" | "name">): Item[] =>
  document.programme.markers.map(({ id, name }, index) => ({
    ...programmeItem(document),
    id,
    name: name || `Stretch ${index + 1}`,
  }));

export const subjectOf = (document: ProjectDocument, id: string): Item | undefined =>
  id === PROGRAMME_ID
    ? programmeItem(document)
    : (itemOf(document, id) ?? markedItems(document).find((item) => item.id === id));

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

/** What a deliverable has masters of: in a programme the whole first, then the files that it is cut into. */
export function subjectsOf(document: ProjectDocument, { programme, mix }: Deliverable): Item[] {
  if (!programme) return orderOf(document).filter((item) => sourceInMix(item, mix) !== null);
  const titles = numberedItems(document);
  if (titles.length === 0) return [];
  const files = { "one file": [], "item files": titles, both: titles, "marked stretches": markedItems(document) };
  return [programmeItem(document), ...files[programme]];
}

/** All masters that a project has, by deliverable. */
export const allSubjects = (document: ProjectDocument): { item: Item; deliverable: Deliverable }[] =>
  document.deliverables.flatMap((deliverable) =>
    subjectsOf(document, deliverable).map((item) => ({ item, deliverable })),
  );

type Timed = Pick<ProjectDocument, "items" | "programme">;

/** Times of the programme; `null` while a recording is not read, or nothing is in the order. */
export function programmeTimeline({ items, programme }: Timed, known: KnownRecordings, mix?: string): Timeline | null {
  const byId = new Map(items.map((item) => [item.id, item]));
  return timelineOf(items, programme, (id) => {
    const item = itemInMix(byId.get(id)!, mix, known);
    const recording = known(item.source);
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
