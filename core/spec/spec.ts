import * as z from "zod";

/** Figures that a limit may be set on, with their unit and words. */
export const LIMITED_FIGURES = {
  integratedLufs: { label: "Integrated", unit: "LUFS", marginUnit: "LU" },
  truePeakDbtp: { label: "True peak", unit: "dBTP", marginUnit: "dB" },
  shortTermMaxLufs: { label: "Short-term max", unit: "LUFS", marginUnit: "LU" },
  momentaryMaxLufs: { label: "Momentary max", unit: "LUFS", marginUnit: "LU" },
  loudnessRangeLu: { label: "Range", unit: "LU", marginUnit: "LU" },
  noiseFloorDbfs: { label: "Noise floor", unit: "dBFS", marginUnit: "dB" },
  rmsDbfs: { label: "RMS", unit: "dBFS", marginUnit: "dB" },
  samplePeakDbfs: { label: "Sample peak", unit: "dBFS", marginUnit: "dB" },
  durationSeconds: { label: "Length", unit: "s", marginUnit: "s" },
} as const;

export type LimitedFigure = keyof typeof LIMITED_FIGURES;

export const limitSchema = z.object({
  figure: z.enum(Object.keys(LIMITED_FIGURES) as [LimitedFigure, ...LimitedFigure[]]),
  min: z.number().optional(),
  max: z.number().optional(),
  /** A hard limit fails the check; an advisory one is only told. */
  hard: z.boolean().default(true),
  /** Nearer than this to the limit counts as close. */
  close: z.number().nonnegative(),
  clause: z.string(),
});
export type Limit = z.infer<typeof limitSchema>;

export const deliverySpecSchema = z.object({
  id: z.string().regex(/^[a-z0-9-]+$/),
  name: z.string(),
  help: z.string(),
  source: z.string(),
  edition: z.string(),
  /** Integrated loudness that the normaliser aims at; `null` leaves the level alone. */
  targetLufs: z.number().nullable(),
  /** When the programme already lies in the permitted range, it is left there. */
  keepWithinRange: z.boolean().default(false),
  normalise: z.enum(["none", "gain", "gain and limiter"]),
  /** Ceiling for the limiter. */
  ceilingDbtp: z.number(),
  limits: z.array(limitSchema),
});
export type DeliverySpec = z.infer<typeof deliverySpecSchema>;

const LOUDNESS_CLOSE = 0.2; // LU
const PEAK_CLOSE = 0.1; // dB

export const loudnessBetween = (min: number, max: number, clause: string): Limit => ({
  figure: "integratedLufs",
  min,
  max,
  hard: true,
  close: LOUDNESS_CLOSE,
  clause,
});

export const truePeakAtMost = (max: number, clause: string): Limit => ({
  figure: "truePeakDbtp",
  max,
  hard: true,
  close: PEAK_CLOSE,
  clause,
});

/** The common case: a loudness target with a tolerance, and a true-peak limit. */
export function targetSpec(
  about: Pick<DeliverySpec, "id" | "name" | "help" | "source" | "edition">,
  target: number,
  tolerance: number,
  peak: number,
  more: Limit[] = [],
): DeliverySpec {
  return {
    ...about,
    targetLufs: target,
    keepWithinRange: false,
    normalise: "gain and limiter",
    ceilingDbtp: peak,
    limits: [
      loudnessBetween(target - tolerance, target + tolerance, `${about.source}, programme loudness`),
      truePeakAtMost(peak, `${about.source}, maximum true peak`),
      ...more,
    ],
  };
}
