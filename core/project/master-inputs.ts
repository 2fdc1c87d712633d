import { canonicalJson, CORE_VERSION, type Recipe } from "../render/recipe";
import { soundingEntry } from "../process";
import type { Piece } from "../arrange/piece";
import type { Layout } from "../signal/layout";
import { wholeChain, type Deliverable, type Item, type ProjectDocument } from "./document";

/** Everything that decides the bytes of a master, and nothing else: the same inputs give the same file. */
export interface MasterInputs {
  source: string;
  layout: Layout;
  pieces: Piece[] | null;
  recipe: Recipe;
  title: string;
  coreVersion: string;
}

export const masterInputs = (
  project: Pick<ProjectDocument, "chain">,
  item: Item,
  deliverable: Deliverable,
  layout: Layout,
): MasterInputs => ({
  source: item.source,
  layout,
  pieces: item.pieces ?? null,
  recipe: {
    // What a step or an entry is called changes no byte.
    repairs: item.repairs.map(({ id: _, ...step }) => step as Recipe["repairs"][number]),
    chain: wholeChain(project, item).map(soundingEntry),
    spec: deliverable.spec,
    format: deliverable.format,
  },
  title: item.name,
  coreVersion: CORE_VERSION,
});

/** The text under which a master is kept. */
export const masterKey = (inputs: MasterInputs): string => canonicalJson(inputs);
