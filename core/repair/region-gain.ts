import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import type { RepairDefinition } from "./repair";

const parameters = {
  gainDb: {
    kind: "number",
    label: "Gain",
    help: "Raises or lowers what is selected; the lowest setting silences it",
    unit: "dB",
    min: -100,
    max: 24,
    step: 0.5,
    scale: "linear",
    default: -12,
  },
  fadeSeconds: {
    kind: "number",
    label: "Fade time",
    help: "How long the gain takes to come and to go",
    unit: "s",
    min: 0.001,
    max: 5,
    step: 0.001,
    scale: "log",
    default: 0.01,
  },
  fades: {
    kind: "choice",
    label: "Fade position",
    help: "Within what is selected, or before and after it",
    options: [
      { value: "inside", label: "within" },
      { value: "outside", label: "before and after" },
    ],
    default: "inside",
  },
} as const;

/** Nothing is heard at the end of the scale. */
const SILENCE_DB = -100;

/** Raises, lowers or silences a range, or a box in time and frequency: a breath, a cough, a squeak. */
export const regionGain: RepairDefinition<typeof parameters> = {
  id: "region-gain",
  name: "Region gain",
  help: "Lowers, raises or silences a range, or only a band of it",
  panel: "similar regions",
  parameters,
  edges: ({ fadeSeconds, fades }) => ({ seconds: fadeSeconds, outside: fades === "outside" }),
  contextSeconds: () => 0,
  isNeutral: ({ gainDb }) => gainDb === 0,
  create({ gainDb }) {
    const gain = gainDb <= SILENCE_DB ? 0 : dbToGain(gainDb);
    return (block, { from, to }) => {
      for (const channel of block) for (let i = from; i < to; i++) channel[i] = channel[i]! * gain;
    };
  },
  summary: ({ gainDb }) =>
    gainDb <= SILENCE_DB
      ? "silenced"
      : `${formatDb(gainDb, { sign: true })} dB, to ${Math.round(100 * dbToGain(gainDb))} %`,
};
