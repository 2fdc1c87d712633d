/** The manifest of a delivery: everything from which the same bytes can be made again, and what they must be. */
import * as z from "zod";
import type { CurrentMaster } from "./delivery";
import { hashSchema } from "./document";
import { masterInputsSchema } from "./master-inputs";

const entrySchema = z.strictObject({
  file: z.string().min(1).max(300),
  bytes: z.number().int().nonnegative(),
  sha256: hashSchema,
  /** Of the sound before it was encoded: the same with any encoder. */
  soundSha256: hashSchema.nullable(),
  passes: z.boolean().nullable(),
  inputs: masterInputsSchema,
});

export const manifestSchema = z.strictObject({
  kind: z.literal("resonum-manifest"),
  version: z.literal(1),
  project: z.string().max(400),
  /** What encoded, where something did. */
  mediaTool: z.string().max(400),
  /** Names of the recordings, by the SHA-256 of their files. */
  recordings: z.record(hashSchema, z.string().max(400)),
  masters: z.array(entrySchema).max(10_000),
});
export type Manifest = z.infer<typeof manifestSchema>;

export const manifestOf = (
  project: string,
  mediaTool: string,
  recordings: readonly { hash: string; name: string }[],
  masters: readonly CurrentMaster[],
): Manifest => ({
  kind: "resonum-manifest",
  version: 1,
  project,
  mediaTool,
  recordings: Object.fromEntries(recordings.map(({ hash, name }) => [hash, name])),
  masters: masters.map(({ name, master }) => ({
    file: name,
    bytes: master.file_bytes!,
    sha256: master.file_hash!,
    soundSha256: master.sound_hash,
    passes: master.result?.verdict?.pass ?? null,
    inputs: master.inputs,
  })),
});
