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
import type { Frames, Hertz } from "../audio/units";
import { hashSchema, specOf, wholeChain, type Deliverable, type Item, type ProjectDocument } from "./document";

/** What must be known of a recording before a master of it can be asked for. */
export interface KnownRecording {
  layout: Layout;
  sampleRate: Hertz;
  frames: Frames;
}
export type KnownRecordings = (hash: string) => KnownRecording | null;

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
  coreVersion: z.string(),
});
export type MasterInputs = z.infer<typeof currentMasterInputsSchema>;

export const masterInputsSchema = readingFormerNames(currentMasterInputsSchema, FORMER_NAMES);

type Project = Pick<ProjectDocument, "chain" | "specs" | "about" | "items" | "name">;

/** What a step or an entry is called changes no sample. */
const soundingWork = (project: Pick<ProjectDocument, "chain">, item: Item) => ({
  clips: item.clips ?? null,
  repairs: item.repairs.map(({ id: _, ...step }) => step as Recipe["repairs"][number]),
  chain: wholeChain(project, item).map(soundingEntry),
});

export const itemRenderInputs = (
  project: Pick<ProjectDocument, "chain">,
  item: Item,
  layout: Layout,
): ItemRenderInputs => ({
  source: item.source,
  layout,
  ...soundingWork(project, item),
  coreVersion: CORE_VERSION,
});

/** The inputs of a master; `null` while a recording that they need is not read yet. */
export function masterInputs(
  project: Project,
  item: Item,
  deliverable: Deliverable,
  known: KnownRecordings,
): MasterInputs | null {
  const recording = known(item.source);
  if (!recording) return null;
  const spec = specOf(project, deliverable.spec);
  const { clips, ...work } = soundingWork(project, item);
  let album: ItemRenderInputs[] | null = null;
  if (spec.gainScope === "album") {
    album = [];
    for (const one of project.items) {
      const layout = known(one.source)?.layout;
      if (!layout) return null;
      album.push(itemRenderInputs(project, one, layout));
    }
  }
  return {
    source: item.source,
    layout: recording.layout,
    clips,
    recipe: { ...work, spec, format: deliverable.format },
    ...(deliverable.format.container === "video"
      ? { tags: newTags({ title: item.name }), cover: null } // a video keeps what it says of itself
      : { tags: tagsOf(project, item, recording), cover: project.about.cover ?? null }),
    album,
    coreVersion: CORE_VERSION,
  };
}

/** What the master of an item says of itself. How many items there are is not among it: another one changes no master. */
export function tagsOf(project: Project, item: Item, { sampleRate, frames }: KnownRecording): Tags {
  const { about, items, name } = project;
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
    track: items.findIndex(({ id }) => id === item.id) + 1,
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
