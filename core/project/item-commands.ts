/** Edits of items as a whole: their names, order and colours, and which there are. */
import * as z from "zod";
import { counted } from "../audio/format";
import { define, itemIn, moved, nameOfItem } from "./command";
import { idSchema, ITEM_COLOURS, nameSchema, type ProjectDocument } from "./document";
import { hasPath, itemPath } from "./paths";

const position = z.number().int().nonnegative();
const severalSchema = z.array(idSchema).min(1).max(2000);

const nameOfSeveral = (document: ProjectDocument, items: readonly string[]): string =>
  items.length === 1 ? `“${nameOfItem(document, items[0]!)}”` : counted(items.length, "item");

export const ITEM_COMMANDS = {
  renameItem: define({
    fields: z.strictObject({ item: idSchema, name: nameSchema }),
    apply: (document, fields) => void (itemIn(document, fields.item).name = fields.name),
    label: ({ name }) => `Rename an item to “${name}”`,
    access: ({ item }) => ({ writes: [`${itemPath(item)}/name`] }),
  }),
  moveItem: define({
    fields: z.strictObject({ item: idSchema, to: position }),
    apply(document, fields) {
      moved(document.items, document.items.indexOf(itemIn(document, fields.item)), fields.to);
    },
    label: (fields, before) => `Move “${nameOfItem(before, fields.item)}” to place ${fields.to + 1}`,
    access: ({ item }) => ({ reads: [hasPath(itemPath(item))], writes: ["items/#order"] }),
  }),
  removeItem: define({
    fields: z.strictObject({ item: idSchema }),
    apply: (document, fields) => void document.items.splice(document.items.indexOf(itemIn(document, fields.item)), 1),
    label: (fields, before) => `Take “${nameOfItem(before, fields.item)}” out of the running order`,
    access: ({ item }) => ({ writes: [itemPath(item)] }),
  }),
  removeItems: define({
    fields: z.strictObject({ items: severalSchema }),
    apply(document, { items }) {
      const gone = new Set(items.map((id) => itemIn(document, id).id));
      document.items = document.items.filter(({ id }) => !gone.has(id));
    },
    label: ({ items }, before) => `Take ${nameOfSeveral(before, items)} out of the running order`,
    access: ({ items }) => ({ writes: items.map(itemPath) }),
  }),
  /** A mark for the eye: it changes no byte of a master. */
  colourItems: define({
    fields: z.strictObject({ items: severalSchema, colour: z.enum(ITEM_COLOURS).nullable() }),
    apply(document, { items, colour }) {
      for (const item of items.map((id) => itemIn(document, id))) {
        if (colour === null) delete item.colour;
        else item.colour = colour;
      }
    },
    label: ({ items, colour }, before) => `Colour ${nameOfSeveral(before, items)}: ${colour ?? "none"}`,
    access: ({ items }) => ({ writes: items.map((item) => `${itemPath(item)}/colour`) }),
  }),
} as const;
