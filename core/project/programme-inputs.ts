/** The programme by everything that decides its samples: before its own chain for its masters, after it for its figures. */
import * as z from "zod";
import { CORE_VERSION } from "../audio/core-version";
import { layoutSchema } from "../audio/layout";
import { canonicalJson } from "../math/canonical-json";
import { sha256Of } from "../math/sha256";
import { soundingEntry, type ChainEntry } from "../processors";
import { markedStretches } from "../programme/cuts";
import { placementSchema, type StoredPlacement } from "../programme/placement";
import { laneSchema } from "../programme/programme";
import { idSchema, type ProjectDocument } from "./document";
import { itemRenderInputs, itemRenderInputsSchema } from "./item-render-inputs";
import type { KnownRecordings } from "./known-recordings";
import { programmeTags } from "./master-tags";
import { itemInMix } from "./mixes";
import { programmeCuts, programmeTimeline } from "./subjects";

const placedItemSchema = z.strictObject({
  item: idSchema,
  lane: idSchema.nullable(),
  start: z.number().int().nonnegative(),
  end: z.number().int().nonnegative(),
  fadeEnd: z.number().int().nonnegative(),
  gap: z.number().int(),
});

/** A programme, by everything that decides its samples before its own chain. */
export const programmeInputsSchema = z.strictObject({
  sampleRate: z.number().positive(),
  layout: layoutSchema,
  frames: z.number().int().positive(),
  order: z.array(placedItemSchema).min(1).max(2000),
  onLanes: z.array(placedItemSchema).max(2000),
  items: z
    .array(z.strictObject({ id: idSchema, render: itemRenderInputsSchema, placement: placementSchema.optional() }))
    .max(2000),
  lanes: z.array(laneSchema.omit({ name: true })).max(20),
});
export type ProgrammeInputs = z.infer<typeof programmeInputsSchema>;

export type Project = Pick<ProjectDocument, "chain" | "specs" | "about" | "items" | "name" | "programme">;

/** What masters of one project share, made once while the same recordings are asked for: each of 200 would make it anew. */
export function sharedBy<P extends object, T>(
  make: (project: P, mix: string | undefined, known: KnownRecordings) => T,
) {
  const kept = new WeakMap<KnownRecordings, { project: P; byMix: Map<string | undefined, T> }>();
  return (project: P, mix: string | undefined, known: KnownRecordings): T => {
    let found = kept.get(known);
    if (found?.project !== project) kept.set(known, (found = { project, byMix: new Map() }));
    if (!found.byMix.has(mix)) found.byMix.set(mix, make(project, mix, known));
    return found.byMix.get(mix)!;
  };
}

/** What a programme is put together of, and where it is cut; `null` while a recording is not read. */
export const programmeParts = sharedBy((project: Project, mix, known) => {
  const timeline = programmeTimeline(project, known, mix);
  if (!timeline) return null;
  const { layout, sampleRate, frames, order, onLanes } = timeline;
  const items = project.items.map((item): ProgrammeInputs["items"][number] => {
    const one = itemInMix(item, mix, known);
    const sounding = soundingPlacement(one.placement);
    return {
      id: one.id,
      render: itemRenderInputs(one, known(one.source)!, one.chain),
      ...(sounding ? { placement: sounding } : {}),
    };
  });
  const lanes = project.programme.lanes.map(({ name: _, chain, ...lane }) => ({
    ...lane,
    chain: chain.map(soundingEntry),
  }));
  const inputs: ProgrammeInputs = { sampleRate, layout, frames, order, onLanes, items, lanes };
  const { markers } = project.programme;
  const cuts = [...programmeCuts(project, timeline), ...markedStretches(timeline, markers)];
  return { timeline, inputs, cuts, tags: programmeTags(project, timeline) };
});

/** Where an item lies is told by its frames; only what is done to its sound is left. */
function soundingPlacement(placement: StoredPlacement | undefined): StoredPlacement | undefined {
  if (!placement) return undefined;
  const { fadeIn, fadeOut, gainDb, envelope } = placement;
  const sounding = Object.entries({ fadeIn, fadeOut, gainDb, envelope }).filter(([, value]) => value !== undefined);
  return sounding.length > 0 ? Object.fromEntries(sounding) : undefined;
}

/** A programme through its chain: what its figures are those of. */
export interface ProcessedProgramme {
  programme: ProgrammeInputs;
  chain: ChainEntry[];
  coreVersion: string;
}

/** The programme of a mix, the text that it is kept under and its SHA-256; `null` while a recording is not read. */
export const processedProgramme = sharedBy(
  (project: Project, mix, known): { inputs: ProcessedProgramme; key: string; hash: string } | null => {
    const parts = programmeParts(project, mix, known);
    if (!parts) return null;
    const inputs = { programme: parts.inputs, chain: project.chain.map(soundingEntry), coreVersion: CORE_VERSION };
    const key = canonicalJson(inputs);
    return { inputs, key, hash: sha256Of(key) };
  },
);
