/** Which meters stand in the column, in which order and size; arrangements are kept in the browser, by name. */
import * as z from "zod";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { TemplateId } from "@core/project/templates";

export const METER_KINDS = [
  "loudness",
  "peaks",
  "correlation",
  "balance",
  "reduction",
  "image",
  "spectrum",
  "pairs",
  "directions",
  "clock",
  "history",
] as const;
export type MeterKind = (typeof METER_KINDS)[number];

export const METER_LABELS: Record<MeterKind, string> = {
  loudness: "Loudness",
  peaks: "True peak and RMS",
  correlation: "Correlation",
  balance: "Balance",
  reduction: "Gain reduction",
  image: "Stereo image",
  spectrum: "Spectrum",
  pairs: "Pairs of channels",
  directions: "Directions",
  clock: "Time",
  history: "Loudness so far",
};

export const METER_SIZES = ["small", "medium", "tall"] as const;
export type MeterSize = (typeof METER_SIZES)[number];

const meterSchema = z.strictObject({ kind: z.enum(METER_KINDS), size: z.enum(METER_SIZES) });
export type Meter = z.infer<typeof meterSchema>;

/** How levels are coloured: below the first line, between, above the last. */
const schemeSchema = z.strictObject({
  low: z.string().regex(/^#[0-9a-f]{6}$/),
  near: z.string().regex(/^#[0-9a-f]{6}$/),
  over: z.string().regex(/^#[0-9a-f]{6}$/),
  /** dB under the limit at which "near" begins. */
  nearDb: z.number().min(0).max(30),
});
export type LevelScheme = z.infer<typeof schemeSchema>;

const arrangementSchema = z.strictObject({
  name: z.string().trim().min(1).max(60),
  meters: z.array(meterSchema).max(24),
  scale: z.enum(["LUFS", "LU"]),
  /** Absent: the inks of the sheet. */
  scheme: schemeSchema.optional(),
});
export type MeterArrangement = z.infer<typeof arrangementSchema>;

const of = (name: string, ...kinds: (MeterKind | [MeterKind, MeterSize])[]): MeterArrangement => ({
  name,
  scale: "LUFS",
  meters: kinds.map((kind) => (typeof kind === "string" ? { kind, size: "medium" } : { kind: kind[0], size: kind[1] })),
});

/** One for each kind of work. */
const SHIPPED: readonly MeterArrangement[] = [
  of("Mastering", "loudness", "peaks", "spectrum", "correlation", "image", "reduction"),
  of("Speech", "loudness", ["peaks", "small"], "history", "spectrum", "reduction"),
  of("Broadcast", "loudness", "peaks", "history", "correlation", "clock"),
  of("Immersive", ["loudness", "small"], "peaks", "pairs", "directions"),
];

const TEMPLATE_ARRANGEMENTS: Record<TemplateId, string> = {
  music: "Mastering",
  audiobook: "Speech",
  podcast: "Speech",
  broadcast: "Broadcast",
  video: "Broadcast",
  immersive: "Immersive",
};

interface Kept {
  arrangements: MeterArrangement[];
  /** Name of the one that is shown, by kind of project. */
  chosen: Record<string, string>;
}

export const useArrangements = create<Kept>()(
  persist(() => ({ arrangements: [...SHIPPED], chosen: {} as Record<string, string> }), {
    name: "resonum-meters",
    version: 1,
  }),
);

/** The arrangement shown in projects of a kind. */
export function arrangementFor(template: TemplateId, { arrangements, chosen }: Kept): MeterArrangement {
  const name = chosen[template] ?? TEMPLATE_ARRANGEMENTS[template];
  return arrangements.find((one) => one.name === name) ?? arrangements[0] ?? SHIPPED[0]!;
}

export const chooseArrangement = (template: TemplateId, name: string): void =>
  void useArrangements.setState(({ chosen }) => ({ chosen: { ...chosen, [template]: name } }));

/** Keeps an arrangement under its name, in the place of the one of that name. */
export const saveArrangement = (arrangement: MeterArrangement): void =>
  void useArrangements.setState(({ arrangements }) => {
    const known = arrangements.some(({ name }) => name === arrangement.name);
    return {
      arrangements: known
        ? arrangements.map((one) => (one.name === arrangement.name ? arrangement : one))
        : [...arrangements, arrangement],
    };
  });

/** Removes one; the last stays. */
export const removeArrangement = (name: string): void =>
  void useArrangements.setState(({ arrangements }) =>
    arrangements.length < 2 ? {} : { arrangements: arrangements.filter((one) => one.name !== name) },
  );

export function moved(meters: readonly Meter[], from: number, by: number): Meter[] {
  const to = Math.max(0, Math.min(meters.length - 1, from + by));
  const rest = meters.filter((_, index) => index !== from);
  return [...rest.slice(0, to), meters[from]!, ...rest.slice(to)];
}

export const arrangementJson = (arrangement: MeterArrangement): string => `${JSON.stringify(arrangement, null, 2)}\n`;

/** @throws Error with what is wrong */
export function parseArrangement(text: string): MeterArrangement {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error("The file is no JSON.");
  }
  const parsed = arrangementSchema.safeParse(json);
  if (parsed.success) return parsed.data;
  const { path, message } = parsed.error.issues[0]!;
  throw new Error(`The file is no arrangement of meters: ${path.join(".") || "the whole"}: ${message}`);
}
