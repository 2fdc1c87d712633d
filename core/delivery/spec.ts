import * as z from "zod";
import { formatDb } from "../audio/format";
import { readingFormerNames } from "../parameters/former-names";
import { CONTAINERS, DEPTHS } from "../files/containers";

/**
 * Figures that a limit may be set on, with their unit and words. `silent`: whether a value that is missing means
 * silence, which lies under every limit; else it could not be told.
 */
export const LIMITED_FIGURES = {
  integratedLufs: { label: "Integrated", name: "Integrated loudness", unit: "LUFS", marginUnit: "LU", silent: true },
  dialogueLufs: { label: "Dialogue", name: "Dialogue loudness", unit: "LUFS", marginUnit: "LU", silent: false },
  truePeakDbtp: { label: "True peak", name: "True peak", unit: "dBTP", marginUnit: "dB", silent: true },
  shortTermMaxLufs: {
    label: "Short-term max",
    name: "Maximum short-term loudness",
    unit: "LUFS",
    marginUnit: "LU",
    silent: true,
  },
  momentaryMaxLufs: {
    label: "Momentary max",
    name: "Maximum momentary loudness",
    unit: "LUFS",
    marginUnit: "LU",
    silent: true,
  },
  loudnessRangeLu: { label: "Range", name: "Loudness range", unit: "LU", marginUnit: "LU", silent: true },
  noiseFloorDbfs: { label: "Noise floor", name: "Noise floor", unit: "dBFS", marginUnit: "dB", silent: true },
  rmsDbfs: { label: "RMS", name: "RMS level", unit: "dBFS", marginUnit: "dB", silent: true },
  samplePeakDbfs: { label: "Sample peak", name: "Sample peak", unit: "dBFS", marginUnit: "dB", silent: true },
  headRoomToneSeconds: { label: "Head", name: "Room tone at the head", unit: "s", marginUnit: "s", silent: false },
  tailRoomToneSeconds: { label: "Tail", name: "Room tone at the tail", unit: "s", marginUnit: "s", silent: false },
  headSilenceSeconds: {
    label: "Silence at head",
    name: "Silence at the head",
    unit: "s",
    marginUnit: "s",
    silent: false,
  },
  tailSilenceSeconds: {
    label: "Silence at tail",
    name: "Silence at the tail",
    unit: "s",
    marginUnit: "s",
    silent: false,
  },
  durationSeconds: { label: "Length", name: "Length", unit: "s", marginUnit: "s", silent: true },
} as const;

export type LimitedFigure = keyof typeof LIMITED_FIGURES;
export const LIMITED_FIGURE_NAMES = Object.keys(LIMITED_FIGURES) as [LimitedFigure, ...LimitedFigure[]];

/** A limit in words: "−23.5 to −22.5 LUFS", "at most −1 dBTP". */
export function limitWords({ figure, min, max, scope }: Pick<Limit, "figure" | "min" | "max" | "scope">): string {
  const { unit } = LIMITED_FIGURES[figure];
  const number = (value: number) => formatDb(value, { digits: Number.isInteger(value) ? 0 : 1 });
  const range =
    min === undefined
      ? `at most ${number(max!)}`
      : max === undefined
        ? `at least ${number(min)}`
        : `${number(min)} to ${number(max)}`;
  return `${range} ${unit}${scope === "channel" ? ", each channel" : ""}`;
}

/** What a limit holds for: the item, each of its channels, or the running order as a whole. */
export const LIMIT_SCOPES = ["item", "channel", "album"] as const;

const currentLimitSchema = z
  .object({
    figure: z.enum(LIMITED_FIGURE_NAMES),
    scope: z.enum(LIMIT_SCOPES).optional(),
    min: z.number().optional(),
    max: z.number().optional(),
    /** A hard limit fails the check; an advisory one is only told. */
    required: z.boolean().default(true),
    /** Nearer than this to the limit counts as close. */
    marginalWithin: z.number().nonnegative(),
    clause: z.string().max(400),
  })
  .refine(({ min, max }) => min !== undefined || max !== undefined, "a limit needs a lowest or a highest value")
  .refine(({ min, max }) => min === undefined || max === undefined || min <= max, "its lowest lies above its highest");
export type Limit = z.infer<typeof currentLimitSchema>;

export const limitSchema = readingFormerNames(currentLimitSchema, {
  of: "scope",
  hard: "required",
  close: "marginalWithin",
});

/** What a spec asks of the file itself; what is absent is free. */
const currentRequirementsSchema = z.strictObject({
  sampleRates: z.array(z.number().int().positive()).min(1).optional(),
  /** Depths that are taken where samples are kept as they are. */
  depths: z.array(z.enum(DEPTHS)).min(1).optional(),
  containers: z.array(z.enum(CONTAINERS)).min(1).optional(),
  /** Of lossy files. */
  minBitrateKbps: z.number().positive().optional(),
  constantBitrate: z.boolean().optional(),
  /** Names of channel layouts. */
  layouts: z.array(z.string().max(40)).min(1).optional(),
  /** Whether all items of the running order must have the same channels. */
  sameChannels: z.boolean().optional(),
  clause: z.string().max(400),
});
export type FileRequirements = z.infer<typeof currentRequirementsSchema>;

const fileRequirementsSchema = readingFormerNames(currentRequirementsSchema, {
  leastKbps: "minBitrateKbps",
  constantRate: "constantBitrate",
});

/** What the level of a programme is taken from. */
export const ANCHORS = {
  programme: { figure: "integratedLufs", label: "Programme loudness", unit: "LUFS" },
  dialogue: { figure: "dialogueLufs", label: "Dialogue loudness", unit: "LUFS" },
  rms: { figure: "rmsDbfs", label: "RMS", unit: "dBFS" },
  truePeak: { figure: "truePeakDbtp", label: "True peak", unit: "dBTP" },
  samplePeak: { figure: "samplePeakDbfs", label: "Sample peak", unit: "dBFS" },
} as const satisfies Record<string, { figure: LimitedFigure; label: string; unit: string }>;
export type Anchor = keyof typeof ANCHORS;

/** Whether a spec normalises peaks, and leaves the loudness to itself. */
export const isPeakAnchored = ({ anchor }: { anchor: Anchor }): boolean =>
  anchor === "truePeak" || anchor === "samplePeak";

const bound = (what: string, unit: string) => {
  const error = `${what} lies between 0 and 60 ${unit}`;
  return z.number({ error }).min(0, error).max(60, error);
};

const currentSpecSchema = z.object({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, "small letters, digits and hyphens, at most 40"),
  name: z.string().trim().min(1).max(80),
  help: z.string().max(400),
  source: z.string().max(200),
  edition: z.string().max(80),
  anchor: z.enum(Object.keys(ANCHORS) as [Anchor, ...Anchor[]]).default("programme"),
  /** What the normaliser brings the anchor to, in its unit; `null` leaves the level alone. */
  target: z.number().min(-70).max(0).nullable(),
  /** When the programme already lies in the permitted range, it is left there. */
  keepWithinRange: z.boolean().default(false),
  normalise: z.enum(["none", "gain", "gain and limiter"]),
  /** One gain for the whole running order keeps its relations: it brings the loudest item to the target. */
  gainScope: z.enum(["item", "album"]).default("item"),
  /** Ceiling for the limiter. */
  ceilingDbtp: z.number().min(-30).max(0),
  /** The deepest that the limiter may cut, dB, and what it may take of the anchor's level, LU: more would be ruin. */
  maxLimitingDb: bound("The deepest limiting allowed", "dB").default(8),
  maxLimitingLossLu: bound("The loudness that limiting may take", "LU").default(4),
  /** Loudness is measured on this fold-down instead of the programme as it is. */
  measuredOn: z.enum(["programme", "5.1", "stereo"]).default("programme"),
  /** Whether the normaliser may ride the level to bring the loudness range under its limit. */
  adaptsRange: z.boolean().default(false),
  limits: z.array(limitSchema).max(40),
  fileRequirements: fileRequirementsSchema.optional(),
});
export type DeliverySpec = z.infer<typeof currentSpecSchema>;

export const deliverySpecSchema = readingFormerNames(currentSpecSchema, {
  gainOf: "gainScope",
  demands: "fileRequirements",
}).meta({ id: "Specification" });

const LOUDNESS_CLOSE = 0.2; // LU
const PEAK_CLOSE = 0.1; // dB

export const loudnessBetween = (min: number, max: number, clause: string): Limit => ({
  figure: "integratedLufs",
  min,
  max,
  required: true,
  marginalWithin: LOUDNESS_CLOSE,
  clause,
});

export const truePeakAtMost = (max: number, clause: string): Limit => ({
  figure: "truePeakDbtp",
  max,
  required: true,
  marginalWithin: PEAK_CLOSE,
  clause,
});

/** What most specs leave as it is. */
export const SPEC_DEFAULTS = {
  anchor: "programme",
  keepWithinRange: false,
  gainScope: "item",
  maxLimitingDb: 8,
  maxLimitingLossLu: 4,
  measuredOn: "programme",
  adaptsRange: false,
} as const;

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
    ...SPEC_DEFAULTS,
    target,
    normalise: "gain and limiter",
    ceilingDbtp: peak,
    limits: [
      loudnessBetween(target - tolerance, target + tolerance, `${about.source}, programme loudness`),
      truePeakAtMost(peak, `${about.source}, maximum true peak`),
      ...more,
    ],
  };
}
