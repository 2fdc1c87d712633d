/** Who is in a project at the moment, and where: told by pages to one another, and kept nowhere. */
import * as z from "zod";

const rangeSchema = z.strictObject({ start: z.number(), end: z.number() }).nullable();

export const presenceSchema = z.strictObject({
  /** The page that tells it: somebody may have several open. */
  page: z.string().min(8).max(64),
  stage: z.string().min(1).max(20),
  item: z.string().max(64).nullable(),
  /** The playhead, in seconds of the item. */
  seconds: z.number().min(0),
  playing: z.boolean(),
  selection: rangeSchema,
  /** The window on the item; `null` for the whole. */
  view: rangeSchema,
  /** Whether the others should tell where they are: asked by a page that was just opened. */
  asks: z.boolean(),
  /** Whether the page is being closed. */
  leaves: z.boolean(),
});
export type PlaceInProject = z.infer<typeof presenceSchema>;

/** A place, and whose it is. */
export type Presence = PlaceInProject & { name: string };

/** Who was not heard of for so long is gone, ms. */
export const GONE_MS = 40_000;

export interface Others {
  [page: string]: { presence: Presence; heardAt: number };
}

/** The others once one of them was heard of, those that are gone left out. */
export function withPresence(others: Others, presence: Presence, now: number): Others {
  const rest = Object.entries(others).filter(
    ([page, { heardAt }]) => page !== presence.page && now - heardAt < GONE_MS,
  );
  return Object.fromEntries(presence.leaves ? rest : [...rest, [presence.page, { presence, heardAt: now }]]);
}

/** Whether two places are the same to somebody who looks on: the playhead runs by itself. */
export function isSamePlace(a: PlaceInProject, b: PlaceInProject, toleranceSeconds: number): boolean {
  const plain = ({ seconds: _, asks: __, ...place }: PlaceInProject) => JSON.stringify(place);
  return plain(a) === plain(b) && Math.abs(a.seconds - b.seconds) < toleranceSeconds;
}
