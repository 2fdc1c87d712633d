import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import type { RepairDefinition } from "./repair";

const parameters = {
  use: {
    kind: "choice",
    label: "Source",
    help: "Where one side is dead or worse, the other one or the mean of both can be put in its place",
    options: [
      { value: "themselves", label: "themselves" },
      { value: "left", label: "the left" },
      { value: "right", label: "the right" },
      { value: "mean", label: "the mean" },
      { value: "exchanged", label: "each other" },
    ],
    default: "themselves",
  },
  invertRight: {
    kind: "switch",
    label: "Invert right",
    help: "Where its polarity is inverted against the left",
    default: false,
  },
  rightGainDb: {
    kind: "number",
    label: "Right level",
    help: "Raises or lowers the right side against the left",
    unit: "dB",
    min: -24,
    max: 24,
    step: 0.1,
    scale: "linear",
    default: 0,
  },
  rightDelaySamples: {
    kind: "number",
    label: "Right delay",
    help: "Moves the right side in time against the left; below 0 it comes earlier",
    unit: "samples",
    min: -2000,
    max: 2000,
    step: 1,
    scale: "linear",
    default: 0,
  },
} as const;

/** Longest move of a side, at the lowest rate. */
const LONGEST_MOVE_SECONDS = 2000 / 8000;

/** Sets the two sides right: which is used, polarity, level and time of the one against the other. */
export const channelRepair: RepairDefinition<typeof parameters> = {
  id: "channel-repair",
  name: "Channel repair",
  help: "Puts a better side in the place of a worse, and corrects polarity, level and delay between the two",
  parameters,
  contextSeconds: ({ rightDelaySamples }) => (rightDelaySamples === 0 ? 0 : LONGEST_MOVE_SECONDS),
  isNeutral: ({ use, invertRight, rightGainDb, rightDelaySamples }) =>
    use === "themselves" && !invertRight && rightGainDb === 0 && rightDelaySamples === 0,
  create({ use, invertRight, rightGainDb, rightDelaySamples }) {
    const gain = dbToGain(rightGainDb) * (invertRight ? -1 : 1);
    const delay = Math.round(rightDelaySamples);
    return (block, { from, to }) => {
      const [left, right] = block;
      if (!left || !right) return;
      const moved = right.slice();
      for (let i = from; i < to; i++) right[i] = gain * (moved[i - delay] ?? 0);
      for (let i = from; i < to; i++) {
        const [a, b] = [left[i]!, right[i]!];
        if (use === "left") right[i] = a;
        else if (use === "right") left[i] = b;
        else if (use === "mean") left[i] = right[i] = 0.5 * (a + b);
        else if (use === "exchanged") [left[i], right[i]] = [b, a];
      }
    };
  },
  summary({ use, invertRight, rightGainDb, rightDelaySamples }) {
    const from = parameters.use.options.find(({ value }) => value === use)!.label;
    return [
      use === "themselves" ? "" : `both from ${from}`,
      invertRight ? "right turned over" : "",
      rightGainDb === 0 ? "" : `right ${formatDb(rightGainDb, { sign: true })} dB`,
      rightDelaySamples === 0 ? "" : `right by ${Math.round(rightDelaySamples)} samples`,
    ]
      .filter(Boolean)
      .join(", ");
  },
};
