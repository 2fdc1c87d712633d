/**
 * Channel layouts are data: labels, directions and order. Directions follow ITU-R BS.2051 (azimuth positive to the
 * left, degrees); the loudness weight of a channel follows from its direction alone (BS.1770-5 Annex 3).
 */
import * as z from "zod";

export const speakerSchema = z.object({
  label: z.string().min(1).max(12),
  azimuth: z.number().min(-180).max(180),
  elevation: z.number().min(-90).max(90),
  lfe: z.boolean(),
});
export type Speaker = z.infer<typeof speakerSchema>;

export const layoutSchema = z
  .object({ name: z.string(), speakers: z.array(speakerSchema).min(1).max(24) })
  .meta({ id: "Layout" });
export type Layout = z.infer<typeof layoutSchema>;

type Position = readonly [label: string, azimuth: number, elevation: number];

const POSITIONS: readonly Position[] = [
  ["M", 0, 0],
  ["L", 30, 0],
  ["R", -30, 0],
  ["C", 0, 0],
  ["LFE", 0, -30],
  ["LFE2", -45, -30],
  ["Ls", 110, 0],
  ["Rs", -110, 0],
  ["Lss", 90, 0],
  ["Rss", -90, 0],
  ["Lb", 135, 0],
  ["Rb", -135, 0],
  ["Lw", 60, 0],
  ["Rw", -60, 0],
  ["Lc", 15, 0],
  ["Rc", -15, 0],
  ["Cb", 180, 0],
  ["Ltf", 45, 45],
  ["Rtf", -45, 45],
  ["Ltm", 90, 45],
  ["Rtm", -90, 45],
  ["Ltb", 135, 45],
  ["Rtb", -135, 45],
  ["Ctf", 0, 45],
  ["T", 0, 90],
  ["Ctb", 180, 45],
  ["Lbf", 45, -30],
  ["Cbf", 0, -30],
  ["Rbf", -45, -30],
];

const byLabel = new Map(POSITIONS.map((position) => [position[0], position]));

function layout(name: string, labels: string): Layout {
  const speakers = labels.split(" ").map((label) => {
    const speaker = speakerOf(label);
    if (!speaker) throw new Error(`layout ${name}: no position for "${label}"`);
    return speaker;
  });
  return { name, speakers };
}

/** All layouts known by name; where two have as many channels, the first is assumed for a file that does not say. */
export const LAYOUTS: readonly Layout[] = [
  layout("mono", "M"),
  layout("stereo", "L R"),
  layout("LCR", "L R C"),
  layout("quad", "L R Ls Rs"),
  layout("5.0", "L R C Ls Rs"),
  layout("5.1", "L R C LFE Ls Rs"),
  layout("7.1", "L R C LFE Lb Rb Lss Rss"),
  layout("5.1.2", "L R C LFE Ls Rs Ltm Rtm"),
  layout("5.1.4", "L R C LFE Ls Rs Ltf Rtf Ltb Rtb"),
  layout("7.1.2", "L R C LFE Lss Rss Lb Rb Ltm Rtm"),
  layout("7.1.4", "L R C LFE Lss Rss Lb Rb Ltf Rtf Ltb Rtb"),
  layout("9.1.6", "L R C LFE Lss Rss Lb Rb Lw Rw Ltf Rtf Ltm Rtm Ltb Rtb"),
  layout("22.2", "L R C LFE Lb Rb Lc Rc Cb LFE2 Lss Rss Ltf Rtf Ctf T Ltb Rtb Ltm Rtm Ctb Cbf Lbf Rbf"),
];

export const layoutNamed = (name: string): Layout | undefined =>
  LAYOUTS.find((candidate) => candidate.name.toLowerCase() === name.toLowerCase());

/** The layout assumed for a file that gives only a channel count; numbered channels of weight 1 where none fits. */
export function layoutForChannels(channels: number): Layout {
  const named = LAYOUTS.find((candidate) => candidate.speakers.length === channels);
  if (named) return named;
  const speakers = Array.from({ length: channels }, (_, index) => ({
    label: String(index + 1),
    azimuth: 0,
    elevation: 0,
    lfe: false,
  }));
  return { name: `${channels} channels`, speakers };
}

/** WAVE_FORMAT_EXTENSIBLE channel mask bits in their file order (bit 0 first). */
const MASK_LABELS = [
  "L",
  "R",
  "C",
  "LFE",
  "Lb",
  "Rb",
  "Lc",
  "Rc",
  "Cb",
  "Lss",
  "Rss",
  "T",
  "Ltf",
  "Ctf",
  "Rtf",
  "Ltb",
  "Ctb",
  "Rtb",
] as const;

/** Layout of a WAVE channel mask; `undefined` when it does not cover exactly `channels`. */
export function layoutFromMask(mask: number, channels: number): Layout | undefined {
  let labels = MASK_LABELS.filter((_, bit) => (mask >>> bit) & 1).map(String);
  if (channels === 0 || labels.length !== channels) return undefined;
  if (labels.length === 1) return layoutNamed("mono");
  // With no other surround pair, the side or back pair of a mask is the one surround pair of BS.775.
  const has = (label: string) => labels.includes(label);
  if (!(has("Lb") && has("Lss"))) {
    labels = labels.map((label) => ({ Lb: "Ls", Rb: "Rs", Lss: "Ls", Rss: "Rs" })[label] ?? label);
  }
  return layoutOfLabels(labels);
}

/** The layout of these labels in this order: one that has a name, or a table of its own. @throws for unknown labels */
export function layoutOfLabels(labels: readonly string[]): Layout {
  const joined = labels.join(" ");
  const named = LAYOUTS.find((candidate) => candidate.speakers.map((s) => s.label).join(" ") === joined);
  return named ?? layout(joined, joined);
}

/** A speaker of a label that is known, where BS.2051 puts it. */
export function speakerOf(label: string): Speaker | undefined {
  const position = byLabel.get(label);
  return position && { label, azimuth: position[1], elevation: position[2], lfe: label.startsWith("LFE") };
}

/** Speakers that belong together, by where BS.2051 puts them. */
export interface SpeakerGroup {
  name: string;
  /** Indices of its channels. */
  channels: readonly number[];
}

/** Up to here to each side a speaker stands in front; from here up it is a height. */
const FRONT_DEGREES = 60;
const HEIGHT_DEGREES = 30;

const GROUPS: readonly (readonly [name: string, holds: (speaker: Speaker) => boolean])[] = [
  ["LFE", ({ lfe }) => lfe],
  ["heights", ({ elevation }) => elevation >= HEIGHT_DEGREES],
  ["front", ({ azimuth }) => Math.abs(azimuth) <= FRONT_DEGREES],
  ["surrounds", () => true],
];

/** Groups of a layout that are neither one channel nor all of them; front first. */
export function speakerGroups({ speakers }: Pick<Layout, "speakers">): SpeakerGroup[] {
  const held = new Map<string, number[]>();
  speakers.forEach((speaker, channel) => {
    const [name] = GROUPS.find(([, holds]) => holds(speaker))!;
    held.set(name, [...(held.get(name) ?? []), channel]);
  });
  return ["front", "surrounds", "heights", "LFE"]
    .map((name) => ({ name, channels: held.get(name) ?? [] }))
    .filter(({ channels }) => channels.length > 1 && channels.length < speakers.length);
}

/** Labels that are known, in the order of the table. */
export const SPEAKER_LABELS: readonly string[] = POSITIONS.map(([label]) => label);

/** WAVE channel mask of a layout, 0 where the mask cannot say it in that order. */
export function maskOfLayout(target: Layout): number {
  if (target.speakers.length === 1) return 4; // front centre
  const aliases: Record<string, string> = { Ls: "Lss", Rs: "Rss" };
  let mask = 0;
  let last = -1;
  for (const { label } of target.speakers) {
    const bit = MASK_LABELS.indexOf((aliases[label] ?? label) as (typeof MASK_LABELS)[number]);
    if (bit <= last) return 0;
    mask |= 1 << bit;
    last = bit;
  }
  return mask >>> 0;
}

/** Channel weight of BS.1770-5 Annex 3: 1.41 at the sides of the middle layer, LFE left out, 1 elsewhere. */
export function loudnessWeight(speaker: Speaker): number {
  if (speaker.lfe) return 0;
  const azimuth = Math.abs(speaker.azimuth);
  return azimuth >= 60 && azimuth <= 120 && Math.abs(speaker.elevation) < 30 ? 1.41 : 1;
}
