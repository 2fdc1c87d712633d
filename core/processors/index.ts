import * as z from "zod";
import { idSchema } from "../parameters/identifiers";
import { without, withCurrentNames, withCurrentNamesThroughout, type FormerNames } from "../parameters/former-names";
import type { StreamFormat } from "../audio/stream-format";
import type { Frames } from "../audio/units";
import { ambience } from "./ambience";
import { bassTreble } from "./bass-treble";
import { createWithCommonControls, commonControls, predictWithCommonControls } from "./common-controls";
import { channelTools } from "./channels";
import { clipper } from "./clipper";
import { compressor } from "./compressor";
import { deEsser } from "./de-esser";
import { discEqualisation } from "./disc-equalisation";
import { ducker } from "./ducker";
import { enhancer } from "./enhancer";
import { equaliser } from "./equaliser";
import { expander } from "./expander";
import { filter } from "./filter";
import { gain } from "./gain";
import { leveller } from "./leveller";
import { limiter } from "./limiter";
import { automatedProcessor, settingsAt } from "./automation";
import { multiband } from "./multiband";
import { outboard } from "./outboard";
import { saturation } from "./saturation";
import { threeBandTone } from "./three-band-tone";
import { toneMatch } from "./tone-match";
import { stereoWidth } from "./width";
import {
  defaultsOf,
  parameterShape,
  settingSchema,
  settingsFrom,
  type Parameters,
  type Setting,
  type SettingsOf,
} from "../parameters/parameter";
import type { Processor, ProcessorDefinition } from "./processor";

/** With what can be set around it, and without its own type. */
const erase = <P extends Parameters>(definition: ProcessorDefinition<P>): ProcessorDefinition => ({
  ...definition,
  parameters: { ...definition.parameters, ...commonControls(definition) },
  // Settings reach a definition only through its own schema, so the wider type is safe here and nowhere else.
  create: (settings, format, start, moves) =>
    createWithCommonControls(
      (inner) => definition.create(settings as SettingsOf<P>, inner, start, moves),
      settings,
      format,
    ),
  predict: (levels, settings) =>
    predictWithCommonControls(levels, (inner) => definition.predict(inner, settings as SettingsOf<P>), settings),
  summary: (settings) => definition.summary(settings as SettingsOf<P>),
  ...(definition.reductionNames
    ? { reductionNames: (settings) => definition.reductionNames!(settings as SettingsOf<P>) }
    : {}),
  ...(definition.createDetector
    ? { createDetector: (settings, format) => definition.createDetector!(settings as SettingsOf<P>, format) }
    : {}),
  neutral: definition.neutral as SettingsOf<Parameters>,
  presets: definition.presets as ProcessorDefinition["presets"],
});

/** Every processor. A new one: its file, and a word here. */
export const PROCESSORS: readonly ProcessorDefinition[] = [
  erase(gain),
  erase(channelTools),
  erase(leveller),
  erase(ducker),
  erase(filter),
  erase(bassTreble),
  erase(threeBandTone),
  erase(equaliser),
  erase(toneMatch),
  erase(discEqualisation),
  erase(compressor),
  erase(multiband),
  erase(expander),
  erase(deEsser),
  erase(clipper),
  erase(limiter),
  erase(saturation),
  erase(enhancer),
  erase(stereoWidth),
  erase(ambience),
  erase(outboard),
];

/** What stands in a chain for an entry that cannot be used: nothing is done, and what it was is kept. */
const unavailable: ProcessorDefinition = {
  id: "unavailable",
  name: "Unavailable",
  group: "loop",
  help: "Stands for a processor that could not be opened; the sound passes it as it is",
  keywords: "",
  parameters: {},
  commonControls: "none",
  memory: 0,
  create: () => ({ latency: 0, process: () => undefined }),
  predict: (levels) => levels,
  summary: () => "could not be opened",
  presets: [],
};

export function processorNamed(id: string): ProcessorDefinition {
  if (id === unavailable.id) return unavailable;
  const found = PROCESSORS.find((definition) => definition.id === id);
  if (!found) throw new Error(`There is no processor "${id}"; there are: ${PROCESSORS.map((p) => p.id).join(", ")}.`);
  return found;
}

const HASH = /^[0-9a-f]{64}$/;

/** What a person keeps beside a processor, for an outside device above all: it changes no sound. */
export const aboutSchema = z.strictObject({
  note: z.string().max(2000).default(""),
  /** How the knobs of a device stand: their names and what they point to. */
  dials: z
    .array(z.strictObject({ name: z.string().max(60), stands: z.string().max(60) }))
    .max(60)
    .default([]),
  /** A picture of it, by the hash of its bytes. */
  photo: z.string().regex(HASH).nullable().default(null),
});
export type About = z.infer<typeof aboutSchema>;

/** Points of a line that a setting follows. */
export const breakpointsSchema = z
  .array(z.tuple([z.number().min(0).max(200_000), z.number()]))
  .max(5000)
  .refine((points) => points.every(([at], i) => i === 0 || at > points[i - 1]![0]), "points must follow one another");

const entrySchema = (definition: ProcessorDefinition) =>
  z.strictObject({
    type: z.literal(definition.id),
    /** Names the entry within its chain; the application gives one, a hand-written recipe need not. */
    id: z.string().min(1).max(64).optional(),
    bypass: z.boolean().default(false),
    /** Another set of settings, to flip to; and whether it is the second that is heard. */
    alternateSettings: z.record(z.string().max(40), settingSchema).optional(),
    usesAlternate: z.boolean().optional(),
    /** Settings that move over time: seconds of the item and values, by the setting's name. */
    automation: z.record(z.string().max(60), breakpointsSchema).optional(),
    about: aboutSchema.optional(),
    key: (definition.takesKey ? idSchema : z.never()).optional(),
    ...parameterShape(definition.parameters),
  });

/** Former names of entries; and of settings, by the processor that has them. */
const FORMER_ENTRY_NAMES: FormerNames = { other: "alternateSettings", second: "usesAlternate", lines: "automation" };
const SIDECHAIN: FormerNames = { listenFromHz: "sidechainHighPassHz", listenToHz: "sidechainLowPassHz" };
const FORMER_SETTINGS: Readonly<Record<string, FormerNames>> = {
  compressor: { ...SIDECHAIN, adapts: "autoRelease" },
  expander: { ...SIDECHAIN, openMs: "attackMs", closeMs: "releaseMs" },
  multiband: { upToHz: "crossoverHz", alone: "solo" },
  "de-esser": { mostDb: "maxReductionDb" },
  "tone-match": { mostDb: "maxChangeDb" },
};

function withEntryNames(given: unknown): unknown {
  const type = (given as { type?: unknown } | null)?.type;
  if (type === "set-aside")
    return withCurrentNames({ ...(given as object), type: unavailable.id }, { why: "reason", kept: "original" });
  const entry = withCurrentNames(given, FORMER_ENTRY_NAMES);
  return typeof type === "string" ? withSettingNames(type, entry) : entry;
}

/** Settings that there are no more: what they did is heard while it is monitored. */
const DROPPED_SETTINGS: Readonly<Record<string, readonly string[]>> = { "de-esser": ["listen"] };

/** Settings of a processor, or an entry that holds them, with today's names. */
export function withSettingNames(type: string, given: unknown): unknown {
  const named = Object.hasOwn(FORMER_SETTINGS, type)
    ? withCurrentNamesThroughout(given, FORMER_SETTINGS[type]!)
    : given;
  return Object.hasOwn(DROPPED_SETTINGS, type) ? without(named, DROPPED_SETTINGS[type]!) : named;
}

/** One processor of a chain with its settings, flat: `{ "type": "gain", "gainDb": 3 }`. */
export const chainEntrySchema = z
  .preprocess(
    withEntryNames,
    z.discriminatedUnion("type", [
      entrySchema(PROCESSORS[0]!),
      ...PROCESSORS.slice(1).map(entrySchema),
      z.strictObject({
        type: z.literal(unavailable.id),
        id: z.string().min(1).max(64).optional(),
        bypass: z.literal(true),
        /** What was wrong with it, in words. */
        reason: z.string(),
        /** The entry as it was found. */
        original: z.record(z.string(), z.unknown()),
      }),
    ]),
  )
  .meta({ id: "ChainEntry" });

/** A stored chain with every entry that cannot be used set aside, so that the rest still opens. */
export const withUnavailable = (chain: readonly unknown[]): unknown[] =>
  chain.map((entry) => {
    const checked = chainEntrySchema.safeParse(entry);
    if (checked.success || typeof entry !== "object" || entry === null) return entry;
    const [issue] = checked.error.issues;
    const found = entry as Record<string, unknown>;
    const known = PROCESSORS.some(({ id }) => id === found["type"]);
    return {
      type: unavailable.id,
      ...(typeof found["id"] === "string" ? { id: found["id"] } : {}),
      bypass: true,
      reason: known
        ? `${processorNamed(String(found["type"])).name}: ${issue?.path.join(".") || "its settings"}: ${issue?.message ?? "cannot be read"}`
        : `There is no processor “${String(found["type"])}” in this version.`,
      original: found,
    };
  });

export interface ChainEntry extends Record<string, unknown> {
  type: string;
  id?: string | undefined;
  bypass: boolean;
  alternateSettings?: Record<string, Setting> | undefined;
  usesAlternate?: boolean | undefined;
  automation?: Record<string, [number, number][]> | undefined;
  about?: About | undefined;
  /** Of one in a lane's chain: the lane that it listens to instead of its own, or "order". */
  key?: string | undefined;
  /** While it is set: what its detector listens to is heard instead. Never kept in a document. */
  monitored?: "detector" | undefined;
}

/** An entry without what changes no byte: its name, its other settings, what is written beside it. */
export const soundingEntry = ({
  id: _,
  alternateSettings: __,
  usesAlternate: ___,
  about: ____,
  ...entry
}: ChainEntry): ChainEntry => entry as ChainEntry;

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

/** The processor of an entry, at work from frame `start` of the item on. */
export function createProcessor(entry: ChainEntry, format: StreamFormat, start: Frames): Processor {
  const definition = processorNamed(entry.type);
  const settings = settingsOf(entry);
  if (entry.monitored === "detector" && definition.createDetector) return definition.createDetector(settings, format);
  const lines = Object.values(entry.automation ?? {}).some((line) => line.length > 0) ? entry.automation : undefined;
  if (!lines || !canAutomate(entry)) return definition.create(settings, format, start);
  return automatedProcessor(
    (moved) => definition.create(moved, format, start, true),
    (seconds) => settingsAt(settings, definition.parameters, lines, seconds),
    format,
    start,
  );
}

/** Whether settings of an entry can move over time as it is set. */
export function canAutomate(entry: ChainEntry): boolean {
  const { automatable = [], canAutomate } = processorNamed(entry.type);
  return automatable.length > 0 && (canAutomate?.(settingsOf(entry)) ?? true);
}

/** Names of the settings of an entry that can be moved over time. */
export function automatableOf(entry: ChainEntry): string[] {
  const { parameters, automatable = [], commonControls } = processorNamed(entry.type);
  if (!canAutomate(entry)) return [];
  const plain = Object.keys(parameters).filter((name) => automatable.includes(name));
  const rows = Object.entries(parameters).flatMap(([list, parameter]) =>
    parameter.kind === "rows"
      ? (entry[list] as readonly unknown[]).flatMap((_, i) =>
          Object.keys(parameter.columns)
            .filter((column) => automatable.includes(column))
            .map((column) => `${list}.${i}.${column}`),
        )
      : [],
  );
  return [...plain, ...rows, ...(commonControls === "none" ? [] : ["inputDb", "outputDb"])];
}
