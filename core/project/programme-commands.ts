/** Edits of the programme: places of items, lanes, markers and what holds for the whole. */
import * as z from "zod";
import { placementChangesSchema, placementOf, placementSchema } from "../programme/placement";
import { laneSchema, programmeMarkerSchema, programmeSchema, referenceSchema } from "../programme/programme";
import { CommandProblem, define, find, itemIn, moved, nameOfItem } from "./command";
import { idSchema, type ProjectDocument } from "./document";
import { hasPath, itemPath, referencePath } from "./paths";

const laneFields = laneSchema.shape;
const laneChangesSchema = z
  .strictObject({
    name: laneFields.name,
    gainDb: laneFields.gainDb.unwrap(),
    mute: z.boolean(),
    solo: z.boolean(),
    chain: laneFields.chain.unwrap(),
    envelope: laneFields.envelope.unwrap(),
    ducker: laneFields.ducker.unwrap(),
  })
  .partial();

const wholeFields = programmeSchema.shape;
const programmeChangesSchema = z
  .strictObject({
    headSeconds: wholeFields.headSeconds.unwrap(),
    tailSeconds: wholeFields.tailSeconds.unwrap(),
    pauses: wholeFields.pauses.unwrap(),
    cdRule: z.boolean(),
  })
  .partial();

const fieldsOf = (changes: object): string[] =>
  Object.entries(changes).flatMap(([name, value]) => (value === undefined ? [] : [name]));
const lanePath = (id: string) => `programme/lanes/${id}`;
const markerPath = (id: string) => `programme/markers/${id}`;

function laneIn(document: ProjectDocument, id: string) {
  return find(document.programme.lanes, id, "lane");
}

export const PROGRAMME_COMMANDS = {
  placeItems: define({
    fields: z.strictObject({
      items: z
        .array(z.strictObject({ item: idSchema, changes: placementChangesSchema }))
        .min(1)
        .max(2000),
      /** What it does, for the history: "pause 2.0 s". */
      what: z.string().trim().min(1).max(200),
    }),
    apply(document, { items }) {
      for (const { item: id, changes } of items) {
        const item = itemIn(document, id);
        if (changes.lane) laneIn(document, changes.lane);
        if (changes.anchor) itemIn(document, changes.anchor);
        if (changes.anchor === id) throw new CommandProblem("An item cannot move with itself.");
        const placement: Record<string, unknown> = { ...item.placement, ...changes };
        for (const fade of ["fadeIn", "fadeOut"]) if (placement[fade] === null) delete placement[fade];
        item.placement = placementSchema.parse(placement);
      }
    },
    label: ({ items, what }, before) =>
      `${items.length === 1 ? `“${nameOfItem(before, items[0]!.item)}”` : `${items.length} items`}: ${what}`,
    access: ({ items }) => ({
      reads: items.flatMap(({ item, changes }) => [
        hasPath(itemPath(item)),
        ...(changes.lane ? [hasPath(lanePath(changes.lane))] : []),
        ...(changes.anchor ? [hasPath(itemPath(changes.anchor))] : []),
      ]),
      writes: items.flatMap(({ item, changes }) =>
        fieldsOf(changes).map((field) => `${itemPath(item)}/placement/${field}`),
      ),
    }),
  }),
  setProgramme: define({
    fields: z.strictObject({ changes: programmeChangesSchema, what: z.string().trim().min(1).max(200) }),
    apply: (document, { changes }) => void Object.assign(document.programme, changes),
    label: ({ what }) => `Programme: ${what}`,
    access: ({ changes }) => ({ writes: fieldsOf(changes).map((field) => `programme/${field}`) }),
  }),
  addLane: define({
    fields: z.strictObject({ lane: laneSchema }),
    apply(document, fields) {
      const { lanes } = document.programme;
      if (lanes.some(({ id }) => id === fields.lane.id)) throw new CommandProblem("This lane is already there.");
      lanes.push(fields.lane);
    },
    label: (fields) => `Add the lane “${fields.lane.name}”`,
    access: (fields) => ({ writes: [lanePath(fields.lane.id)] }),
  }),
  changeLane: define({
    fields: z.strictObject({ lane: idSchema, changes: laneChangesSchema }),
    apply: (document, fields) => void Object.assign(laneIn(document, fields.lane), fields.changes),
    label: (fields, before) =>
      `Change the lane “${before.programme.lanes.find(({ id }) => id === fields.lane)?.name ?? fields.lane}”`,
    access: (fields) => ({
      reads: [hasPath(lanePath(fields.lane))],
      writes: fieldsOf(fields.changes).map((field) => `${lanePath(fields.lane)}/${field}`),
    }),
  }),
  moveLane: define({
    fields: z.strictObject({ lane: idSchema, to: z.number().int().nonnegative() }),
    apply(document, fields) {
      const { lanes } = document.programme;
      moved(lanes, lanes.indexOf(laneIn(document, fields.lane)), fields.to);
    },
    label: ({ to }) => `Move a lane to place ${to + 1}`,
    access: (fields) => ({ reads: [hasPath(lanePath(fields.lane))], writes: ["programme/lanes/#order"] }),
  }),
  removeLane: define({
    fields: z.strictObject({ lane: idSchema }),
    apply(document, fields) {
      laneIn(document, fields.lane);
      const used = document.items.filter((item) => placementOf(item).lane === fields.lane);
      if (used.length > 0)
        throw new CommandProblem(`“${used[0]!.name}” lies on this lane: take what lies on it elsewhere first.`);
      document.programme.lanes = document.programme.lanes.filter(({ id }) => id !== fields.lane);
    },
    label: (fields, before) =>
      `Remove the lane “${before.programme.lanes.find(({ id }) => id === fields.lane)?.name ?? fields.lane}”`,
    access: (fields) => ({ reads: ["items/*/placement/lane"], writes: [lanePath(fields.lane)] }),
  }),
  /** Lays a recording beside the programme, or moves one that lies there. */
  setReference: define({
    fields: z.strictObject({ reference: referenceSchema }),
    apply({ programme, sources, items }, { reference }) {
      if (!sources.some(({ hash }) => hash === reference.source))
        throw new CommandProblem("This recording is not in the project.");
      if (reference.item !== null && !items.some(({ id }) => id === reference.item))
        throw new CommandProblem("The item that the reference belongs to is not there any more.");
      const at = programme.references.findIndex(({ id }) => id === reference.id);
      if (at < 0) programme.references.push(reference);
      else programme.references[at] = reference;
    },
    label: ({ reference }, before) =>
      reference.item === null ? "Reference of the programme" : `Reference of “${nameOfItem(before, reference.item)}”`,
    access: ({ reference }) => ({
      reads: reference.item === null ? [] : [hasPath(itemPath(reference.item))],
      writes: [referencePath(reference.id)],
    }),
  }),
  removeReference: define({
    fields: z.strictObject({ reference: idSchema }),
    apply({ programme }, { reference }) {
      programme.references = programme.references.filter(({ id }) => id !== reference);
    },
    label: () => "Remove a reference",
    access: ({ reference }) => ({ writes: [referencePath(reference)] }),
  }),
  addProgrammeMarkers: define({
    fields: z.strictObject({ markers: z.array(programmeMarkerSchema).min(1).max(5000) }),
    apply({ programme }, fields) {
      const known = new Set(programme.markers.map(({ id }) => id));
      if (fields.markers.some(({ id }) => known.has(id))) throw new CommandProblem("This marker is already there.");
      programme.markers.push(...fields.markers);
      programme.markers.sort((a, b) => a.start - b.start);
    },
    label: ({ markers }) =>
      markers.length === 1 ? "Add a marker of the programme" : `Add ${markers.length} markers of the programme`,
    access: ({ markers }) => ({ writes: markers.map(({ id }) => markerPath(id)) }),
  }),
  setProgrammeMarker: define({
    fields: z.strictObject({ marker: programmeMarkerSchema }),
    apply({ programme }, { marker }) {
      find(programme.markers, marker.id, "marker");
      programme.markers = programme.markers.map((one) => (one.id === marker.id ? marker : one));
      programme.markers.sort((a, b) => a.start - b.start);
    },
    label: ({ marker }) => `Change the programme's marker ${marker.name}`.trim(),
    access: ({ marker }) => ({ writes: [markerPath(marker.id)] }),
  }),
  removeProgrammeMarkers: define({
    fields: z.strictObject({ markers: z.array(idSchema).min(1) }),
    apply({ programme }, { markers }) {
      programme.markers = programme.markers.filter(({ id }) => !markers.includes(id));
    },
    label: ({ markers }) =>
      markers.length === 1 ? "Remove a marker of the programme" : `Remove ${markers.length} markers of the programme`,
    access: ({ markers }) => ({ writes: markers.map(markerPath) }),
  }),
};
