import * as z from "zod";
import { readingFormerNames, withCurrentNames } from "../parameters/former-names";
import { chainSchema } from "../processors";
import { repairsSchema } from "../repair";
import type { Hertz } from "../audio/units";
import { SPECS } from "./specs";
import { CONTAINER_ABOUT, CONTAINERS, DEPTHS, isLossy, type Container } from "../files/containers";
import type { FileFacts } from "./file-requirements";
import { deliverySpecSchema, type DeliverySpec } from "./spec";
import { DITHERS } from "../dsp/quantise";
import { FILTER_PHASES } from "../dsp/resampling";

/** Which channels a master has: those of the item, or a fold-down of them; fewer are never made more. */
export const MASTER_CHANNELS = ["all", "5.1", "stereo", "mono"] as const;

/** What the sound of a video does with the tracks that it had. */
export const VIDEO_TRACKS = ["replace", "keep"] as const;

const currentFormatSchema = z.strictObject({
  container: z.enum(CONTAINERS).default("wav"),
  bitDepth: z.enum(DEPTHS).default("24"),
  /** Hz; absent keeps the source's rate, or takes the nearest that the container holds. */
  sampleRate: z.number().int().min(8000).max(384_000).optional(),
  phase: z.enum(FILTER_PHASES).default("linear"),
  dither: z.enum(DITHERS).default("flat"),
  /** Whether digital silence stays silent where there is dither. */
  keepSilence: z.boolean().default(false),
  channels: z.enum(MASTER_CHANNELS).default("all"),
  /** Of lossy files, for all channels together. */
  bitrateKbps: z.number().int().min(16).max(640).default(192),
  /** Whether the rate may follow what the sound needs. */
  variableBitrate: z.boolean().default(false),
  tracks: z.enum(VIDEO_TRACKS).default("replace"),
});
export type MasterFormat = z.infer<typeof currentFormatSchema>;

const FORMER_NAMES = { bits: "bitDepth", kbps: "bitrateKbps", variable: "variableBitrate" };

export const formatSchema = readingFormerNames(currentFormatSchema, FORMER_NAMES);

/** What is given of a format, of any version, over one that holds where nothing is said; not checked. */
export const formatOver = (base: MasterFormat, given: unknown): unknown => ({
  ...base,
  ...(withCurrentNames(given, FORMER_NAMES) as object | undefined),
});

/** A format with nothing but what is given. @throws ZodError */
export const newFormat = (given: z.input<typeof currentFormatSchema> = {}): MasterFormat => formatSchema.parse(given);

/** The format of a file that meets what a spec asks of files, where nothing else is said; a plain one where it asks nothing. */
export function formatForSpec(spec: Pick<DeliverySpec, "fileRequirements"> | undefined): MasterFormat {
  const { containers, sampleRates, depths, minBitrateKbps, constantBitrate } = spec?.fileRequirements ?? {};
  const plain = newFormat();
  return newFormat({
    ...(containers ? { container: containers[0]! } : {}),
    ...(sampleRates ? { sampleRate: sampleRates[0]! } : {}),
    ...(depths ? { bitDepth: depths[0]! } : {}),
    ...(minBitrateKbps ? { bitrateKbps: Math.max(plain.bitrateKbps, minBitrateKbps) } : {}),
    ...(constantBitrate ? { variableBitrate: false } : {}),
  });
}

/** The rate of a master: what is asked for, or the source's, or the nearest above or below that the container holds. */
export function outputRate({ container, sampleRate }: MasterFormat, source: Hertz): Hertz {
  const wanted = sampleRate ?? source;
  const { sampleRates } = CONTAINER_ABOUT[container];
  if (!sampleRates || sampleRates.includes(wanted)) return wanted;
  // Of the same family where there is one: 96 kHz becomes 48 kHz, and not 44.1.
  const family = sampleRates.filter((rate) => wanted % rate === 0 || rate % wanted === 0);
  const near = family.length > 0 ? family : sampleRates;
  return near.reduce((a, b) => (Math.abs(b - wanted) < Math.abs(a - wanted) ? b : a));
}

/** What a check needs to know of the file that a format makes. */
export const fileFacts = (format: MasterFormat, source: Hertz, layout: string): FileFacts => ({
  container: format.container,
  sampleRate: outputRate(format, source),
  depth: format.bitDepth,
  layout,
  bitrateKbps: isLossy(format.container) ? format.bitrateKbps : null,
  variable: isLossy(format.container) && format.variableBitrate,
});

/** A format in words: "WAV 24 bit 44.1 kHz". */
export function formatWords(format: MasterFormat): string {
  const { container, bitDepth, sampleRate, bitrateKbps, variableBitrate, channels } = format;
  const { name, depths } = CONTAINER_ABOUT[container];
  const depth = bitDepth === "32f" ? "32 bit float" : `${bitDepth} bit`;
  const quality = depths.length === 0 ? `${variableBitrate ? "about " : ""}${bitrateKbps} kbit/s` : depth;
  const rate = sampleRate ? `${sampleRate / 1000} kHz` : "";
  return [container === "video" ? "Video" : name, quality, rate, channels === "all" ? "" : channels]
    .filter(Boolean)
    .join(" ");
}

export const containerOf = ({ container }: MasterFormat): (typeof CONTAINER_ABOUT)[Container] =>
  CONTAINER_ABOUT[container];

const noSpec = (id: string): string =>
  `There is no delivery spec "${id}"; there are: ${SPECS.map((spec) => spec.id).join(", ")}.`;

/** A spec that ships by its id, or one of one's own in full. */
const recipeSpecSchema = z.unknown().transform((given, context): DeliverySpec => {
  const shipped = typeof given === "string" ? SPECS.find((spec) => spec.id === given) : undefined;
  if (shipped) return shipped;
  const parsed = deliverySpecSchema.safeParse(given);
  if (parsed.success) return parsed.data;
  if (typeof given === "string") context.addIssue({ code: "custom", message: noSpec(given) });
  else for (const { path, message } of parsed.error.issues) context.addIssue({ code: "custom", path, message });
  return z.NEVER;
});

/** What is done to a source on the way to a master: the same for an item of a project and for the command line. */
export const recipeSchema = z.strictObject({
  repairs: repairsSchema.default([]),
  chain: chainSchema.default([]),
  spec: recipeSpecSchema.optional(),
  format: formatSchema.default(() => newFormat()),
});
export type Recipe = z.infer<typeof recipeSchema>;
