import * as z from "zod";
import { readingFormerNames } from "../parameters/former-names";
import { clipsSchema } from "../edit-list/clip";
import { newTags, tagsSchema } from "../files/tags";
import { soundingEntry } from "../processors";
import { recipeSchema } from "../delivery/recipe";
import { canonicalJson } from "../math/canonical-json";
import { CORE_VERSION } from "../audio/core-version";
import { layoutSchema } from "../audio/layout";
import { layoutProblem } from "../programme/fitted-source";
import type { ItemCut } from "../programme/cuts";
import { placementOf, placementSchema } from "../programme/placement";
import {
  hashSchema,
  PROGRAMME_ID,
  specOf,
  wholeChain,
  type Deliverable,
  type Item,
  type ProjectDocument,
} from "./document";
import {
  FORMER_NAMES,
  itemRenderInputs,
  itemRenderInputsSchema,
  soundingWork,
  type ItemRenderInputs,
} from "./item-render-inputs";
import type { KnownRecordings } from "./known-recordings";
import { tagsOf } from "./master-tags";
import { itemInMix, sourceInMix } from "./mixes";
import { programmeInputsSchema, programmeParts, sharedBy, type Project } from "./programme-inputs";
import { orderOf } from "./subjects";

const cutSchema = z.strictObject({
  start: z.number().int().nonnegative(),
  end: z.number().int().nonnegative(),
  fadeInSeconds: z.number().positive().optional(),
  fadeOutSeconds: z.number().positive().optional(),
});

/** Everything that decides the bytes of a master, and nothing else: the same inputs give the same file. */
const currentMasterInputsSchema = z.strictObject({
  source: hashSchema,
  /** Which sound track of the file; absent for the first. */
  track: z.number().int().positive().optional(),
  layout: layoutSchema,
  clips: clipsSchema.nullable(),
  recipe: recipeSchema,
  tags: tagsSchema,
  /** Picture that it carries. */
  cover: hashSchema.nullable(),
  /** All items of the running order, where their relations decide the gain. */
  album: z.array(itemRenderInputsSchema).max(2000).nullable(),
  /** How the item comes and goes, where that is not plain. */
  fades: placementSchema.pick({ fadeIn: true, fadeOut: true, gainDb: true, envelope: true }).optional(),
  /** Of a programme: all that it is put together of; the recording above is then that of its first item. */
  programme: programmeInputsSchema.optional(),
  /** Of one of its files: what of it that is, in frames of the programme. */
  cut: cutSchema.optional(),
  coreVersion: z.string(),
});
export type MasterInputs = z.infer<typeof currentMasterInputsSchema>;

export const masterInputsSchema = readingFormerNames(currentMasterInputsSchema, FORMER_NAMES);

/** The inputs of a master; `null` while a recording that they need is not read yet, or is not there in this mix. */
export function masterInputs(
  project: Project,
  item: Item,
  deliverable: Deliverable,
  known: KnownRecordings,
): MasterInputs | null {
  if (deliverable.programme) return programmeMasterInputs(project, item, deliverable, known);
  const source = sourceInMix(item, deliverable.mix);
  const recording = source && known(source);
  if (!recording) return null;
  const made = itemInMix(item, deliverable.mix, known);
  const spec = specOf(project, deliverable.spec);
  const { clips, ...work } = soundingWork(made, wholeChain(project, made));
  const album = spec.gainScope === "album" ? albumInputs(project, deliverable.mix, known) : null;
  if (spec.gainScope === "album" && !album) return null;
  const fades = fadesOf(item);
  return {
    source,
    ...(recording.track ? { track: recording.track } : {}),
    layout: recording.layout,
    clips,
    recipe: { ...work, spec, format: deliverable.format },
    ...(deliverable.format.container === "video"
      ? { tags: newTags({ title: item.name }), cover: null } // a video keeps what it says of itself
      : { tags: tagsOf(project, made, recording), cover: coverOf(project, item) }),
    album,
    ...(fades ? { fades } : {}),
    coreVersion: CORE_VERSION,
  };
}

const coverOf = (project: Pick<ProjectDocument, "about">, { about }: Pick<Item, "about">): string | null =>
  about?.cover ?? project.about.cover ?? null;

/** All items of the order after their chains; `null` while one is not read. */
const albumInputs = sharedBy((project: Project, mix, known): ItemRenderInputs[] | null => {
  const album = orderOf(project).map((item) => {
    const one = itemInMix(item, mix, known);
    const recording = known(one.source);
    return recording && itemRenderInputs(one, recording, wholeChain(project, one));
  });
  return album.every((one) => one !== null) ? album : null;
});

/** How an item comes and goes; nothing where that is plain. */
function fadesOf(item: Item): MasterInputs["fades"] {
  const { fadeIn, fadeOut, gainDb, envelope } = placementOf(item);
  if (!fadeIn && !fadeOut && gainDb === 0 && envelope.length === 0) return undefined;
  return { ...(fadeIn ? { fadeIn } : {}), ...(fadeOut ? { fadeOut } : {}), gainDb, envelope };
}

const stretchOf = ({ item: _, ...stretch }: ItemCut): NonNullable<MasterInputs["cut"]> => stretch;

function programmeMasterInputs(
  project: Project,
  item: Item,
  { spec, format, mix }: Deliverable,
  known: KnownRecordings,
): MasterInputs | null {
  const parts = programmeParts(project, mix, known);
  if (!parts) return null;
  const cut = item.id === PROGRAMME_ID ? null : parts.cuts.find((one) => one.item === item.id);
  if (cut === undefined) return null;
  const first = parts.timeline.order[0]!.item;
  return {
    source: parts.inputs.items.find(({ id }) => id === first)!.render.source,
    layout: parts.timeline.layout,
    clips: null,
    recipe: { repairs: [], chain: project.chain.map(soundingEntry), spec: specOf(project, spec), format },
    tags: cut ? tagsOf(project, item, known(item.source)!) : parts.tags,
    cover: coverOf(project, cut ? item : {}),
    album: null,
    programme: parts.inputs,
    ...(cut ? { cut: stretchOf(cut) } : {}),
    coreVersion: CORE_VERSION,
  };
}

/** Why there is nothing to render of a subject whose inputs are `null`: what a person is told. */
export function missingInputsWords(
  project: Pick<ProjectDocument, "programme">,
  { id, name }: Pick<Item, "id" | "name">,
): string {
  return project.programme.markers.some((marker) => marker.id === id)
    ? `Nothing is left of the stretch “${name}”: it begins after the end of the programme, or a recording is still being read.`
    : `“${name}” cannot be rendered: a recording that it needs is still being read, cannot be read, or has no such mix.`;
}

/** Why a programme cannot be rendered as it is; `null` where it can. */
export function programmeProblem(
  { programme }: Pick<MasterInputs, "programme">,
  nameOf: (item: string) => string,
): string | null {
  for (const { id, render } of programme?.items ?? []) {
    const problem = layoutProblem(render.layout, programme!.layout);
    if (problem) return `“${nameOf(id)}” cannot stand in this programme: ${problem}. Fold it down first.`;
  }
  return null;
}

const sharedTexts = new WeakMap<object, string>();

/** The text under which a master is kept. */
export function masterKey(inputs: MasterInputs): string {
  for (const shared of [inputs.programme, inputs.album])
    if (shared && !sharedTexts.has(shared)) sharedTexts.set(shared, canonicalJson(shared));
  return canonicalJson(inputs, sharedTexts);
}

/** What decides a master's sound: two of the same differ in what stands in their headers alone. */
export const soundInputs = ({ tags: _, cover: __, ...sound }: MasterInputs): Omit<MasterInputs, "tags" | "cover"> =>
  sound;
