/** Whose chain it is: an item's by its id, that of the programme, or that of a lane. */
import * as z from "zod";
import type { ChainEntry } from "../processors";
import { PROGRAMME_ID, type ProjectDocument } from "./document";
import { itemPath, type Path } from "./paths";

const LANE = "lane:";

/** The owner of a lane's chain, told apart from items of the same id. */
export const laneOwner = (lane: string): string => `${LANE}${lane}`;

export const isLaneOwner = (owner: string): boolean => owner.startsWith(LANE);

export const chainOwnerSchema = z.string().regex(/^(lane:)?[a-z0-9-]{1,40}$/);

const laneOf = (owner: string): string | null => (isLaneOwner(owner) ? owner.slice(LANE.length) : null);

function ownerIn({ items, programme }: Pick<ProjectDocument, "items" | "programme">, owner: string) {
  const lane = laneOf(owner);
  return lane === null ? items.find(({ id }) => id === owner) : programme.lanes.find(({ id }) => id === lane);
}

type Owning = Pick<ProjectDocument, "items" | "programme" | "chain">;

/** `undefined` where the owner is gone. */
export const chainOf = (document: Owning, owner: string): ChainEntry[] | undefined =>
  owner === PROGRAMME_ID ? document.chain : ownerIn(document, owner)?.chain;

/** For words. */
export function ownerName(document: Owning, owner: string): string {
  if (owner === PROGRAMME_ID) return "the programme";
  const name = ownerIn(document, owner)?.name ?? owner;
  return laneOf(owner) === null ? `“${name}”` : `the lane “${name}”`;
}

export function chainPath(owner: string): Path {
  if (owner === PROGRAMME_ID) return "chain";
  const lane = laneOf(owner);
  return lane === null ? `${itemPath(owner)}/chain` : `programme/lanes/${lane}/chain`;
}
