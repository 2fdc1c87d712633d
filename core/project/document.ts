/** The project document: everything a person decided, nothing that can be computed. One JSON value, stored whole. */
import * as z from "zod";
import { chainSchema } from "../process";
import { formatSchema, specIdSchema } from "../render/recipe";
import { repairsSchema } from "../repair";

export const idSchema = z.string().regex(/^[a-z0-9-]{1,40}$/);
export const hashSchema = z.string().regex(/^[0-9a-f]{64}$/, "a SHA-256 in hexadecimal is expected");
export const nameSchema = z.string().trim().min(1, "a name is needed").max(200);

export const TEMPLATE_IDS = ["music", "audiobook", "broadcast", "podcast", "immersive", "video"] as const;

/** A recording as the project knows it; what it holds is kept under its hash. */
export const projectSourceSchema = z.strictObject({ hash: hashSchema, name: nameSchema });
export type ProjectSource = z.infer<typeof projectSourceSchema>;

/** The stretch of a source that an item uses, in frames; `end` is one past the last. */
export const rangeSchema = z
  .strictObject({ start: z.number().int().nonnegative(), end: z.number().int().positive() })
  .refine(({ start, end }) => end > start, "the range ends before it begins");

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

/** One entry of the running order. */
export const itemSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  source: hashSchema,
  range: rangeSchema.optional(),
  repairs: repairsSchema,
  chain: chainSchema,
  markers: z.array(markerSchema).max(20_000).default([]),
  /** Where bars can be counted. */
  tempo: tempoSchema.optional(),
});
export type Item = z.infer<typeof itemSchema>;

export const deliverableSchema = z.strictObject({ id: idSchema, spec: specIdSchema, format: formatSchema });
export type Deliverable = z.infer<typeof deliverableSchema>;

export const projectSchema = z.strictObject({
  version: z.literal(1),
  name: nameSchema,
  template: z.enum(TEMPLATE_IDS),
  sources: z.array(projectSourceSchema).max(2000),
  items: z.array(itemSchema).max(2000),
  deliverables: z.array(deliverableSchema).max(40),
  /** The deliverable in force: the one that margins are shown against. */
  inForce: idSchema.nullable(),
});
export type ProjectDocument = z.infer<typeof projectSchema>;

export const itemOf = (document: ProjectDocument, id: string): Item | undefined =>
  document.items.find((item) => item.id === id);

export const deliverableInForce = (document: ProjectDocument): Deliverable | undefined =>
  document.deliverables.find((deliverable) => deliverable.id === document.inForce) ?? document.deliverables[0];
