import { formatDb } from "../audio/format";
import { shelf, type AnalogueBiquad } from "../dsp/analogue-filter";
import type { Hertz } from "../audio/units";
import { number, type NumberParameter, type SettingsOf } from "../parameters/parameter";
import { toneProcessor } from "./tone-processor";
import type { ProcessorDefinition } from "./processor";

/** The steepest shelf without a bump. */
const SHELF_Q = 0.71;

/** Gain of a tone control: ± 15 dB. */
export const toneGainDb = (label: string, help: string): NumberParameter =>
  number(label, help, { unit: "dB", min: -15, max: 15, step: 0.1, default: 0 });

/** Corner of a tone control, where a shelf has half of its gain in dB. */
export const toneHertz = (
  label: string,
  help: string,
  [min, initial, max]: readonly [Hertz, Hertz, Hertz],
): NumberParameter => number(label, help, { unit: "Hz", min, max, step: 1, scale: "log", default: initial });

export const bass = {
  bassDb: toneGainDb("Bass", "Lifts or lowers what lies below its corner"),
  bassHz: toneHertz("Bass corner", "Where half of its gain is reached", [40, 200, 800]),
};

export const treble = {
  trebleDb: toneGainDb("Treble", "Lifts or lowers what lies above its corner"),
  trebleHz: toneHertz("Treble corner", "Where half of its gain is reached", [1200, 4000, 16000]),
};

const parameters = { ...bass, ...treble };

export const shelvesOf = ({
  bassDb,
  bassHz,
  trebleDb,
  trebleHz,
}: SettingsOf<typeof bass & typeof treble>): AnalogueBiquad[] => [
  ...(bassDb === 0 ? [] : [shelf("low", bassHz, bassDb, SHELF_Q)]),
  ...(trebleDb === 0 ? [] : [shelf("high", trebleHz, trebleDb, SHELF_Q)]),
];

/** Gains in a few words: "bass +2.0, treble −1.5 dB". */
export const gainWords = (gains: Readonly<Record<string, number>>): string =>
  `${Object.entries(gains)
    .filter(([, db]) => db !== 0)
    .map(([name, db]) => `${name} ${formatDb(db, { sign: true })}`)
    .join(", ")} dB`.replace(/^ dB$/, "flat");

/** Bass and treble as two shelves. */
export const bassTreble: ProcessorDefinition<typeof parameters> = {
  id: "bass-treble",
  name: "Bass and treble",
  group: "tone",
  help: "Two shelves: more or less bass, more or less treble",
  keywords: "bass treble tone control simple shelf low high bright dark warm",
  parameters,
  commonControls: "all",
  memory: 1,
  ...toneProcessor(shelvesOf),
  automatable: Object.keys(parameters),
  summary: ({ bassDb, trebleDb }) => gainWords({ bass: bassDb, treble: trebleDb }),
  presets: [
    { name: "Quiet listening", use: "what the ear loses first at low levels", settings: { bassDb: 4, trebleDb: 2 } },
    { name: "Less boom", use: "a voice too near to its microphone", settings: { bassDb: -4, bassHz: 160 } },
  ],
};
