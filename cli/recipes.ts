/** What is to be done, from a recipe file and options. */
import { readFile } from "node:fs/promises";
import * as z from "zod";
import { formatForSpec, formatOver, formatSchema, recipeSchema, type Recipe } from "@core/delivery/recipe";
import { specNamed } from "@core/delivery/specs";
import { deliverySpecSchema, type DeliverySpec } from "@core/delivery/spec";
import { takeLearning, withLearning } from "./learning";
import { CliProblem } from "./outcome";

export interface RecipeOptions {
  recipe?: string;
  bitDepth?: string;
  rate?: string;
  container?: string;
  bitrate?: string;
  channels?: string;
  dither?: string;
}

export function checked<Schema extends z.ZodType>(schema: Schema, given: unknown, where: string): z.infer<Schema> {
  const parsed = schema.safeParse(given);
  if (parsed.success) return parsed.data;
  const issues = parsed.error.issues.map(({ path, message }) => `${path.join(".") || "whole"}: ${message}`);
  throw new CliProblem(`${where} is not valid: ${issues.join("; ")}`);
}

/** @param what for the message: "The recipe" */
export async function readJson(file: string, what: string): Promise<unknown> {
  const text = await readFile(file, "utf8").catch(() => {
    throw new CliProblem(`${what} ${file} cannot be read.`);
  });
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new CliProblem(`${what} ${file} is not valid JSON: ${(error as Error).message}`);
  }
}

/** A spec that ships by its id, or one of one's own from a JSON file. */
export async function specFrom(named: string): Promise<DeliverySpec> {
  if (!named.endsWith(".json")) return specNamed(named);
  return checked(deliverySpecSchema, await readJson(named, "The specification"), named);
}

/** The recipe file with what the options add to it or overrule. @throws CliProblem that names the place */
export async function recipeOf(options: RecipeOptions, spec?: DeliverySpec): Promise<Recipe> {
  const { recipe: file, bitDepth, rate, container, bitrate, channels, dither } = options;
  const given = file === undefined ? {} : await readJson(file, "The recipe");
  const { recipe: plain, learn } = takeLearning(given, file ?? "recipe");
  const recipe = checked(recipeSchema, plain, file ?? "recipe");
  // What the spec asks of files holds where nothing else is said.
  const format = {
    ...(formatOver(formatForSpec(spec ?? recipe.spec), (plain as { format?: unknown }).format) as object),
    ...(bitDepth === undefined ? {} : { bitDepth }),
    ...(rate === undefined ? {} : { sampleRate: Number(rate) }),
    ...(container === undefined ? {} : { container }),
    ...(bitrate === undefined ? {} : { bitrateKbps: Number(bitrate) }),
    ...(channels === undefined ? {} : { channels }),
    ...(dither === undefined ? {} : { dither }),
  };
  return {
    ...recipe,
    repairs: withLearning(recipe.repairs, learn),
    ...(spec ? { spec } : {}),
    format: checked(formatSchema, format, "--bit-depth, --rate, --container, --bitrate, --channels, --dither"),
  };
}
