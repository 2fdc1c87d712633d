/** The project document: everything a person decided, nothing that can be computed. One JSON value, stored whole. */
import * as z from "zod";
import { reportHeadSchema } from "./report-head";
import { withCurrentNames } from "../parameters/former-names";
import { hashSchema, idSchema, nameSchema } from "../parameters/identifiers";
import { chainSchema, withUnavailable, type ChainEntry } from "../processors";
import { clipsSchema, recordingClip } from "../edit-list/clip";
import { barcodeSchema, isrcSchema } from "../files/tags";
import { formatSchema } from "../delivery/recipe";
import { placementSchema } from "../programme/placement";
import { PLAIN_PROGRAMME, programmeSchema } from "../programme/programme";
import { SPECS } from "../delivery/specs";
import { deliverySpecSchema, SPEC_DEFAULTS, type DeliverySpec } from "../delivery/spec";
import { repairsSchema } from "../repair";
import { noiseProfileSchema } from "../repair/noise-profile";

export { hashSchema, idSchema, nameSchema };

export const TEMPLATE_IDS = ["music", "audiobook", "broadcast", "podcast", "immersive", "video"] as const;

/** A recording as the project knows it; what it holds is kept under its hash. */
export const projectSourceSchema = z.strictObject({ hash: hashSchema, name: nameSchema });
export type ProjectSource = z.infer<typeof projectSourceSchema>;

/** What markers are for. */
export const MARKER_KINDS = ["mark", "cut", "retake", "question", "chapter"] as const;
export type MarkerKind = (typeof MARKER_KINDS)[number];

/** A named time or time range, in frames of the item's source, so that it stays where it was put. */
export const markerSchema = z
  .strictObject({
    id: idSchema,
    kind: z.enum(MARKER_KINDS),
    name: z.string().trim().max(200),
    start: z.number().int().nonnegative(),
    /** One past the last frame; absent for a point. */
    end: z.number().int().positive().optional(),
  })
  .refine(({ start, end }) => end === undefined || end > start, "the marker ends before it begins");
export type Marker = z.infer<typeof markerSchema>;

export const tempoSchema = z.strictObject({
  beatsPerMinute: z.number().min(20).max(400),
  beatsPerBar: z.number().int().min(1).max(16),
  startSeconds: z.number().min(-60).max(36_000),
});

/** A chain that was kept by name, to be compared with others and use this one again. */
export const chainVersionSchema = z.strictObject({ id: idSchema, name: nameSchema, chain: chainSchema });
export type ChainVersion = z.infer<typeof chainVersionSchema>;

const words = z.string().trim().max(400).default("");

/** What an item says of itself beyond its name. */
export const itemAboutSchema = z.strictObject({
  artist: words,
  composer: words,
  isrc: isrcSchema.default(""),
  /** Notes of an episode. */
  comment: words,
  /** Where it is not that of the whole. */
  cover: hashSchema.optional(),
});
export type ItemAbout = z.infer<typeof itemAboutSchema>;

/** What belongs to all items: an album, a book, a programme. */
export const projectAboutSchema = z.strictObject({
  /** Of the whole; absent where it is the project's name. */
  title: words,
  artist: words,
  publisher: words,
  genre: words,
  date: z
    .string()
    .trim()
    .regex(/^(\d{4}(-\d{2}(-\d{2})?)?)?$/, "a year, or a date as 2026-11-26")
    .default(""),
  catalogue: words,
  barcode: barcodeSchema.default(""),
  comment: words,
  /** Picture that masters carry. */
  cover: hashSchema.optional(),
  /** What stands at the head of its reports. */
  report: reportHeadSchema.optional(),
});
export type ProjectAbout = z.infer<typeof projectAboutSchema>;

/** How masters are called unless one decides otherwise. */
export const PLAIN_NAMING = "{track} {title} - {spec}";

/** The mix that an item has unless more were taken in. */
export const MAIN_MIX = "main";

/** One of several recordings of an item that share all that is done to it: instrumental, clean, a cappella. */
export const mixSchema = z.strictObject({
  name: z.string().trim().min(1).max(40),
  source: hashSchema,
  /** Frames by which the same sound lies later in it than in the recording that the item came with; absent for none. */
  shift: z.number().int().optional(),
  /** Repairs and processors of the item, by id, that are switched off in this mix; absent for none. */
  leftOut: z.array(idSchema).min(1).max(200).optional(),
});
export type Mix = z.infer<typeof mixSchema>;

/** Colours that a person marks items with, by their words. */
export const ITEM_COLOURS = ["plum", "brick", "ochre", "olive", "teal", "slate"] as const;
export type ItemColour = (typeof ITEM_COLOURS)[number];

const newItemSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** The recording in force: that of its mix, where there are several. */
  source: hashSchema,
  mixes: z.array(mixSchema).max(40).optional(),
  /** Its place in the programme; absent for right after the item before. */
  placement: placementSchema.optional(),
  /** What of the recording it is made of, and in which order; absent for all of it. */
  clips: clipsSchema.optional(),
  repairs: repairsSchema,
  chain: chainSchema,
  versions: z.array(chainVersionSchema).max(60).optional(),
  markers: z.array(markerSchema).max(20_000).default([]),
  /** Where bars can be counted. */
  tempo: tempoSchema.optional(),
  colour: z.enum(ITEM_COLOURS).optional(),
  about: itemAboutSchema.optional(),
});

const itemNames = { pieces: "clips" };
const oldRangeSchema = z.object({ range: z.object({ start: z.number(), end: z.number() }) });

/** One entry of the running order. Items of earlier versions, which used one stretch, are read too. */
export const itemSchema = z
  .preprocess((stored) => {
    const given = withCurrentNames(stored, itemNames);
    const old = oldRangeSchema.safeParse(given);
    if (!old.success) return given;
    const { range: _, ...item } = given as Record<string, unknown>;
    return { ...item, clips: [recordingClip(old.data.range.start, old.data.range.end)] };
  }, newItemSchema)
  .meta({ id: "Item" });
export type Item = z.infer<typeof itemSchema>;

/**
 * How a programme is delivered: as one file, as files of its items that join to the sample, both, or as a file of the
 * stretch of each of its markers.
 */
export const PROGRAMME_FORMS = ["one file", "item files", "both", "marked stretches"] as const;

/** Rendered, verified and handed over by itself, once the project stands still. */
const automaticDeliverySchema = z.strictObject({
  /** Who is given masters that pass; `null` where they stay in the studio. */
  receiver: idSchema.nullable(),
});

export const deliverableSchema = z.strictObject({
  id: idSchema,
  spec: idSchema,
  format: formatSchema,
  /** Absent for a master of each item by itself. */
  programme: z.enum(PROGRAMME_FORMS).optional(),
  /** Name of the mix that it is made of; absent for the one in force. */
  mix: mixSchema.shape.name.optional(),
  /** Absent where masters are asked for by hand. */
  automatic: automaticDeliverySchema.optional(),
});
export type Deliverable = z.infer<typeof deliverableSchema>;

/** As a copy, or another studio's, begins: nobody is given anything that they did not ask for. */
export const withoutAutomaticDelivery = <D extends Pick<ProjectDocument, "deliverables">>(document: D): D => ({
  ...document,
  deliverables: document.deliverables.map(({ automatic: _, ...deliverable }) => deliverable),
});

/** A noise that was learned, to be used again: on other items, or as room tone. */
export const savedNoiseProfileSchema = z.strictObject({ id: idSchema, name: nameSchema, profile: noiseProfileSchema });
export type SavedNoiseProfile = z.infer<typeof savedNoiseProfileSchema>;

/** Settings that were kept by name: of one processor, or of a whole chain. */
export const savedPresetSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** When to use it. */
  note: z.string().trim().max(400).default(""),
  /** Whether a new processor of its type begins with it. */
  isDefault: z.boolean().default(false),
  chain: chainSchema.check(z.minLength(1)),
});
export type SavedPreset = z.infer<typeof savedPresetSchema>;

export const projectSchema = z.strictObject({
  version: z.literal(2),
  name: nameSchema,
  template: z.enum(TEMPLATE_IDS),
  sources: z.array(projectSourceSchema).max(2000),
  items: z.array(itemSchema).max(2000),
  deliverables: z.array(deliverableSchema).max(40),
  /** What everything in the running order goes through last. */
  chain: chainSchema.default([]),
  /** How the items are put together. */
  programme: programmeSchema.default(() => PLAIN_PROGRAMME),
  presets: z.array(savedPresetSchema).max(200).default([]),
  /** Delivery specs of one's own. */
  specs: z.array(deliverySpecSchema).max(60).default([]),
  about: projectAboutSchema.default(() => projectAboutSchema.parse({})),
  /** How masters are called: words with what stands in braces filled in. */
  naming: z.string().trim().min(1).max(200).default(PLAIN_NAMING),
  /** Noises that were learned and kept by name. */
  noiseProfiles: z.array(savedNoiseProfileSchema).max(200).default([]),
  /** The deliverable in force: the one that margins are shown against. */
  activeDeliverable: idSchema.nullable(),
});
export type ProjectDocument = z.infer<typeof projectSchema>;

/** Stands for the whole programme where an item's id is asked for. */
export const PROGRAMME_ID = "programme";

export const itemOf = (document: ProjectDocument, id: string): Item | undefined =>
  document.items.find((item) => item.id === id);

/** Version 1 had other names for some things; those of items, chains, repairs, specs and formats are read where they stand. */
const VERSION_1_NAMES = { inForce: "activeDeliverable", profiles: "noiseProfiles" };

/** A stored document of any version as one of this version; what it holds is not checked. */
export const migrateDocument = (stored: unknown): unknown =>
  (stored as { version?: unknown } | null)?.version === 1
    ? { ...(withCurrentNames(stored, VERSION_1_NAMES) as object), version: 2 }
    : stored;

/** A stored document, with processors that cannot be used set aside. @throws ZodError where more is wrong with it */
export function openDocument(stored: unknown): ProjectDocument {
  const chained = z.looseObject({ chain: z.array(z.unknown()).optional(), versions: z.array(z.unknown()).optional() });
  const opened = (thing: unknown): unknown => {
    const found = chained.safeParse(thing);
    if (!found.success) return thing;
    const { chain, versions } = found.data;
    return {
      ...found.data,
      ...(chain ? { chain: withUnavailable(chain) } : {}),
      ...(versions ? { versions: versions.map(opened) } : {}),
    };
  };
  const migrated = migrateDocument(stored);
  const whole = z.looseObject({ items: z.array(z.unknown()) }).safeParse(migrated);
  return projectSchema.parse(opened(whole.success ? { ...whole.data, items: whole.data.items.map(opened) } : migrated));
}

/** All that an item goes through: its own chain, then the programme's. */
export const wholeChain = (document: Pick<ProjectDocument, "chain">, item: Pick<Item, "chain">): ChainEntry[] => [
  ...item.chain,
  ...document.chain,
];

/** A spec of the project or one that ships; one that is gone asks for nothing, so that the project still opens. */
export function specOf({ specs }: Pick<ProjectDocument, "specs">, id: string): DeliverySpec {
  const found = specs.find((spec) => spec.id === id) ?? SPECS.find((spec) => spec.id === id);
  return (
    found ?? {
      ...SPEC_DEFAULTS,
      id,
      name: `${id} (missing)`,
      help: "This specification is no longer in the project: choose another one",
      source: "",
      edition: "",
      target: null,
      normalise: "none",
      ceilingDbtp: 0,
      limits: [],
    }
  );
}

export const deliverableInForce = (document: ProjectDocument): Deliverable | undefined =>
  document.deliverables.find((deliverable) => deliverable.id === document.activeDeliverable) ??
  document.deliverables[0];
