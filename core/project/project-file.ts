/**
 * A whole project as one file: a zip with `project.json` (the document and what belongs to it), the recordings under
 * their own names, and the pictures. Nothing in it needs this application to be read.
 */
import * as z from "zod";
import { layoutSchema } from "../audio/layout";
import { hashSchema } from "./document";

export const PROJECT_FILE_EXTENSION = ".resonum.zip";
/** The entry that describes all others. */
export const PROJECT_ENTRY = "project.json";

const recordingSchema = z.strictObject({
  sha256: hashSchema,
  name: z.string().min(1).max(200),
  bytes: z.number().int().nonnegative(),
  /** Its entry; `null` where it was left out. */
  path: z.string().max(400).nullable(),
  /** Which channel is which, where a person chose that. */
  layout: layoutSchema.nullable(),
  /** Which sound track of the file is used, from 0. */
  track: z.number().int().nonnegative(),
});

const pictureSchema = z.strictObject({ sha256: hashSchema, path: z.string().max(400) });

export const projectFileSchema = z.strictObject({
  format: z.literal("resonum-project"),
  version: z.literal(1),
  exportedAt: z.iso.datetime(),
  /** Of the core that was at work: masters are told by it. */
  coreVersion: z.string(),
  /** As the studio keeps it; of any version that can be opened. */
  document: z.unknown(),
  recordings: z.array(recordingSchema).max(10_000),
  pictures: z.array(pictureSchema).max(10_000),
});
export type ProjectFile = z.infer<typeof projectFileSchema>;

/** Blobs that a document names: recordings, covers, photos. */
export const blobsNamedIn = (document: unknown): string[] => [
  ...new Set(JSON.stringify(document).match(/(?<=")[0-9a-f]{64}(?=")/g) ?? []),
];
