/** Edits of what is delivered: deliverables, specs of one's own, what masters say of themselves and are called. */
import * as z from "zod";
import { SPECS } from "../delivery/specs";
import { deliverySpecSchema } from "../delivery/spec";
import { CommandProblem, define, find, itemIn, nameOfItem } from "./command";
import {
  deliverableSchema,
  idSchema,
  itemAboutSchema,
  projectAboutSchema,
  projectSchema,
  specOf,
  type ProjectDocument,
} from "./document";
import { hasPath, itemPath } from "./paths";

function refuseUnlessThere(document: ProjectDocument, spec: string): void {
  const known = [...document.specs, ...SPECS].some(({ id }) => id === spec);
  if (!known) throw new CommandProblem(`There is no delivery spec "${spec}".`);
}

/** What a recipe takes from one item to others. */
const RECIPE = ["repairs", "chain"];

const structuredCopy = <T>(thing: T): T => JSON.parse(JSON.stringify(thing)) as T;

export const DELIVER_COMMANDS = {
  addDeliverable: define({
    fields: z.strictObject({ deliverable: deliverableSchema }),
    apply(document, { deliverable }) {
      refuseUnlessThere(document, deliverable.spec);
      if (document.deliverables.some(({ id }) => id === deliverable.id))
        throw new CommandProblem("This deliverable is already in the project.");
      document.deliverables.push(deliverable);
      document.activeDeliverable ??= deliverable.id;
    },
    label: ({ deliverable }, before) => `Add deliverable ${specOf(before, deliverable.spec).name}`,
    access: ({ deliverable: { id, spec } }) => ({
      reads: [hasPath(`specs/${spec}`)],
      // In force it is only where no other is: whoever comes first.
      writes: [`deliverables/${id}`],
    }),
  }),
  setDeliverable: define({
    fields: z.strictObject({ deliverable: deliverableSchema }),
    apply(document, { deliverable }) {
      refuseUnlessThere(document, deliverable.spec);
      find(document.deliverables, deliverable.id, "deliverable");
      document.deliverables = document.deliverables.map((one) => (one.id === deliverable.id ? deliverable : one));
    },
    label: ({ deliverable }, before) => `Change deliverable ${specOf(before, deliverable.spec).name}`,
    access: ({ deliverable: { id, spec } }) => ({ reads: [hasPath(`specs/${spec}`)], writes: [`deliverables/${id}`] }),
  }),
  removeDeliverable: define({
    fields: z.strictObject({ deliverable: idSchema }),
    apply(document, fields) {
      find(document.deliverables, fields.deliverable, "deliverable");
      document.deliverables = document.deliverables.filter(({ id }) => id !== fields.deliverable);
      if (document.activeDeliverable === fields.deliverable)
        document.activeDeliverable = document.deliverables[0]?.id ?? null;
    },
    label(fields, before) {
      const spec = before.deliverables.find(({ id }) => id === fields.deliverable)?.spec;
      return `Remove deliverable ${spec ? specOf(before, spec).name : ""}`.trim();
    },
    access: ({ deliverable }) => ({ writes: [`deliverables/${deliverable}`, "activeDeliverable"] }),
  }),
  setInForce: define({
    fields: z.strictObject({ deliverable: idSchema }),
    apply: (document, fields) =>
      void (document.activeDeliverable = find(document.deliverables, fields.deliverable, "deliverable").id),
    label(fields, before) {
      const spec = before.deliverables.find(({ id }) => id === fields.deliverable)?.spec;
      return `Show margins against ${spec ? specOf(before, spec).name : "another deliverable"}`;
    },
    access: ({ deliverable }) => ({ reads: [hasPath(`deliverables/${deliverable}`)], writes: ["activeDeliverable"] }),
  }),
  moveDeliverable: define({
    fields: z.strictObject({ deliverable: idSchema, to: z.number().int().nonnegative() }),
    apply(document, fields) {
      const one = find(document.deliverables, fields.deliverable, "deliverable");
      const others = document.deliverables.filter((other) => other !== one);
      others.splice(Math.min(fields.to, others.length), 0, one);
      document.deliverables = others;
    },
    label: (fields) => `Move a deliverable to place ${fields.to + 1}`,
    access: ({ deliverable }) => ({
      reads: [hasPath(`deliverables/${deliverable}`)],
      writes: ["deliverables/#order"],
    }),
  }),
  addSpec: define({
    fields: z.strictObject({ spec: deliverySpecSchema }),
    apply(document, { spec }) {
      if ([...document.specs, ...SPECS].some(({ id }) => id === spec.id))
        throw new CommandProblem(`There is a delivery spec "${spec.id}" already: give this one another id.`);
      document.specs.push(spec);
    },
    label: ({ spec }) => `Add delivery spec ${spec.name}`,
    access: ({ spec }) => ({ writes: [`specs/${spec.id}`] }),
  }),
  setSpec: define({
    fields: z.strictObject({ spec: deliverySpecSchema }),
    apply(document, { spec }) {
      find(document.specs, spec.id, "delivery spec");
      document.specs = document.specs.map((one) => (one.id === spec.id ? spec : one));
    },
    label: ({ spec }) => `Change delivery spec ${spec.name}`,
    access: ({ spec }) => ({ writes: [`specs/${spec.id}`] }),
  }),
  removeSpec: define({
    fields: z.strictObject({ spec: idSchema }),
    apply(document, fields) {
      find(document.specs, fields.spec, "delivery spec");
      if (document.deliverables.some(({ spec }) => spec === fields.spec))
        throw new CommandProblem("A deliverable uses this delivery spec: remove that first.");
      document.specs = document.specs.filter(({ id }) => id !== fields.spec);
    },
    label: (fields, before) => `Remove delivery spec ${specOf(before, fields.spec).name}`,
    access: ({ spec }) => ({ writes: [`specs/${spec}`] }),
  }),
  /** What is done to one item is done to others: repairs and chain take the place of theirs. */
  applyRecipe: define({
    fields: z.strictObject({ from: idSchema, items: z.array(idSchema).min(1).max(2000) }),
    apply(document, fields) {
      const { repairs, chain } = itemIn(document, fields.from);
      for (const id of fields.items) {
        const item = itemIn(document, id);
        item.repairs = structuredCopy(repairs);
        item.chain = structuredCopy(chain);
      }
    },
    label: (fields, before) =>
      `Do to ${fields.items.length === 1 ? "another item" : `${fields.items.length} items`} what is done to “${nameOfItem(before, fields.from)}”`,
    access: ({ from, items }) => ({
      reads: RECIPE.map((part) => `${itemPath(from)}/${part}`),
      writes: items.flatMap((item) => RECIPE.map((part) => `${itemPath(item)}/${part}`)),
    }),
  }),
  renameProject: define({
    fields: z.strictObject({ name: projectSchema.shape.name }),
    apply: (document, { name }) => void (document.name = name),
    label: ({ name }) => `Call the project “${name}”`,
    access: () => ({ writes: ["name"] }),
  }),
  describeProject: define({
    fields: z.strictObject({ about: projectAboutSchema }),
    apply: (document, { about }) => void (document.about = about),
    label: () => "Change what masters say of the whole",
    access: () => ({ writes: ["about"] }),
  }),
  describeItem: define({
    fields: z.strictObject({ item: idSchema, about: itemAboutSchema }),
    apply: (document, fields) => void (itemIn(document, fields.item).about = fields.about),
    label: (fields, before) => `Change what the master of “${nameOfItem(before, fields.item)}” says of itself`,
    access: ({ item }) => ({ writes: [`${itemPath(item)}/about`] }),
  }),
  setNaming: define({
    fields: z.strictObject({ naming: projectSchema.shape.naming.unwrap() }),
    apply: (document, { naming }) => void (document.naming = naming),
    label: ({ naming }) => `Call masters “${naming}”`,
    access: () => ({ writes: ["naming"] }),
  }),
};
