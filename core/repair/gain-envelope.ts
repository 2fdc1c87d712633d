import * as z from "zod";
import { dbToGain } from "../audio/decibel";
import { counted, formatDb } from "../audio/format";
import type { Decibels, Frames } from "../audio/units";
import type { RepairDefinition } from "./repair";

/** A point of the line: a frame of the recording, and the gain there. */
export const gainPointsSchema = z
  .array(z.strictObject({ frame: z.number().int().nonnegative(), gainDb: z.number().min(-60).max(24) }))
  .max(5000)
  .refine(
    (points) => points.every(({ frame }, i) => i === 0 || frame > points[i - 1]!.frame),
    "points lie in order of time",
  );
export type GainPoint = z.infer<typeof gainPointsSchema>[number];

const parameters = {
  wholeDb: {
    kind: "number",
    label: "Offset",
    help: "Moves the whole line up or down",
    unit: "dB",
    min: -24,
    max: 24,
    step: 0.1,
    scale: "linear",
    default: 0,
  },
} as const;

/** The gain is worked out at every so many frames, and goes straight between. */
const GRID: Frames = 32;

export const gainPoints = (learned: unknown): GainPoint[] => gainPointsSchema.parse(learned ?? []);

/** The line at a frame: straight in dB between points, level before the first and behind the last. */
export function envelopeDb(points: readonly GainPoint[], frame: Frames): Decibels {
  let [low, high] = [0, points.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (points[middle]!.frame <= frame) low = middle + 1;
    else high = middle;
  }
  const [before, after] = [points[low - 1], points[low]];
  if (!before) return after?.gainDb ?? 0;
  if (!after) return before.gainDb;
  const share = (frame - before.frame) / (after.frame - before.frame);
  return before.gainDb + share * (after.gainDb - before.gainDb);
}

/** Gain that follows a drawn line of points: a voice that turned away, a passage that is too loud. */
export const gainEnvelopeRepair: RepairDefinition<typeof parameters> = {
  id: "gain-envelope",
  name: "Gain envelope",
  help: "Gain that follows points drawn over the waveform",
  parameters,
  learned: gainPointsSchema,
  contextSeconds: () => 0,
  isNeutral: ({ wholeDb }, learned) =>
    gainPoints(learned).every(({ gainDb }) => gainDb + wholeDb === 0) &&
    (wholeDb === 0 || gainPoints(learned).length > 0),
  create({ wholeDb }, learned) {
    const points = gainPoints(learned);
    const gainAt = (frame: Frames) => dbToGain(wholeDb + envelopeDb(points, frame));
    return (block, { first, from, to }) => {
      let grid = Math.floor((first + from) / GRID) * GRID;
      let [here, next] = [gainAt(grid), gainAt(grid + GRID)];
      for (let i = from; i < to; i++) {
        if (first + i >= grid + GRID) {
          grid += GRID;
          [here, next] = [next, gainAt(grid + GRID)];
        }
        const gain = here + ((next - here) * (first + i - grid)) / GRID;
        for (const channel of block) channel[i] = channel[i]! * gain;
      }
    };
  },
  summary({ wholeDb }, learned) {
    const { length } = gainPoints(learned);
    const moved = wholeDb === 0 ? "" : `, ${formatDb(wholeDb, { sign: true })} dB`;
    return `${length === 0 ? "no points yet" : counted(length, "point")}${moved}`;
  },
};
