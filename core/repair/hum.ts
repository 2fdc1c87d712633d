import * as z from "zod";
import { dbToGain } from "../audio/decibel";
import { formatDb, formatHertz } from "../audio/format";
import type { Hertz } from "../audio/units";
import type { RepairDefinition, RepairFormat, RepairWork } from "./repair";
import { Decimation, REACH } from "../dsp/decimation";
import { harmonicCanceller, type ToneSetting } from "../dsp/harmonic-canceller";

const maxReductionDb = {
  kind: "number",
  label: "Max reduction",
  help: "How far the tones are turned down",
  unit: "dB",
  min: 0,
  max: 80,
  step: 1,
  scale: "linear",
  default: 80,
} as const;

const steadySeconds = {
  kind: "number",
  label: "Averaging time",
  help: "How long the tones stay much the same. Longer takes less of everything else, shorter follows changes",
  unit: "s",
  min: 0.1,
  max: 4,
  step: 0.1,
  scale: "log",
  default: 0.6,
} as const;

const humParameters = {
  fundamentalHz: {
    kind: "number",
    label: "Fundamental",
    help: "Of the mains, 50 or 60 Hz, or of whatever hums; it is followed from there",
    unit: "Hz",
    min: 20,
    max: 1000,
    step: 0.01,
    scale: "log",
    default: 50,
  },
  harmonics: {
    kind: "number",
    label: "Harmonics",
    help: "Multiples of the fundamental that are taken away, itself included",
    unit: "",
    min: 1,
    max: 40,
    step: 1,
    scale: "linear",
    default: 12,
  },
  withinHz: {
    kind: "number",
    label: "Drift range",
    help: "How far the fundamental may wander",
    unit: "Hz",
    min: 0,
    max: 3,
    step: 0.05,
    scale: "linear",
    default: 0.6,
  },
  steadySeconds,
  maxReductionDb,
} as const;

/** What lies around must be known for as long as the estimate is evened out over. */
const SURROUNDINGS_PER_STEADY = 2;
const surroundings = (steady: number): number => 0.8 + SURROUNDINGS_PER_STEADY * steady;

/** Takes tones away from all channels of a block. */
function withoutTones(sets: readonly ToneSetting[], depth: number, { sampleRate }: RepairFormat): RepairWork {
  const share = 1 - dbToGain(-depth);
  const made = sets.map((set) => {
    const top = set.baseHz * set.multiples[set.multiples.length - 1]!;
    return { set, decimation: new Decimation(Math.max(1, Math.floor(sampleRate / (4.1 * top)))) };
  });
  return (block, { first, from, to, heldFrom, heldTo }) => {
    for (const channel of block) {
      for (const { set, decimation } of made) {
        const held = channel.subarray(heldFrom, heldTo);
        const low = decimation.down(held, first + heldFrom);
        const tones = harmonicCanceller(low.y, low.first, sampleRate / decimation.factor, set, REACH);
        if (share < 1) for (let i = 0; i < tones.length; i++) tones[i]! *= share;
        decimation.subtract(tones, low.first - REACH, held, first + heldFrom, from - heldFrom, to - heldFrom);
      }
    }
  };
}

const multiplesBelow = (baseHz: Hertz, count: number, sampleRate: Hertz): number[] =>
  Array.from({ length: Math.round(count) }, (_, i) => i + 1).filter((m) => m * baseHz < 0.23 * sampleRate);

/** Mains hum and its harmonics, followed as they drift. */
export const hum: RepairDefinition<typeof humParameters> = {
  id: "hum",
  name: "Hum",
  help: "Takes a humming fundamental and its harmonics away, following them as they drift",
  panel: "hum",
  parameters: humParameters,
  contextSeconds: ({ steadySeconds: steady }) => surroundings(steady),
  isNeutral: ({ maxReductionDb: depth }) => depth === 0,
  create: (settings, _, format) =>
    withoutTones(
      [
        {
          baseHz: settings.fundamentalHz,
          multiples: multiplesBelow(settings.fundamentalHz, settings.harmonics, format.sampleRate),
          withinHz: settings.withinHz,
          steadySeconds: settings.steadySeconds,
        },
      ],
      settings.maxReductionDb,
      format,
    ),
  summary: ({ fundamentalHz, harmonics }) => `${formatHertz(fundamentalHz)} × ${Math.round(harmonics)}`,
};

const toneParameters = {
  withinHz: {
    ...humParameters.withinHz,
    label: "Drift range",
    help: "How far each tone may wander",
    default: 2,
    max: 20,
  },
  steadySeconds,
  maxReductionDb,
} as const;

export const tonesSchema = z.array(z.number().min(10).max(96_000)).max(24);

/** Tones anywhere, each on its own: whistles of monitors, ringing of machines. */
export const tones: RepairDefinition<typeof toneParameters> = {
  id: "tones",
  name: "Ringing tones",
  help: "Takes steady tones away, each followed on its own, and nothing beside them",
  panel: "tones",
  parameters: toneParameters,
  learned: tonesSchema,
  contextSeconds: ({ steadySeconds: steady }) => surroundings(steady),
  isNeutral: ({ maxReductionDb: depth }, learned) => depth === 0 || tonesSchema.parse(learned ?? []).length === 0,
  create: ({ withinHz, steadySeconds: steady, maxReductionDb: depth }, learned, format) =>
    withoutTones(
      tonesSchema
        .parse(learned ?? [])
        .filter((hertz) => hertz < 0.45 * format.sampleRate)
        .map((baseHz) => ({ baseHz, multiples: [1], withinHz, steadySeconds: steady })),
      depth,
      format,
    ),
  summary: ({ maxReductionDb: depth }, learned) => {
    const list = tonesSchema.parse(learned ?? []);
    return list.length === 0 ? "none yet" : `${list.map(formatHertz).join(", ")}, ${formatDb(depth)} dB`;
  },
};
