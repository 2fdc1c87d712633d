/** The manifest of a delivery: everything from which the same bytes can be made again, and what they must be. */
import * as z from "zod";
import type { Approval } from "../review/views";
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
  /** Who has heard exactly this file and approved it, or sent it back. */
  decision: z
    .strictObject({
      approved: z.boolean(),
      by: z.string().max(400),
      at: z.string().max(40),
      words: z.string().max(4000),
    })
    .optional(),
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

const decisionEntry = (decision: Approval | undefined) =>
  decision && {
    decision: { approved: decision.approved, by: decision.name, at: decision.created_at, words: decision.words },
  };

export const manifestOf = (
  project: string,
  mediaTool: string,
  recordings: readonly { hash: string; name: string }[],
  masters: readonly CurrentMaster[],
  decisions: ReadonlyMap<string, Approval>,
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
    ...decisionEntry(decisions.get(master.file_hash!)),
    inputs: master.inputs,
  })),
});
