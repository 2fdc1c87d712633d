/** What an item is made of: stretches of its recording one after the other, silence or room tone between them. */
import * as z from "zod";
import { noiseProfileSchema } from "../repair/noise-profile";
import type { Frames } from "../audio/units";

/** How a joint goes over: powers or amplitudes add up to one; "hard" goes over at once. */
export const JOINT_SHAPES = ["equal power", "linear", "smooth", "hard"] as const;
export type JointShape = (typeof JOINT_SHAPES)[number];

export const jointSchema = z.strictObject({
  shape: z.enum(JOINT_SHAPES),
  /** From the beginning of the crossfade to its end; it lies half on each side of the joint. */
  seconds: z.number().min(0).max(4),
});
export type Joint = z.infer<typeof jointSchema>;

/** Short enough to be no fade that is heard, long enough not to click. */
export const PLAIN_JOINT: Joint = { shape: "equal power", seconds: 0.008 };

export const pieceSchema = z
  .strictObject({
    kind: z.enum(["recording", "silence", "tone"]),
    /** Frames of the recording; what is put in between counts from 0. */
    start: z.number().int().nonnegative(),
    /** One past the last. */
    end: z.number().int().positive(),
    /** How the piece before goes over into this one; absent for the plain way. */
    joint: jointSchema.optional(),
    /** What room tone sounds like. */
    tone: noiseProfileSchema.optional(),
  })
  .refine(({ start, end }) => end > start, "the piece ends before it begins")
  .refine(({ kind, tone }) => (kind === "tone") === (tone !== undefined), "room tone, and nothing else, has a profile");
export type Piece = z.infer<typeof pieceSchema>;

export const piecesSchema = z.array(pieceSchema).min(1, "an item cannot be empty").max(10_000);

export const framesOfPiece = ({ start, end }: Piece): Frames => end - start;

/** Of the recording, from `start` to `end`. */
export const stretchPiece = (start: Frames, end: Frames): Piece => ({ kind: "recording", start, end });
