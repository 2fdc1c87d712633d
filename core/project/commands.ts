/**
 * Every edit is one of these: a named change that yields the next document. A command is data, so that it can be
 * sent, stored, and tried again on a document that has moved on.
 */
import * as z from "zod";
import { withCurrentNames } from "../parameters/former-names";
import { CommandProblem, define, find, itemIn, type CommandDefinition } from "./command";
import { ITEM_COMMANDS } from "./item-commands";
import { EDIT_LIST_COMMANDS } from "./edit-list-commands";
import { CHAIN_COMMANDS } from "./chain-commands";
import { DELIVER_COMMANDS } from "./deliver-commands";
import { PROGRAMME_COMMANDS } from "./programme-commands";
import { settleLeftOut } from "./mixes";
import { RECORDING_COMMANDS } from "./recording-commands";
import { REPAIR_COMMANDS } from "./repair-commands";
import {
  idSchema,
  itemSchema,
  markerSchema,
  nameSchema,
  projectSchema,
  projectSourceSchema,
  tempoSchema,
  type ProjectDocument,
} from "./document";
import { EVERYTHING, itemPath, type Access } from "./paths";

const markerPath = (item: string, marker: string) => `${itemPath(item)}/markers/${marker}`;

export const COMMANDS = {
  rename: define({
    fields: z.strictObject({ name: nameSchema }),
    apply: (document, { name }) => void (document.name = name),
    label: ({ name }) => `Rename the project to “${name}”`,
    access: () => ({ writes: ["name"] }),
  }),
  addSource: define({
    fields: z.strictObject({ source: projectSourceSchema, item: itemSchema }),
    apply(document, { source, item: added }) {
      if (!document.sources.some(({ hash }) => hash === source.hash)) document.sources.push(source);
      if (document.items.some(({ id }) => id === added.id))
        throw new CommandProblem("This item is already in the project.");
      document.items.push(added);
    },
    label: ({ source }) => `Add “${source.name}”`,
    access: ({ source, item }) => ({ writes: [`sources/${source.hash}`, itemPath(item.id)] }),
  }),
  ...ITEM_COMMANDS,
  addMarkers: define({
    fields: z.strictObject({ item: idSchema, markers: z.array(markerSchema).min(1).max(20_000) }),
    apply(document, fields) {
      const { markers } = itemIn(document, fields.item);
      const known = new Set(markers.map(({ id }) => id));
      if (fields.markers.some(({ id }) => known.has(id))) throw new CommandProblem("This marker is already there.");
      markers.push(...fields.markers);
      markers.sort((a, b) => a.start - b.start);
    },
    label: ({ markers }) =>
      markers.length === 1
        ? `Add ${markers[0]!.name ? `the marker “${markers[0]!.name}”` : "a marker"}`
        : `Add ${markers.length} markers`,
    access: ({ item, markers }) => ({ writes: markers.map(({ id }) => markerPath(item, id)) }),
  }),
  setMarker: define({
    fields: z.strictObject({ item: idSchema, marker: markerSchema }),
    apply(document, fields) {
      const owner = itemIn(document, fields.item);
      find(owner.markers, fields.marker.id, "marker");
      owner.markers = owner.markers.map((marker) => (marker.id === fields.marker.id ? fields.marker : marker));
      owner.markers.sort((a, b) => a.start - b.start);
    },
    label: ({ marker }) => `Change marker ${marker.name || marker.kind}`,
    access: ({ item, marker }) => ({ writes: [markerPath(item, marker.id)] }),
  }),
  removeMarkers: define({
    fields: z.strictObject({ item: idSchema, markers: z.array(idSchema).min(1) }),
    apply(document, fields) {
      const owner = itemIn(document, fields.item);
      const gone = new Set(fields.markers);
      owner.markers = owner.markers.filter(({ id }) => !gone.has(id));
    },
    label: ({ markers }) => (markers.length === 1 ? "Remove a marker" : `Remove ${markers.length} markers`),
    access: ({ item, markers }) => ({ writes: markers.map((id) => markerPath(item, id)) }),
  }),
  ...EDIT_LIST_COMMANDS,
  ...CHAIN_COMMANDS,
  ...REPAIR_COMMANDS,
  setTempo: define({
    fields: z.strictObject({ item: idSchema, tempo: tempoSchema.nullable() }),
    apply(document, fields) {
      const owner = itemIn(document, fields.item);
      if (fields.tempo) owner.tempo = fields.tempo;
      else delete owner.tempo;
    },
    label: ({ tempo }) => (tempo ? `Tempo ${tempo.beatsPerMinute} beats a minute` : "No tempo"),
    access: ({ item }) => ({ writes: [`${itemPath(item)}/tempo`] }),
  }),
  ...PROGRAMME_COMMANDS,
  ...RECORDING_COMMANDS,
  ...DELIVER_COMMANDS,
} as const;

export { CommandProblem };

type Definitions = typeof COMMANDS;
export type CommandName = keyof Definitions;
export type Command = { [Name in CommandName]: { type: Name } & z.infer<Definitions[Name]["fields"]> }[CommandName];

/** What each command is sent as. */
export const commandSchemas = (): z.ZodType[] =>
  Object.entries(COMMANDS).map(([type, { fields }]) =>
    z.strictObject({ type: z.literal(type), ...(fields as z.ZodObject).shape }).meta({ id: `${type}Command` }),
  );

/** Fields by former names: edits that waited in a browser, or lie in the history, while the application was renewed. */
const FORMER_FIELDS = { pieces: "clips", on: "enabled" };

/** Splits a command into its definition and its checked fields. @throws ZodError, CommandProblem */
function resolve(command: { type: string }) {
  const { type, ...fields } = command;
  if (!Object.hasOwn(COMMANDS, type)) throw new CommandProblem(`There is no command "${type}".`);
  // The table pairs each name with its own fields; the wider type is safe once they are parsed.
  const definition = COMMANDS[type as CommandName] as CommandDefinition;
  return { definition, fields: definition.fields.parse(withCurrentNames(fields, FORMER_FIELDS)) };
}

/** The command with its fields checked. @throws ZodError, CommandProblem */
export function parseCommand(command: { type: string }): Command {
  return { type: command.type, ...(resolve(command).fields as object) } as Command;
}

/** The next document, checked whole. `document` stays as it is. @throws CommandProblem, ZodError */
export function applyCommand(document: ProjectDocument, command: { type: string }): ProjectDocument {
  const { definition, fields } = resolve(command);
  const next = JSON.parse(JSON.stringify(document)) as ProjectDocument;
  definition.apply(next, fields);
  for (const item of next.items) settleLeftOut(item);
  return projectSchema.parse(next);
}

/** A command in words, for the history. */
export function commandLabel(command: { type: string }, before: ProjectDocument): string {
  const { definition, fields } = resolve(command);
  return definition.label(fields, before);
}

/** What a command relies on and changes. One that was stored by another version and is not known may change anything. */
export function commandAccess(command: { type: string }): Access {
  try {
    const { definition, fields } = resolve(command);
    return definition.access(fields);
  } catch {
    return EVERYTHING;
  }
}
