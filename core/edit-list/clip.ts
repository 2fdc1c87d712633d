/** What an item is made of: stretches of its recording one after the other, silence or room tone between them. */
import * as z from "zod";
import { withCurrentNames } from "../parameters/former-names";
import { noiseProfileSchema } from "../repair/noise-profile";
import type { Frames } from "../audio/units";

/** How a joint goes over: powers or amplitudes add up to one; "hard" goes over at once. */
export const CROSSFADE_SHAPES = ["equal power", "linear", "smooth", "hard"] as const;
export type CrossfadeShape = (typeof CROSSFADE_SHAPES)[number];

export const crossfadeSchema = z.strictObject({
  shape: z.enum(CROSSFADE_SHAPES),
  /** From the beginning of the crossfade to its end; it lies half on each side of the joint. */
  seconds: z.number().min(0).max(4),
});
export type Crossfade = z.infer<typeof crossfadeSchema>;

/** Short enough to be no fade that is heard, long enough not to click. */
export const DEFAULT_CROSSFADE: Crossfade = { shape: "equal power", seconds: 0.008 };

const currentClipSchema = z
  .strictObject({
    kind: z.enum(["recording", "silence", "room-tone"]),
    /** Frames of the recording; what is put in between counts from 0. */
    start: z.number().int().nonnegative(),
    /** One past the last. */
    end: z.number().int().positive(),
    /** How the piece before goes over into this one; absent for the plain way. */
    crossfade: crossfadeSchema.optional(),
    /** What room tone sounds like. */
    profile: noiseProfileSchema.optional(),
  })
  .refine(({ start, end }) => end > start, "the piece ends before it begins")
  .refine(
    ({ kind, profile }) => (kind === "room-tone") === (profile !== undefined),
    "room tone, and nothing else, has a profile",
  );
export type Clip = z.infer<typeof currentClipSchema>;

const FORMER_NAMES = { joint: "crossfade", tone: "profile" };

export const clipSchema: z.ZodType<Clip> = z
  .preprocess((given) => {
    const clip = withCurrentNames(given, FORMER_NAMES);
    return (clip as { kind?: unknown } | null)?.kind === "tone" ? { ...(clip as object), kind: "room-tone" } : clip;
  }, currentClipSchema)
  .meta({ id: "Clip" });

export const clipsSchema = z.array(clipSchema).min(1, "an item cannot be empty").max(10_000);

export const framesOfClip = ({ start, end }: Clip): Frames => end - start;

/** Of the recording, from `start` to `end`. */
export const recordingClip = (start: Frames, end: Frames): Clip => ({ kind: "recording", start, end });
