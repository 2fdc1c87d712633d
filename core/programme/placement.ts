/** Where an item stands in the programme, how it comes and goes, and how loud it is there. */
import * as z from "zod";
import { breakpointsSchema } from "../processors";
import { idSchema } from "../parameters/identifiers";
import { fadeSchema } from "./fade";

/** What a pause is counted from: the end of the fade-out of the item before, or that item's last sample. */
export const GAP_ORIGINS = ["fade end", "last sample"] as const;

const placementFields = {
  /** Pause before the item; below 0 it begins under the end of the one before. */
  gapSeconds: z.number().min(-600).max(3600),
  gapFrom: z.enum(GAP_ORIGINS),
  fadeIn: fadeSchema.optional(),
  fadeOut: fadeSchema.optional(),
  gainDb: z.number().min(-60).max(24),
  /** Gain over time: seconds of the item and dB. */
  envelope: breakpointsSchema,
  /** `null`: in the order; else the lane that it lies on. */
  lane: idSchema.nullable(),
  /** On a lane: the item that it moves with; `null` for the programme's beginning. */
  anchor: idSchema.nullable(),
  /** On a lane: its beginning, from that of its anchor. */
  atSeconds: z.number().min(-36_000).max(360_000),
  /** Lies before the first title's number: found by searching back from it. Only of the first in the order. */
  hidden: z.boolean(),
};

export type Placement = z.infer<z.ZodObject<typeof placementFields>>;

/** As it is stored: what is not decided is absent. */
export const placementSchema = z.strictObject(placementFields).partial();
export type StoredPlacement = z.infer<typeof placementSchema>;

/** Only what changes; `null` takes a fade away. */
export const placementChangesSchema = placementSchema.extend({
  fadeIn: fadeSchema.nullable().optional(),
  fadeOut: fadeSchema.nullable().optional(),
});
export type PlacementChanges = z.infer<typeof placementChangesSchema>;

export const PLAIN_PLACEMENT: Placement = {
  gapSeconds: 0,
  gapFrom: "fade end",
  gainDb: 0,
  envelope: [],
  lane: null,
  anchor: null,
  atSeconds: 0,
  hidden: false,
};

/** Something that has a place in a programme. */
export interface Placeable {
  id: string;
  placement?: StoredPlacement | undefined;
}

/** The whole placement; what was not decided is plain. */
export function placementOf({ placement }: Pick<Placeable, "placement">): Placement {
  if (!placement) return PLAIN_PLACEMENT;
  const decided = Object.entries(placement).filter(([, value]) => value !== undefined);
  return { ...PLAIN_PLACEMENT, ...(Object.fromEntries(decided) as Partial<Placement>) };
}

/** Whether an item is one of the order, rather than lying on a lane. */
export const isInOrder = (item: Pick<Placeable, "placement">): boolean => placementOf(item).lane === null;
