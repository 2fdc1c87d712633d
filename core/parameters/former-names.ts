/** Names that earlier versions stored things under: they are read for good, and written by none. */
import * as z from "zod";

/** Today's name, by the former one. */
export type FormerNames = Readonly<Record<string, string>>;

/** Today's name of one: what is no former name is today's. */
const currentName = (name: string, names: FormerNames): string => (Object.hasOwn(names, name) ? names[name]! : name);

const isRecord = (given: unknown): given is Record<string, unknown> =>
  typeof given === "object" && given !== null && !Array.isArray(given);

/** An object with today's names; whatever it holds stays as it is. What is no object is given back. */
export function withCurrentNames(given: unknown, names: FormerNames): unknown {
  if (!isRecord(given) || !Object.keys(given).some((key) => Object.hasOwn(names, key))) return given;
  return Object.fromEntries(Object.entries(given).map(([key, held]) => [currentName(key, names), held]));
}

/** The same in all that it holds as well, and in names of settings in rows: "bands.1.gainDb". */
export function withCurrentNamesThroughout(given: unknown, names: FormerNames): unknown {
  if (Array.isArray(given)) return given.map((one) => withCurrentNamesThroughout(one, names));
  if (!isRecord(given)) return given;
  const path = (key: string) =>
    key
      .split(".")
      .map((part) => currentName(part, names))
      .join(".");
  return Object.fromEntries(
    Object.entries(given).map(([key, held]) => [path(key), withCurrentNamesThroughout(held, names)]),
  );
}

/** The same without some of its entries, in all that it holds as well. */
export function without(given: unknown, names: readonly string[]): unknown {
  if (Array.isArray(given)) return given.map((one) => without(one, names));
  if (!isRecord(given)) return given;
  return Object.fromEntries(
    Object.entries(given)
      .filter(([key]) => !names.includes(key))
      .map(([key, held]) => [key, without(held, names)]),
  );
}

/** A schema that reads former names as well. */
export const readingFormerNames = <Schema extends z.ZodType>(
  schema: Schema,
  names: FormerNames,
): z.ZodType<z.output<Schema>> => z.preprocess((given) => withCurrentNames(given, names), schema);
