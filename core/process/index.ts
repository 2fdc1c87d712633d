import * as z from "zod";
import { gain } from "./gain";
import { limiter } from "./limiter";
import { defaultsOf, parameterShape, settingsFrom, type SettingsOf, type Parameters } from "./parameter";
import type { ProcessorDefinition } from "./processor";

const erase = <P extends Parameters>(definition: ProcessorDefinition<P>): ProcessorDefinition => ({
  ...definition,
  // Settings reach a definition only through its own schema, so the wider type is safe here and nowhere else.
  create: (settings, format) => definition.create(settings as SettingsOf<P>, format),
  predict: (levels, settings) => definition.predict(levels, settings as SettingsOf<P>),
  summary: (settings) => definition.summary(settings as SettingsOf<P>),
});

/** Every processor. A new one: its file, and a word here. */
export const PROCESSORS: readonly ProcessorDefinition[] = [erase(gain), erase(limiter)];

export function processorNamed(id: string): ProcessorDefinition {
  const found = PROCESSORS.find((definition) => definition.id === id);
  if (!found) throw new Error(`There is no processor "${id}"; there are: ${PROCESSORS.map((p) => p.id).join(", ")}.`);
  return found;
}

const entrySchema = (definition: ProcessorDefinition) =>
  z.strictObject({
    type: z.literal(definition.id),
    /** Names the entry within its chain; the application gives one, a hand-written recipe need not. */
    id: z.string().min(1).max(64).optional(),
    bypass: z.boolean().default(false),
    ...parameterShape(definition.parameters),
  });

/** One processor of a chain with its settings, flat: `{ "type": "gain", "gainDb": 3 }`. */
export const chainEntrySchema = z.discriminatedUnion("type", [
  entrySchema(PROCESSORS[0]!),
  ...PROCESSORS.slice(1).map(entrySchema),
]);

export interface ChainEntry extends Record<string, unknown> {
  type: string;
  id?: string | undefined;
  bypass: boolean;
}

export const chainSchema: z.ZodType<ChainEntry[]> = z.array(chainEntrySchema).max(48);

/** The parameters of an entry, with defaults for what it does not name. */
export const settingsOf = (entry: ChainEntry): SettingsOf<Parameters> =>
  settingsFrom(entry, processorNamed(entry.type).parameters);

/** A new entry with default settings. */
export const newChainEntry = (type: string, id: string): ChainEntry => ({
  type,
  id,
  bypass: false,
  ...defaultsOf(processorNamed(type).parameters),
});
