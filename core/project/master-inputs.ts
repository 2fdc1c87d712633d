import * as z from "zod";
import { readingFormerNames } from "../parameters/former-names";
import { EditList } from "../edit-list/edit-list";
import { clipsSchema } from "../edit-list/clip";
import { newTags, tagsSchema, type Tags } from "../files/tags";
import { chainSchema, soundingEntry } from "../processors";
import { recipeSchema, type Recipe } from "../delivery/recipe";
import { canonicalJson } from "../math/canonical-json";
import { CORE_VERSION } from "../audio/core-version";
import { repairsSchema } from "../repair";
import { layoutSchema, type Layout } from "../audio/layout";
import { layoutProblem } from "../programme/fitted-source";
import { placementOf, placementSchema, type StoredPlacement } from "../programme/placement";
import { laneSchema } from "../programme/programme";
import { titlesOf } from "../programme/cuts";
import type { Timeline } from "../programme/timeline";
import {
  hashSchema,
  idSchema,
  specOf,
  wholeChain,
  type Deliverable,
  type Item,
  type ProjectDocument,
} from "./document";
import type { KnownRecording, KnownRecordings } from "./known-recordings";
import { orderOf, programmeCuts, programmeTimeline, sourceInMix, sourceInProgramme, titleNumber } from "./subjects";
import { PROGRAMME_ID } from "./document";

/** An item after its chain, by everything that decides its samples. */
const currentItemRenderInputsSchema = z.strictObject({
  source: hashSchema,
  layout: layoutSchema,
  clips: clipsSchema.nullable(),
  repairs: repairsSchema,
  chain: chainSchema,
  coreVersion: z.string(),
});
export type ItemRenderInputs = z.infer<typeof currentItemRenderInputsSchema>;

const FORMER_NAMES = { pieces: "clips" };
export const itemRenderInputsSchema = readingFormerNames(currentItemRenderInputsSchema, FORMER_NAMES);

const placedItemSchema = z.strictObject({
  item: idSchema,
  lane: idSchema.nullable(),
  start: z.number().int().nonnegative(),
  end: z.number().int().nonnegative(),
  fadeEnd: z.number().int().nonnegative(),
  gap: z.number().int(),
});
const cutSchema = z.strictObject({ start: z.number().int().nonnegative(), end: z.number().int().nonnegative() });

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

/** Everything that decides the bytes of a master, and nothing else: the same inputs give the same file. */
const currentMasterInputsSchema = z.strictObject({
  source: hashSchema,
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

type Project = Pick<ProjectDocument, "chain" | "specs" | "about" | "items" | "name" | "programme">;

/** What a step or an entry is called changes no sample. */
const soundingWork = (item: Item, chain: ProjectDocument["chain"]) => ({
  clips: item.clips ?? null,
  repairs: item.repairs.map(({ id: _, ...step }) => step as Recipe["repairs"][number]),
  chain: chain.map(soundingEntry),
});

/** @param chain that it goes through: with the programme's behind its own, unless it is a part of a programme */
const itemRenderInputs = (item: Item, source: string, layout: Layout, chain: ProjectDocument["chain"]) => ({
  source,
  layout,
  ...soundingWork(item, chain),
  coreVersion: CORE_VERSION,
});

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
  const spec = specOf(project, deliverable.spec);
  const { clips, ...work } = soundingWork(item, wholeChain(project, item));
  let album: ItemRenderInputs[] | null = null;
  if (spec.gainScope === "album") {
    album = [];
    for (const one of orderOf(project)) {
      const from = sourceInProgramme(one, deliverable.mix);
      const layout = known(from)?.layout;
      if (!layout) return null;
      album.push(itemRenderInputs(one, from, layout, wholeChain(project, one)));
    }
  }
  const fades = fadesOf(item);
  return {
    source,
    layout: recording.layout,
    clips,
    recipe: { ...work, spec, format: deliverable.format },
    ...(deliverable.format.container === "video"
      ? { tags: newTags({ title: item.name }), cover: null } // a video keeps what it says of itself
      : { tags: tagsOf(project, item, recording), cover: project.about.cover ?? null }),
    album,
    ...(fades ? { fades } : {}),
    coreVersion: CORE_VERSION,
  };
}

/** How an item comes and goes; nothing where that is plain. */
function fadesOf(item: Item): MasterInputs["fades"] {
  const { fadeIn, fadeOut, gainDb, envelope } = placementOf(item);
  if (!fadeIn && !fadeOut && gainDb === 0 && envelope.length === 0) return undefined;
  return { ...(fadeIn ? { fadeIn } : {}), ...(fadeOut ? { fadeOut } : {}), gainDb, envelope };
}

function programmeMasterInputs(
  project: Project,
  item: Item,
  { spec, format, mix }: Deliverable,
  known: KnownRecordings,
): MasterInputs | null {
  const timeline = programmeTimeline(project, known, mix);
  if (!timeline) return null;
  const cut = item.id === PROGRAMME_ID ? null : programmeCuts(project, timeline).find((one) => one.item === item.id);
  if (cut === undefined) return null;
  const { layout, sampleRate, frames } = timeline;
  const first = timeline.order[0]!.item;
  const placed = project.items.map((one): ProgrammeInputs["items"][number] => {
    const source = sourceInProgramme(one, mix);
    const sounding = soundingPlacement(one.placement);
    return {
      id: one.id,
      render: itemRenderInputs(one, source, known(source)!.layout, one.chain),
      ...(sounding ? { placement: sounding } : {}),
    };
  });
  return {
    source: placed.find(({ id }) => id === first)!.render.source,
    layout,
    clips: null,
    recipe: { repairs: [], chain: project.chain.map(soundingEntry), spec: specOf(project, spec), format },
    tags: cut ? tagsOf(project, item, known(item.source)!) : programmeTags(project, timeline),
    cover: project.about.cover ?? null,
    album: null,
    programme: {
      sampleRate,
      layout,
      frames,
      order: timeline.order,
      onLanes: timeline.onLanes,
      items: placed,
      lanes: project.programme.lanes.map(({ name: _, chain, ...lane }) => ({
        ...lane,
        chain: chain.map(soundingEntry),
      })),
    },
    ...(cut ? { cut: { start: cut.start, end: cut.end } } : {}),
    coreVersion: CORE_VERSION,
  };
}

/** Where an item lies is told by its frames; only what is done to its sound is left. */
function soundingPlacement(placement: StoredPlacement | undefined): StoredPlacement | undefined {
  if (!placement) return undefined;
  const { fadeIn, fadeOut, gainDb, envelope } = placement;
  const sounding = Object.entries({ fadeIn, fadeOut, gainDb, envelope }).filter(([, value]) => value !== undefined);
  return sounding.length > 0 ? Object.fromEntries(sounding) : undefined;
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

/** What a programme says of itself: its titles are its chapters. */
function programmeTags(project: Project, timeline: Timeline): Tags {
  const { about, name, items } = project;
  const titles = new Map(items.map((item) => [item.id, item.name]));
  return newTags({
    title: about.title || name,
    artist: about.artist,
    album: about.title || name,
    albumArtist: about.artist,
    publisher: about.publisher,
    genre: about.genre,
    date: about.date,
    barcode: about.barcode,
    catalogue: about.catalogue,
    comment: about.comment,
    chapters: titlesOf(timeline, items).map(({ item, start }) => ({
      title: titles.get(item)!,
      startSeconds: start / timeline.sampleRate,
    })),
  });
}

/** What the master of an item says of itself. How many items there are is not among it: another one changes no master. */
export function tagsOf(project: Project, item: Item, { sampleRate, frames }: KnownRecording): Tags {
  const { about, name } = project;
  const arrangement = EditList.of(item.clips, frames);
  const chapters = item.markers
    .filter(({ kind }) => kind === "chapter")
    .flatMap(({ name: title, start }) => {
      const at = arrangement.toItem(start);
      return at === null ? [] : [{ title, startSeconds: at / sampleRate }];
    })
    .sort((a, b) => a.startSeconds - b.startSeconds);
  return newTags({
    title: item.name,
    artist: item.about?.artist || about.artist,
    album: about.title || name,
    albumArtist: about.artist,
    composer: item.about?.composer ?? "",
    publisher: about.publisher,
    genre: about.genre,
    date: about.date,
    isrc: item.about?.isrc ?? "",
    barcode: about.barcode,
    catalogue: about.catalogue,
    comment: item.about?.comment || about.comment,
    track: titleNumber(project, item),
    chapters,
  });
}

/** The text under which a master is kept. */
export const masterKey = (inputs: MasterInputs): string => canonicalJson(inputs);
/** What decides a master's sound: two of the same differ in what stands in their headers alone. */
export const soundInputs = ({ tags: _, cover: __, ...sound }: MasterInputs): Omit<MasterInputs, "tags" | "cover"> =>
  sound;
/** The text under which an item after its chain is kept. */
export const itemRenderKey = (inputs: ItemRenderInputs): string => canonicalJson(inputs);
