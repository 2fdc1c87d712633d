/** Edits of an item's repairs. */
import * as z from "zod";
import { repairNamed, repairStepSchema, type RepairStep } from "../repair";
import { CommandProblem, define, find, itemIn, moved, nameOfItem } from "./command";
import { idSchema, type ProjectDocument } from "./document";

const stepsSchema = z.array(repairStepSchema).min(1).max(64);
const own = { item: idSchema, step: idSchema };

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
    decides: ({ steps }) => `repair ${steps[0]!.id}`,
  }),
  /** Puts a step in the place of the one of the same id: its settings, where it applies, what it learned. */
  setRepair: define({
    fields: z.strictObject({ item: idSchema, step: repairStepSchema, what: z.string().max(80) }),
    apply(document, { item, step }) {
      const owner = itemIn(document, item);
      stepOf(document, item, step.id ?? "");
      owner.repairs = owner.repairs.map((one) => (one.id === step.id ? step : one));
    },
    label: ({ step, what }) => `${repairNamed(step.type).name}: ${what}`,
    decides: ({ step, what }) => `repair ${step.id} ${what.replace(/[−-]?[\d.]+.*$/, "")}`,
  }),
  switchRepair: define({
    fields: z.strictObject({ ...own, on: z.boolean() }),
    apply: (document, { item, step, on }) => void (stepOf(document, item, step).on = on),
    label: ({ item, step, on }, before) => `Switch ${nameOfStep(before, item, step)} ${on ? "on" : "off"}`,
    decides: ({ step }) => `repair switch ${step}`,
  }),
  moveRepair: define({
    fields: z.strictObject({ ...own, to: z.number().int().nonnegative() }),
    apply(document, { item, step, to }) {
      const { repairs } = itemIn(document, item);
      moved(repairs, repairs.indexOf(stepOf(document, item, step)), to);
    },
    label: ({ item, step, to }, before) => `Move ${nameOfStep(before, item, step)} to place ${to + 1}`,
    decides: ({ item }) => `repairs ${item}`,
  }),
  removeRepair: define({
    fields: z.strictObject(own),
    apply(document, { item, step }) {
      const { repairs } = itemIn(document, item);
      repairs.splice(repairs.indexOf(stepOf(document, item, step)), 1);
    },
    label: ({ item, step }, before) => `Remove ${nameOfStep(before, item, step)}`,
    decides: ({ step }) => `repair ${step}`,
  }),
} as const;
