/** Edits of an item's repairs. */
import * as z from "zod";
import { counted } from "../audio/format";
import { repairNamed, repairStepSchema, type RepairStep } from "../repair";
import { CommandProblem, define, find, itemIn, moved, nameOfItem } from "./command";
import { idSchema, type ProjectDocument } from "./document";
import { hasPath, itemPath, type Path } from "./paths";

const stepsSchema = z.array(repairStepSchema).min(1).max(64);
const severalSchema = z.array(idSchema).min(1).max(64);
const own = { item: idSchema, step: idSchema };
const stepPath = (item: string, step: string): Path => `${itemPath(item)}/repairs/${step}`;

/** A step stays the one that it is. */
const FIXED = ["id", "type"];
const changesSchema = z
  .record(z.string().max(40), z.unknown())
  .refine((changes) => FIXED.every((field) => !(field in changes)), "a step's id and type stay as they are");

const stepOf = (document: ProjectDocument, item: string, step: string): RepairStep =>
  find(itemIn(document, item).repairs as (RepairStep & { id: string })[], step, "repair");

const nameOfStep = (document: ProjectDocument, item: string, step: string): string => {
  const type = document.items.find(({ id }) => id === item)?.repairs.find(({ id }) => id === step)?.type;
  return type ? repairNamed(type).name.toLowerCase() : "repair";
};

export const REPAIR_COMMANDS = {
  addRepairs: define({
    fields: z.strictObject({ item: idSchema, steps: stepsSchema, at: z.number().int().nonnegative().optional() }),
    apply(document, fields) {
      const { repairs } = itemIn(document, fields.item);
      for (const step of fields.steps) {
        if (!step.id) throw new CommandProblem("A repair in a project needs an id.");
        if (repairs.some(({ id }) => id === step.id)) throw new CommandProblem("This repair is already there.");
      }
      repairs.splice(fields.at ?? repairs.length, 0, ...fields.steps);
    },
    label: ({ item, steps }, before) =>
      `Repair “${nameOfItem(before, item)}”: ${steps.map(({ type }) => repairNamed(type).name.toLowerCase()).join(", ")}`,
    access: ({ item, steps }) => ({ writes: steps.map(({ id }) => stepPath(item, id ?? "#none")) }),
  }),
  /** Changes fields of a step: settings, where it applies, what it learned; `null` takes a field away. */
  setRepair: define({
    fields: z.strictObject({ ...own, changes: changesSchema, what: z.string().max(80) }),
    apply(document, { item, step, changes }) {
      const found = stepOf(document, item, step);
      for (const [field, setting] of Object.entries(changes)) {
        if (setting === null) delete found[field];
        else found[field] = setting;
      }
    },
    label: ({ item, step, what }, before) => {
      const type = before.items.find(({ id }) => id === item)?.repairs.find(({ id }) => id === step)?.type;
      return `${type ? repairNamed(type).name : "Repair"}: ${what}`;
    },
    access: ({ item, step, changes }) => ({
      writes: Object.keys(changes).map((field) => `${stepPath(item, step)}/${field}`),
    }),
  }),
  switchRepair: define({
    fields: z.strictObject({ ...own, enabled: z.boolean() }),
    apply: (document, { item, step, enabled }) => void (stepOf(document, item, step).enabled = enabled),
    label: ({ item, step, enabled }, before) => `Switch ${nameOfStep(before, item, step)} ${enabled ? "on" : "off"}`,
    access: ({ item, step }) => ({ writes: [`${stepPath(item, step)}/enabled`] }),
  }),
  switchRepairs: define({
    fields: z.strictObject({ item: idSchema, steps: severalSchema, enabled: z.boolean() }),
    apply(document, { item, steps, enabled }) {
      for (const step of steps) stepOf(document, item, step).enabled = enabled;
    },
    label: ({ steps, enabled }) => `Switch ${counted(steps.length, "repair")} ${enabled ? "on" : "off"}`,
    access: ({ item, steps }) => ({ writes: steps.map((step) => `${stepPath(item, step)}/enabled`) }),
  }),
  moveRepair: define({
    fields: z.strictObject({ ...own, to: z.number().int().nonnegative() }),
    apply(document, { item, step, to }) {
      const { repairs } = itemIn(document, item);
      moved(repairs, repairs.indexOf(stepOf(document, item, step)), to);
    },
    label: ({ item, step, to }, before) => `Move ${nameOfStep(before, item, step)} to place ${to + 1}`,
    access: ({ item, step }) => ({
      reads: [hasPath(stepPath(item, step))],
      writes: [`${itemPath(item)}/repairs/#order`],
    }),
  }),
  /** Puts other steps in the place of one, where it applied and as it was switched. */
  replaceRepair: define({
    fields: z.strictObject({ ...own, with: stepsSchema }),
    apply(document, { item, step, with: others }) {
      const { repairs } = itemIn(document, item);
      const found = stepOf(document, item, step);
      const { enabled, regions, excludedRegions } = found;
      for (const { id } of others) {
        if (!id) throw new CommandProblem("A repair in a project needs an id.");
        if (repairs.some((one) => one.id === id)) throw new CommandProblem("This repair is already there.");
      }
      const placed = others.map((other) => ({ ...other, enabled, regions, excludedRegions }));
      repairs.splice(repairs.indexOf(found), 1, ...placed);
    },
    label: ({ item, step, with: others }, before) =>
      `Open ${nameOfStep(before, item, step)}: ${others.map(({ type }) => repairNamed(type).name.toLowerCase()).join(", ")}`,
    access: ({ item, step, with: others }) => ({
      writes: [stepPath(item, step), ...others.map(({ id }) => stepPath(item, id ?? "#none"))],
    }),
  }),
  removeRepair: define({
    fields: z.strictObject(own),
    apply(document, { item, step }) {
      const { repairs } = itemIn(document, item);
      repairs.splice(repairs.indexOf(stepOf(document, item, step)), 1);
    },
    label: ({ item, step }, before) => `Remove ${nameOfStep(before, item, step)}`,
    access: ({ item, step }) => ({ writes: [stepPath(item, step)] }),
  }),
  removeRepairs: define({
    fields: z.strictObject({ item: idSchema, steps: severalSchema }),
    apply(document, { item, steps }) {
      const gone = new Set(steps.map((step) => stepOf(document, item, step).id));
      const owner = itemIn(document, item);
      owner.repairs = owner.repairs.filter(({ id }) => !gone.has(id));
    },
    label: ({ steps }) => `Remove ${counted(steps.length, "repair")}`,
    access: ({ item, steps }) => ({ writes: steps.map((step) => stepPath(item, step)) }),
  }),
} as const;
