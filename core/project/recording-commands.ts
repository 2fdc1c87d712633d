/** Edits of which recordings items are made of: later ones in the place of earlier ones, and mixes beside the main one. */
import * as z from "zod";
import { clipsSchema } from "../edit-list/clip";
import { breakpointsSchema, chainSchema, processorNamed } from "../processors";
import { referenceSchema } from "../programme/programme";
import { repairNamed, repairsSchema } from "../repair";
import { CommandProblem, define, itemIn, nameOfItem } from "./command";
import { hashSchema, idSchema, MAIN_MIX, markerSchema, mixSchema, type Item, type ProjectDocument } from "./document";
import { chainPath } from "./chain-owners";
import { switchedToMix } from "./mixes";
import { itemPath, referencePath, type Path } from "./paths";

/** What is done to the item, moved along with its recording. */
const movedSchema = z.strictObject({
  clips: clipsSchema.nullable(),
  markers: z.array(markerSchema).max(20_000),
  repairs: repairsSchema,
  chain: chainSchema,
  envelope: breakpointsSchema.nullable(),
});

const replacementSchema = z.strictObject({
  item: idSchema,
  source: hashSchema,
  /** The item that the later recording came in as, which is not needed any more. */
  arrived: idSchema.optional(),
  /** Name of the mix that it becomes; absent where it takes the place of the one in force. */
  mix: mixSchema.shape.name.optional(),
  /** Absent for a mix: it shares what is done to the item. */
  moved: movedSchema.optional(),
  /** Frames by which the same sound lies later in it than in the one in force. */
  shift: z.number().int().optional(),
  /** The earlier recording, laid beside the item to be compared with. */
  reference: referenceSchema.optional(),
});
export type Replacement = z.infer<typeof replacementSchema>;

function refuseUnlessThere(document: ProjectDocument, source: string): void {
  if (!document.sources.some(({ hash }) => hash === source))
    throw new CommandProblem("This recording is not in the project.");
}

/** By how much the mix in force lies later than the recording that the item came with. */
const shiftOf = ({ mixes, source }: Item): number => mixes?.find((mix) => mix.source === source)?.shift ?? 0;

/** Puts in force what was moved along with a recording. */
function takeMoved(item: Item, { clips, envelope, ...rest }: z.infer<typeof movedSchema>): void {
  Object.assign(item, rest);
  if (clips) item.clips = clips;
  else delete item.clips;
  if (envelope) item.placement = { ...item.placement, envelope };
}

const MOVED_FIELDS = ["clips", "markers", "repairs", "chain", "placement/envelope"];

/** Mixes of an item, which begin with the recording that it has. */
const mixesOf = ({ mixes, source }: Item) => mixes ?? [{ name: MAIN_MIX, source }];

/** Whether repairs and processors are switched on. */
const switchesOf = (item: string, work = "*"): Path[] => [
  `${itemPath(item)}/repairs/${work}/enabled`,
  `${chainPath(item)}/${work}/bypass`,
];

export const RECORDING_COMMANDS = {
  /** Later recordings are taken in, all in one edit. */
  replaceRecordings: define({
    fields: z.strictObject({ replacements: z.array(replacementSchema).min(1).max(2000) }),
    apply(document, { replacements }) {
      for (const { item: id, source, arrived, mix, moved, shift, reference } of replacements) {
        refuseUnlessThere(document, source);
        const item = itemIn(document, id);
        if (mix !== undefined) {
          const others = mixesOf(item).filter(({ name }) => name !== mix);
          const leftOut = item.mixes?.find(({ name }) => name === mix)?.leftOut;
          if (others.length === 0) throw new CommandProblem("An item needs another mix beside this one.");
          const total = shiftOf(item) + (shift ?? 0);
          item.mixes = [
            ...others,
            { name: mix, source, ...(total === 0 ? {} : { shift: total }), ...(leftOut ? { leftOut } : {}) },
          ];
        } else {
          const before = item.source;
          const total = shiftOf(item) + (shift ?? 0);
          const slot = { source, ...(total === 0 ? {} : { shift: total }) };
          item.mixes = item.mixes?.map(({ shift: earlier, ...mix }) =>
            mix.source === before
              ? { ...mix, ...slot }
              : { ...mix, ...(earlier === undefined ? {} : { shift: earlier }) },
          );
          item.source = source;
        }
        if (moved && mix === undefined) takeMoved(item, moved);
        if (reference) {
          refuseUnlessThere(document, reference.source);
          document.programme.references.push(reference);
        }
        if (arrived !== undefined && arrived !== id)
          document.items = document.items.filter((one) => one.id !== arrived);
      }
    },
    label({ replacements }, before) {
      const [first] = replacements;
      const what = first!.mix ? `the mix “${first!.mix}”` : "a later recording";
      return replacements.length === 1
        ? `“${nameOfItem(before, first!.item)}”: ${what}`
        : `Take in ${replacements.length} later recordings`;
    },
    access: ({ replacements }) => ({
      writes: replacements.flatMap(({ item, arrived, mix, moved, reference }) => [
        ...["source", "mixes"].map((field) => `${itemPath(item)}/${field}`),
        ...(mix === undefined && moved ? MOVED_FIELDS.map((field) => `${itemPath(item)}/${field}`) : []),
        ...(arrived === undefined ? [] : [itemPath(arrived)]),
        ...(reference ? [referencePath(reference.id)] : []),
      ]),
    }),
  }),
  /** Which mix of an item is in force. */
  setMix: define({
    /** `moved`: what is done to the item, where this mix lies at another place. */
    fields: z.strictObject({ item: idSchema, mix: mixSchema.shape.name, moved: movedSchema.optional() }),
    apply(document, { item: id, mix, moved }) {
      const item = itemIn(document, id);
      const found = mixesOf(item).find(({ name }) => name === mix);
      if (!found) throw new CommandProblem(`This item has no mix “${mix}”.`);
      if (moved) takeMoved(item, moved);
      Object.assign(item, switchedToMix(item, found.source));
      item.source = found.source;
    },
    label: ({ item, mix }, before) => `“${nameOfItem(before, item)}”: mix “${mix}”`,
    access: ({ item, moved }) => ({
      reads: [`${itemPath(item)}/mixes`],
      writes: [
        ...["source", ...(moved ? MOVED_FIELDS : [])].map((field) => `${itemPath(item)}/${field}`),
        ...switchesOf(item),
      ],
    }),
  }),
  /** A repair or processor that holds for all mixes but one. */
  leaveOutOfMix: define({
    fields: z.strictObject({
      item: idSchema,
      mix: mixSchema.shape.name,
      /** Id of the repair or processor. */
      work: idSchema,
      leftOut: z.boolean(),
    }),
    apply(document, { item: id, mix: name, work, leftOut }) {
      const item = itemIn(document, id);
      const mix = mixesOf(item).find((one) => one.name === name);
      const step = item.repairs.find((one) => one.id === work);
      const entry = item.chain.find((one) => one.id === work);
      if (!mix) throw new CommandProblem(`This item has no mix “${name}”.`);
      if (!step && !entry) throw new CommandProblem("This repair or processor is not there any more.");
      const others = (mix.leftOut ?? []).filter((one) => one !== work);
      mix.leftOut = leftOut ? [...others, work] : others;
      if (mix.leftOut.length === 0) delete mix.leftOut;
      if (mix.source !== item.source) return;
      if (step) step.enabled = !leftOut;
      if (entry) entry.bypass = leftOut;
    },
    label({ item, mix, work, leftOut }, before) {
      const found = before.items.find(({ id }) => id === item);
      const step = found?.repairs.find(({ id }) => id === work);
      const entry = found?.chain.find(({ id }) => id === work);
      const what = step ? repairNamed(step.type).name : entry ? processorNamed(entry.type).name : work;
      return `“${nameOfItem(before, item)}”: ${what} ${leftOut ? "left out of" : "used in"} the mix “${mix}”`;
    },
    access: ({ item, work }) => ({
      reads: [`${itemPath(item)}/source`],
      writes: [`${itemPath(item)}/mixes`, ...switchesOf(item, work)],
    }),
  }),
  removeMix: define({
    fields: z.strictObject({ item: idSchema, mix: mixSchema.shape.name }),
    apply(document, { item: id, mix }) {
      const item = itemIn(document, id);
      const gone = item.mixes?.find(({ name }) => name === mix);
      if (!gone || !item.mixes) throw new CommandProblem(`This item has no mix “${mix}”.`);
      if (gone.source === item.source) throw new CommandProblem("This mix is in force: choose another one first.");
      item.mixes = item.mixes.filter(({ name }) => name !== mix);
      if (item.mixes.length < 2) delete item.mixes;
    },
    label: ({ item, mix }, before) => `“${nameOfItem(before, item)}”: remove the mix “${mix}”`,
    access: ({ item }) => ({ reads: [`${itemPath(item)}/source`], writes: [`${itemPath(item)}/mixes`] }),
  }),
};
