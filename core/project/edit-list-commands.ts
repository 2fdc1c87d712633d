/** Edits of what an item is made of, and of the noises that are kept by name. */
import * as z from "zod";
import { clipsSchema } from "../edit-list/clip";
import { CommandProblem, define, find, itemIn, nameOfItem } from "./command";
import { idSchema, savedNoiseProfileSchema } from "./document";
import { itemPath } from "./paths";

export const EDIT_LIST_COMMANDS = {
  /** What an item is made of from now on; `what` says in words what was done. */
  setPieces: define({
    fields: z.strictObject({ item: idSchema, clips: clipsSchema.nullable(), what: z.string().min(1).max(120) }),
    apply(document, { item, clips }) {
      const target = itemIn(document, item);
      if (clips) target.clips = clips;
      else delete target.clips;
    },
    label: ({ item, what }, before) => `“${nameOfItem(before, item)}”: ${what}`,
    access: ({ item }) => ({ writes: [`${itemPath(item)}/clips`] }),
  }),
  /** The same of several items, in one edit. */
  setClipsOfItems: define({
    fields: z.strictObject({
      items: z
        .array(z.strictObject({ item: idSchema, clips: clipsSchema }))
        .min(1)
        .max(2000),
      what: z.string().min(1).max(120),
    }),
    apply(document, { items }) {
      for (const { item, clips } of items) itemIn(document, item).clips = clips;
    },
    label: ({ items, what }, before) =>
      `${items.length === 1 ? `“${nameOfItem(before, items[0]!.item)}”` : `${items.length} items`}: ${what}`,
    access: ({ items }) => ({ writes: items.map(({ item }) => `${itemPath(item)}/clips`) }),
  }),
  keepProfile: define({
    fields: z.strictObject({ profile: savedNoiseProfileSchema }),
    apply(document, { profile }) {
      if (document.noiseProfiles.some(({ id }) => id === profile.id))
        throw new CommandProblem("This noise is already kept.");
      document.noiseProfiles.push(profile);
    },
    label: ({ profile }) => `Keep the noise “${profile.name}”`,
    access: ({ profile }) => ({ writes: [`noiseProfiles/${profile.id}`] }),
  }),
  removeProfile: define({
    fields: z.strictObject({ profile: idSchema }),
    apply(document, fields) {
      find(document.noiseProfiles, fields.profile, "noise");
      document.noiseProfiles = document.noiseProfiles.filter(({ id }) => id !== fields.profile);
    },
    label: ({ profile }, before) =>
      `Forget the noise “${before.noiseProfiles.find(({ id }) => id === profile)?.name ?? profile}”`,
    access: ({ profile }) => ({ writes: [`noiseProfiles/${profile}`] }),
  }),
} as const;
