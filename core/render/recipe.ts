import * as z from "zod";
import { chainSchema } from "../process";
import { repairsSchema } from "../repair";
import { SPECS } from "../spec";

export const formatSchema = z.strictObject({
  bits: z.enum(["16", "24", "32", "32f"]).default("24"),
  /** Hz; absent keeps the source's rate. */
  sampleRate: z.number().int().min(8000).max(384_000).optional(),
});
export type MasterFormat = z.infer<typeof formatSchema>;

export const specIdSchema = z.string().refine((id) => SPECS.some((spec) => spec.id === id), {
  error: (issue) =>
    `There is no delivery spec "${String(issue.input)}"; there are: ${SPECS.map((s) => s.id).join(", ")}.`,
});

/** What is done to a source on the way to a master: the same for an item of a project and for the command line. */
export const recipeSchema = z.strictObject({
  repairs: repairsSchema.default([]),
  chain: chainSchema.default([]),
  spec: specIdSchema.optional(),
  format: formatSchema.default({ bits: "24" }),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** Changes whenever the same recipe may give other bytes. Part of every key under which a result is kept. */
export const CORE_VERSION = "6";

/** JSON with keys in order and no spaces: equal things give equal text. */
export function canonicalJson(thing: unknown): string {
  if (Array.isArray(thing)) return `[${thing.map(canonicalJson).join(",")}]`;
  if (thing !== null && typeof thing === "object") {
    const entries = Object.entries(thing).filter(([, value]) => value !== undefined);
    entries.sort(([a], [b]) => (a < b ? -1 : 1));
    return `{${entries.map(([key, value]) => `${JSON.stringify(key)}:${canonicalJson(value)}`).join(",")}}`;
  }
  return JSON.stringify(thing);
}
