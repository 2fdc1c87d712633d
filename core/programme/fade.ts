/** Fades of items: how loud a sound is while it comes or goes. */
import * as z from "zod";
import { exp10, log10, sinCosTurns } from "../math/deterministic-math";
import { envelopeAt } from "../parameters/breakpoints";
import type { Seconds } from "../audio/units";

export const FADE_SHAPES = ["linear", "equal power", "S-curve", "logarithmic", "exponential", "drawn"] as const;
export type FadeShape = (typeof FADE_SHAPES)[number];

/** What each shape does, for whoever chooses one. */
export const FADE_HELP: Readonly<Record<FadeShape, string>> = {
  linear: "Straight in amplitude",
  "equal power": "A quarter of a sine: two that cross keep their power",
  "S-curve": "Half a cosine: soft at both ends, two that cross keep their amplitude",
  logarithmic: "Most of the change at the silent end: comes at once, goes late",
  exponential: "Straight in decibels over 60 dB: comes late, goes at once and dies away slowly",
  drawn: "A line of your own",
};

/** Range of an exponential fade, which ends in silence none the less. */
const EXPONENTIAL_DB = 60;

export const fadeSchema = z
  .strictObject({
    seconds: z.number().positive().max(600),
    shape: z.enum(FADE_SHAPES).default("equal power"),
    /** Silence between the fade's silent end and that of the item. */
    insetSeconds: z.number().min(0).max(3600).default(0),
    /** Of a drawn fade: part of its length from the silent end, 0…1, and amplitude, 0…1. */
    points: z
      .array(z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]))
      .min(2)
      .max(200)
      .refine(
        (points) => points.every(([at], i) => i === 0 || at > points[i - 1]![0]),
        "points must follow one another",
      )
      .optional(),
  })
  .refine(
    ({ shape, points }) => (shape === "drawn") === (points !== undefined),
    "a drawn fade, and no other, has points",
  );
export type Fade = z.infer<typeof fadeSchema>;

export const newFade = (seconds: Seconds, shape: FadeShape = "equal power"): Fade => ({
  seconds,
  shape,
  insetSeconds: 0,
  ...(shape === "drawn"
    ? {
        points: [
          [0, 0],
          [0.5, 0.5],
          [1, 1],
        ] as [number, number][],
      }
    : {}),
});

/** The same fade with another shape. */
export function reshaped({ points: _, ...fade }: Fade, shape: FadeShape): Fade {
  return { ...newFade(fade.seconds, shape), insetSeconds: fade.insetSeconds };
}

const curves: Readonly<Record<Exclude<FadeShape, "drawn">, (t: number) => number>> = {
  linear: (t) => t,
  "equal power": (t) => sinCosTurns(t / 4).sin,
  "S-curve": (t) => (1 - sinCosTurns(t / 2).cos) / 2,
  logarithmic: (t) => log10(1 + 9 * t),
  exponential: (t) => {
    const silent = exp10(-EXPONENTIAL_DB / 20);
    return (exp10((t - 1) * (EXPONENTIAL_DB / 20)) - silent) / (1 - silent);
  },
};

/** Amplitude at `t` of a fade, 0 at its silent end, 1 where it is over. */
export function fadeGain({ shape, points }: Pick<Fade, "shape" | "points">, t: number): number {
  if (t <= 0) return shape === "drawn" ? envelopeAt(points!, 0) : 0;
  if (t >= 1) return 1;
  return shape === "drawn" ? envelopeAt(points!, t) : curves[shape](t);
}
