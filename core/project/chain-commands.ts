/** Edits of chains: those of items, and the programme's, which everything in the running order goes through last. */
import { automatedParameter } from "../processors/automation";
import * as z from "zod";
import {
  aboutSchema,
  chainEntrySchema,
  chainSchema,
  breakpointsSchema,
  automatableOf,
  processorNamed,
  withSettingNames,
  settingsOf,
  type ChainEntry,
} from "../processors";
import { settingSchema, settingWords, type Setting } from "../parameters/parameter";
import { chainOf, chainOwnerSchema, chainPath, ownerName } from "./chain-owners";
import { CommandProblem, define, find, itemIn, moved } from "./command";
import { idSchema, savedPresetSchema, nameSchema, type ProjectDocument } from "./document";
import { hasPath, itemPath, type Path } from "./paths";

const entrySchema = chainEntrySchema as unknown as z.ZodType<ChainEntry>;
const position = z.number().int().nonnegative();
const settingsSchema = z.record(z.string().max(40), settingSchema);

/** @throws CommandProblem */
function chainIn(document: ProjectDocument, owner: string): ChainEntry[] {
  const chain = chainOf(document, owner);
  if (!chain) throw new CommandProblem("What this chain belongs to is no longer in the project.");
  return chain;
}

function entryIn(document: ProjectDocument, owner: string, id: string): ChainEntry {
  const entry = chainIn(document, owner).find((one) => one.id === id);
  if (!entry) throw new CommandProblem("This processor is no longer in the chain.");
  return entry;
}

/** Lines without points are none. */
function setAutomation(entry: ChainEntry, automation: NonNullable<ChainEntry["automation"]>): void {
  const drawn = Object.entries(automation).filter(([, line]) => line.length > 0);
  if (drawn.length > 0) entry.automation = Object.fromEntries(drawn);
  else delete entry.automation;
}

/** For words: never throws. */
const entryOf = (document: ProjectDocument, owner: string, id: string): ChainEntry | undefined =>
  chainOf(document, owner)?.find((entry) => entry.id === id);

function nameOfEntry(document: ProjectDocument, owner: string, id: string): string {
  const entry = entryOf(document, owner, id);
  return entry ? processorNamed(entry.type).name.toLowerCase() : "processor";
}

function setAll(entry: ChainEntry, given: Record<string, Setting>): void {
  const { parameters, name } = processorNamed(entry.type);
  const settings = withSettingNames(entry.type, given) as Record<string, Setting>;
  for (const parameter of Object.keys(settings))
    if (!(parameter in parameters))
      throw new CommandProblem(`The ${name.toLowerCase()} has no parameter "${parameter}".`);
  Object.assign(entry, settings);
}

/** Ids that nothing in a chain has yet. */
const freshIds = (chain: readonly ChainEntry[], prefix: string): ChainEntry[] =>
  chain.map((entry, n) => ({ ...entry, id: `${prefix}-${n}` }));

const nameOfVersion = (document: ProjectDocument, { item, version }: { item: string; version: string }): string =>
  document.items.find(({ id }) => id === item)?.versions?.find(({ id }) => id === version)?.name ?? "of before";

const entryPath = (owner: string, entry: string | undefined): Path => `${chainPath(owner)}/${entry ?? "#none"}`;
const settingPath = ({ item, entry }: { item: string; entry: string }, parameter: string): Path =>
  `${entryPath(item, entry)}/settings/${parameter}`;
const versionPath = (item: string, version: string): Path => `${itemPath(item)}/versions/${version}`;

const entryFields = { item: chainOwnerSchema, entry: idSchema };

export const CHAIN_COMMANDS = {
  addProcessor: define({
    fields: z.strictObject({ item: chainOwnerSchema, entry: entrySchema, at: position.optional() }),
    apply(document, fields) {
      const chain = chainIn(document, fields.item);
      if (!fields.entry.id) throw new CommandProblem("A processor in a project needs an id.");
      if (chain.some(({ id }) => id === fields.entry.id))
        throw new CommandProblem("This processor is already in the chain.");
      chain.splice(fields.at ?? chain.length, 0, fields.entry);
    },
    label: (fields, before) =>
      `Add ${processorNamed(fields.entry.type).name.toLowerCase()} to ${ownerName(before, fields.item)}`,
    access: ({ item, entry }) => ({ writes: [entryPath(item, entry.id)] }),
  }),
  setParameter: define({
    fields: z.strictObject({ ...entryFields, parameter: z.string().max(40), setting: settingSchema }),
    apply: (document, fields) =>
      setAll(entryIn(document, fields.item, fields.entry), { [fields.parameter]: fields.setting }),
    label(fields, before) {
      const entry = entryOf(before, fields.item, fields.entry);
      const parameter = entry ? processorNamed(entry.type).parameters[fields.parameter] : undefined;
      return settingWords(parameter, fields.setting, fields.parameter);
    },
    access: (fields) => ({ writes: [settingPath(fields, fields.parameter)] }),
  }),
  setSettings: define({
    fields: z.strictObject({
      ...entryFields,
      settings: settingsSchema,
      /** Lines of all settings that move over time; absent where those stay. */
      automation: z.record(z.string().max(60), breakpointsSchema).optional(),
      what: z.string().max(120),
    }),
    apply(document, { item, entry: id, settings, automation }) {
      const entry = entryIn(document, item, id);
      setAll(entry, settings);
      if (automation) setAutomation(entry, automation);
    },
    label: (fields, before) => `${nameOfEntry(before, fields.item, fields.entry)}: ${fields.what}`,
    access: (fields) => ({
      writes: [
        ...Object.keys(fields.settings).map((parameter) => settingPath(fields, parameter)),
        ...(fields.automation ? [`${entryPath(fields.item, fields.entry)}/automation`] : []),
      ],
    }),
  }),
  flipSettings: define({
    fields: z.strictObject(entryFields),
    apply(document, fields) {
      const entry = entryIn(document, fields.item, fields.entry);
      const now = settingsOf(entry);
      Object.assign(entry, entry.alternateSettings ?? now);
      entry.alternateSettings = now;
      entry.usesAlternate = !entry.usesAlternate;
    },
    label: (fields, before) => `Flip the settings of the ${nameOfEntry(before, fields.item, fields.entry)}`,
    access: ({ item, entry }) => ({
      writes: ["settings", "alternateSettings", "usesAlternate"].map((part) => `${entryPath(item, entry)}/${part}`),
    }),
  }),
  copySettings: define({
    fields: z.strictObject(entryFields),
    apply(document, fields) {
      const entry = entryIn(document, fields.item, fields.entry);
      entry.alternateSettings = settingsOf(entry);
    },
    label: (fields, before) =>
      `Copy the settings of the ${nameOfEntry(before, fields.item, fields.entry)} to the other`,
    access: ({ item, entry }) => ({
      reads: [`${entryPath(item, entry)}/settings`],
      writes: [`${entryPath(item, entry)}/alternateSettings`],
    }),
  }),
  setLine: define({
    fields: z.strictObject({ ...entryFields, parameter: z.string().max(60), line: breakpointsSchema }),
    apply(document, fields) {
      const entry = entryIn(document, fields.item, fields.entry);
      if (!automatableOf(entry).includes(fields.parameter))
        throw new CommandProblem(
          `This setting of the ${processorNamed(entry.type).name.toLowerCase()} does not move over time.`,
        );
      setAutomation(entry, { ...entry.automation, [fields.parameter]: fields.line });
    },
    label(fields, before) {
      const entry = entryOf(before, fields.item, fields.entry);
      const parameter = entry && automatedParameter(processorNamed(entry.type).parameters, fields.parameter);
      const what = parameter?.label.toLowerCase() ?? "a setting";
      return `${nameOfEntry(before, fields.item, fields.entry)}: ${fields.line.length === 0 ? "no automation" : "automation"} of ${what}`;
    },
    access: ({ item, entry, parameter }) => ({ writes: [`${entryPath(item, entry)}/automation/${parameter}`] }),
  }),
  bypass: define({
    fields: z.strictObject({ ...entryFields, bypass: z.boolean() }),
    apply: (document, fields) => void (entryIn(document, fields.item, fields.entry).bypass = fields.bypass),
    label: (fields, before) =>
      `${fields.bypass ? "Bypass" : "Switch on"} the ${nameOfEntry(before, fields.item, fields.entry)}`,
    access: ({ item, entry }) => ({ writes: [`${entryPath(item, entry)}/bypass`] }),
  }),
  /** What a processor of a lane's chain listens to; `null` for what it works on. */
  setKey: define({
    fields: z.strictObject({ ...entryFields, key: idSchema.nullable() }),
    apply(document, fields) {
      const entry = entryIn(document, fields.item, fields.entry);
      const { takesKey, name } = processorNamed(entry.type);
      if (!takesKey) throw new CommandProblem(`The ${name.toLowerCase()} takes no external key.`);
      if (fields.key === null) delete entry.key;
      else entry.key = fields.key;
    },
    label: (fields, before) => `Key of the ${nameOfEntry(before, fields.item, fields.entry)}`,
    access: ({ item, entry }) => ({ writes: [`${entryPath(item, entry)}/key`] }),
  }),
  bypassChain: define({
    fields: z.strictObject({ item: chainOwnerSchema, bypass: z.boolean() }),
    apply(document, fields) {
      for (const entry of chainIn(document, fields.item)) entry.bypass = fields.bypass;
    },
    label: (fields, before) =>
      `${fields.bypass ? "Bypass" : "Switch on"} the whole chain of ${ownerName(before, fields.item)}`,
    access: ({ item }) => ({ writes: [`${chainPath(item)}/*/bypass`] }),
  }),
  moveProcessor: define({
    fields: z.strictObject({ ...entryFields, to: position }),
    apply(document, fields) {
      const chain = chainIn(document, fields.item);
      moved(chain, chain.indexOf(entryIn(document, fields.item, fields.entry)), fields.to);
    },
    label: (fields, before) => `Move the ${nameOfEntry(before, fields.item, fields.entry)} to place ${fields.to + 1}`,
    access: ({ item, entry }) => ({ reads: [hasPath(entryPath(item, entry))], writes: [`${chainPath(item)}/#order`] }),
  }),
  replaceProcessor: define({
    fields: z.strictObject({ ...entryFields, with: entrySchema }),
    apply(document, fields) {
      const chain = chainIn(document, fields.item);
      chain[chain.indexOf(entryIn(document, fields.item, fields.entry))] = fields.with;
    },
    label: (fields, before) =>
      `Replace the ${nameOfEntry(before, fields.item, fields.entry)} by ${processorNamed(fields.with.type).name.toLowerCase()}`,
    access: ({ item, entry, with: other }) => ({ writes: [entryPath(item, entry), entryPath(item, other.id)] }),
  }),
  removeProcessor: define({
    fields: z.strictObject(entryFields),
    apply(document, fields) {
      const chain = chainIn(document, fields.item);
      chain.splice(chain.indexOf(entryIn(document, fields.item, fields.entry)), 1);
    },
    label: (fields, before) => `Remove the ${nameOfEntry(before, fields.item, fields.entry)}`,
    access: ({ item, entry }) => ({ writes: [entryPath(item, entry)] }),
  }),
  setChain: define({
    /** `prefix` makes ids for the entries, the same wherever the command is applied. */
    fields: z.strictObject({ items: z.array(chainOwnerSchema).min(1), chain: chainSchema, prefix: idSchema }),
    apply(document, fields) {
      fields.items.forEach((owner, n) => {
        const chain = chainIn(document, owner);
        chain.splice(0, chain.length, ...freshIds(fields.chain, `${fields.prefix}-${n}`));
      });
    },
    label: ({ items }, before) =>
      items.length === 1 ? `Put a chain on ${ownerName(before, items[0]!)}` : `Put a chain on ${items.length} items`,
    access: ({ items }) => ({ writes: items.map(chainPath) }),
  }),
  setAbout: define({
    fields: z.strictObject({ ...entryFields, about: aboutSchema }),
    apply: (document, fields) => void (entryIn(document, fields.item, fields.entry).about = fields.about),
    label: (fields, before) => `Notes on the ${nameOfEntry(before, fields.item, fields.entry)}`,
    access: ({ item, entry }) => ({ writes: [`${entryPath(item, entry)}/about`] }),
  }),
  keepVersion: define({
    fields: z.strictObject({ item: idSchema, id: idSchema, name: nameSchema }),
    apply(document, { item, id, name }) {
      const found = itemIn(document, item);
      const versions = found.versions ?? [];
      if (versions.some((one) => one.id === id)) throw new CommandProblem("This version is already kept.");
      found.versions = [...versions, { id, name, chain: found.chain.map((entry) => ({ ...entry })) }];
    },
    label: ({ item, name }, before) => `Keep the chain of ${ownerName(before, item)} as “${name}”`,
    access: ({ item, id }) => ({ reads: [chainPath(item)], writes: [versionPath(item, id)] }),
  }),
  takeVersion: define({
    /** `prefix` makes ids for the entries, the same wherever the command is applied. */
    fields: z.strictObject({ item: idSchema, version: idSchema, prefix: idSchema }),
    apply(document, fields) {
      const item = itemIn(document, fields.item);
      item.chain = freshIds(find(item.versions ?? [], fields.version, "version").chain, fields.prefix);
    },
    label: (fields, before) => `Put the chain “${nameOfVersion(before, fields)}” to work`,
    access: ({ item, version }) => ({ reads: [versionPath(item, version)], writes: [chainPath(item)] }),
  }),
  removeVersion: define({
    fields: z.strictObject({ item: idSchema, version: idSchema }),
    apply(document, fields) {
      const item = itemIn(document, fields.item);
      const version = find(item.versions ?? [], fields.version, "version");
      item.versions = item.versions?.filter(({ id }) => id !== version.id);
    },
    label: (fields, before) => `Forget the chain “${nameOfVersion(before, fields)}”`,
    access: ({ item, version }) => ({ writes: [versionPath(item, version)] }),
  }),
  keepPreset: define({
    fields: z.strictObject({ preset: savedPresetSchema }),
    apply(document, { preset }) {
      if (document.presets.some(({ id }) => id === preset.id)) throw new CommandProblem("This preset is already kept.");
      document.presets.push(preset);
    },
    label: ({ preset }) => `Keep the preset “${preset.name}”`,
    access: ({ preset }) => ({ writes: [`presets/${preset.id}`] }),
  }),
  removePreset: define({
    fields: z.strictObject({ preset: idSchema }),
    apply(document, fields) {
      const preset = find(document.presets, fields.preset, "preset");
      document.presets = document.presets.filter(({ id }) => id !== preset.id);
    },
    label: (fields, before) =>
      `Forget the preset “${before.presets.find(({ id }) => id === fields.preset)?.name ?? "of before"}”`,
    access: ({ preset }) => ({ writes: [`presets/${preset}`] }),
  }),
} as const;
