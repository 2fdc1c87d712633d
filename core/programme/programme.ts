/** The programme: all items of an order as one, with what lies beside them. */
import * as z from "zod";
import { breakpointsSchema, chainSchema } from "../processors";
import { hashSchema, idSchema, nameSchema } from "../parameters/identifiers";

/** The order itself, where lanes are named. */
export const ORDER = "order";

/** Gain that yields to other lanes while they are louder than a threshold. */
export const duckerSchema = z.strictObject({
  /** Lanes that it yields to; "order" for the items of the order. */
  yieldsTo: z
    .array(z.union([z.literal(ORDER), idSchema]))
    .min(1)
    .max(20),
  thresholdDb: z.number().min(-90).max(0).default(-45),
  rangeDb: z.number().min(0).max(60).default(12),
  /** From full level to ducked: it is down when the other begins. */
  attackSeconds: z.number().min(0).max(5).default(0.3),
  holdSeconds: z.number().min(0).max(10).default(0.5),
  releaseSeconds: z.number().min(0).max(20).default(1),
  shape: z.enum(["linear", "S-curve"]).default("S-curve"),
});
export type Ducker = z.infer<typeof duckerSchema>;

export const newDucker = (yieldsTo: string[]): Ducker => duckerSchema.parse({ yieldsTo });

export const laneSchema = z.strictObject({
  id: idSchema.refine((id) => id !== ORDER, "this id is the order's"),
  name: nameSchema,
  gainDb: z.number().min(-60).max(24).default(0),
  mute: z.boolean().default(false),
  solo: z.boolean().default(false),
  chain: chainSchema.default([]),
  /** Gain over time, which also corrects what a ducker does: seconds of the programme and dB. */
  envelope: breakpointsSchema.default([]),
  ducker: duckerSchema.nullable().default(null),
});
export type Lane = z.infer<typeof laneSchema>;

export const programmeMarkerSchema = z
  .strictObject({
    id: idSchema,
    name: z.string().trim().max(200),
    /** Seconds of the programme. */
    start: z.number().min(0),
    end: z.number().positive().optional(),
    /** How the file of its stretch comes and goes; absent for at once. */
    fadeInSeconds: z.number().positive().max(60).optional(),
    fadeOutSeconds: z.number().positive().max(60).optional(),
  })
  .refine(({ start, end }) => end === undefined || end > start, "the marker ends before it begins");
export type ProgrammeMarker = z.infer<typeof programmeMarkerSchema>;

/** A recording laid beside the programme to be compared with: heard at its place, never rendered. */
export const referenceSchema = z.strictObject({
  id: idSchema,
  source: hashSchema,
  /** The item that it belongs to and moves with; `null` for the whole. */
  item: idSchema.nullable(),
  /** Its beginning, from that of the item, or of the programme. */
  atSeconds: z.number().min(-36_000).max(360_000).default(0),
});
export type Reference = z.infer<typeof referenceSchema>;

/** Where the pauses go when the programme is cut into files of items. */
export const PAUSE_PLACES = ["end of the item before", "start of the next", "left out"] as const;
export type PausePlace = (typeof PAUSE_PLACES)[number];

export const programmeSchema = z.strictObject({
  /** Silence before the first item, and after the last. */
  headSeconds: z.number().min(0).max(600).default(0),
  tailSeconds: z.number().min(0).max(600).default(0),
  pauses: z.enum(PAUSE_PLACES).default("end of the item before"),
  /** Titles start on whole CD sectors (1/75 s); at most 99 of them. */
  cdRule: z.boolean().default(false),
  lanes: z.array(laneSchema).max(20).default([]),
  markers: z.array(programmeMarkerSchema).max(5000).default([]),
  references: z.array(referenceSchema).max(2000).default([]),
});
export type Programme = z.infer<typeof programmeSchema>;

export const PLAIN_PROGRAMME: Programme = programmeSchema.parse({});

/** Lanes that are heard: where any is solo, those that are; else all that are not muted. */
export function audibleLanes<L extends Pick<Lane, "mute" | "solo">>(lanes: readonly L[]): L[] {
  const solo = lanes.filter((lane) => lane.solo);
  return (solo.length > 0 ? solo : lanes).filter((lane) => !lane.mute);
}
