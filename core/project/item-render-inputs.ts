/** An item after its chain, by everything that decides its samples: the same inputs give the same sound and figures. */
import * as z from "zod";
import { CORE_VERSION } from "../audio/core-version";
import { layoutSchema, type Layout } from "../audio/layout";
import type { Recipe } from "../delivery/recipe";
import { clipsSchema } from "../edit-list/clip";
import { canonicalJson } from "../math/canonical-json";
import { sha256Of } from "../math/sha256";
import { readingFormerNames } from "../parameters/former-names";
import { chainSchema, soundingEntry } from "../processors";
import { isUnprocessed } from "../render/processed-source";
import { repairsSchema } from "../repair";
import { hashSchema, wholeChain, type Item, type ProjectDocument } from "./document";
import type { KnownRecording, KnownRecordings } from "./known-recordings";

const currentItemRenderInputsSchema = z.strictObject({
  source: hashSchema,
  /** Which sound track of the file; absent for the first. */
  track: z.number().int().positive().optional(),
  layout: layoutSchema,
  clips: clipsSchema.nullable(),
  repairs: repairsSchema,
  chain: chainSchema,
  coreVersion: z.string(),
});
export type ItemRenderInputs = z.infer<typeof currentItemRenderInputsSchema>;

export const FORMER_NAMES = { pieces: "clips" };
export const itemRenderInputsSchema = readingFormerNames(currentItemRenderInputsSchema, FORMER_NAMES).meta({
  id: "ItemInputs",
});

/** What a step or an entry is called changes no sample. */
export const soundingWork = (item: Item, chain: ProjectDocument["chain"]) => ({
  clips: item.clips ?? null,
  repairs: item.repairs.map(({ id: _, ...step }) => step as Recipe["repairs"][number]),
  chain: chain.map(soundingEntry),
});

/** @param chain that it goes through: with the programme's behind its own, unless it is a part of a programme */
export const itemRenderInputs = (
  item: Item,
  { layout, track }: Pick<KnownRecording, "layout" | "track">,
  chain: ProjectDocument["chain"],
): ItemRenderInputs => ({
  source: item.source,
  ...(track ? { track } : {}),
  layout,
  ...soundingWork(item, chain),
  coreVersion: CORE_VERSION,
});

/** The text under which an item after its chain is kept. */
export const itemRenderKey = (inputs: ItemRenderInputs): string => canonicalJson(inputs);

const inputsOfItems = new WeakMap<
  Item,
  { chain: unknown; layout: Layout; track: number | undefined; inputs: ItemRenderInputs; hash: string }
>();

/** An item's sound, and the SHA-256 of its inputs, by which what was measured of it is asked for. */
export interface ItemSound {
  inputs: ItemRenderInputs;
  hash: string;
}

/**
 * An item through all that is done to it; `null` where its recording is not read. Kept as long as item, programme's
 * chain and layout are the same.
 */
export function itemSound(
  project: Pick<ProjectDocument, "chain">,
  item: Item,
  known: KnownRecordings,
): ItemSound | null {
  const recording = known(item.source);
  if (!recording) return null;
  const { layout, track } = recording;
  let found = inputsOfItems.get(item);
  if (found?.chain !== project.chain || found.layout !== layout || found.track !== track) {
    const inputs = itemRenderInputs(item, recording, wholeChain(project, item));
    found = { chain: project.chain, layout, track, inputs, hash: sha256Of(itemRenderKey(inputs)) };
    inputsOfItems.set(item, found);
  }
  return found;
}

/** The same; `null` also where nothing is done to it. */
export function processedItem(...of: Parameters<typeof itemSound>): ItemSound | null {
  const sound = itemSound(...of);
  return sound && !isUnprocessed(sound.inputs) ? sound : null;
}
