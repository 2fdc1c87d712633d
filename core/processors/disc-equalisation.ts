import { formatDb, formatHertz } from "../audio/format";
import { powerAt, type AnalogueBiquad } from "../dsp/analogue-filter";
import { dbToPower, powerToDb } from "../audio/decibel";
import { square } from "../math/deterministic-math";
import type { Decibels, Hertz } from "../audio/units";
import { choice, number, type SettingsOf } from "../parameters/parameter";
import { toneProcessor } from "./tone-processor";
import type { Preset, ProcessorDefinition } from "./processor";

const RADIANS_A_TURN = 6.283185307179586;
const ROLL_OFF_AT: Hertz = 10_000;

const cornerOf = (microseconds: number): Hertz => 1e6 / (RADIANS_A_TURN * microseconds);
const rounded = (number: number): number => Number(number.toFixed(2));

/** The standard's time constants, as the settings say them. */
const IEC_60098 = {
  turnoverHz: rounded(cornerOf(318)),
  bassShelfHz: rounded(cornerOf(3180)),
  // What a first-order low-pass takes off at 10 kHz.
  rollOffDb: rounded(powerToDb(1 + square(ROLL_OFF_AT / cornerOf(75)))),
};

const parameters = {
  direction: choice("Direction", "Playback undoes what was done when the disc was cut; recording does it", {
    playback: "playback",
    recording: "recording",
  }),
  turnoverHz: number("Turnover", "Below it discs are cut with less bass: playback lifts by 6 dB an octave", {
    unit: "Hz",
    min: 100,
    max: 1000,
    step: 0.05,
    scale: "log",
    default: IEC_60098.turnoverHz,
  }),
  bassShelfHz: number("Bass shelf", "Below it the lift of the bass ends; 10 Hz is practically without end", {
    unit: "Hz",
    min: 10,
    max: 100,
    step: 0.05,
    scale: "log",
    default: IEC_60098.bassShelfHz,
  }),
  rollOffDb: number("Roll-off", "By how much playback lowers 10 kHz against what lies far below; 0 dB is none", {
    unit: "dB",
    min: 0,
    max: 24,
    step: 0.01,
    default: IEC_60098.rollOffDb,
  }),
};

type Settings = SettingsOf<typeof parameters>;

/** Curves are told against this frequency. */
const REFERENCE: Hertz = 1000;

/** Corner of a first-order low-pass that is `db` down at 10 kHz. */
const rollOffCorner = (db: Decibels): Hertz => ROLL_OFF_AT / Math.sqrt(dbToPower(db) - 1);

const inverse = ({ hertz, a, b }: AnalogueBiquad): AnalogueBiquad => ({ hertz, a: b, b: a });

/**
 * The curve at playback as first-order sections: bass lifted between turnover and shelf, treble falling from the
 * roll-off's corner (IEC 60098: time constants of 3180, 318 and 75 µs), 0 dB at 1 kHz.
 */
function sectionsOf({ direction, turnoverHz, bassShelfHz, rollOffDb }: Settings): AnalogueBiquad[] {
  const playback: AnalogueBiquad[] = [];
  if (turnoverHz > bassShelfHz)
    playback.push({ hertz: bassShelfHz, b: [turnoverHz / bassShelfHz, 1, 0], a: [1, 1, 0] });
  if (rollOffDb > 0) playback.push({ hertz: rollOffCorner(rollOffDb), b: [1, 0, 0], a: [1, 1, 0] });
  const atReference = Math.sqrt(playback.reduce((product, section) => product * powerAt(section, REFERENCE), 1));
  const [first] = playback;
  if (!first) return [];
  playback[0] = { ...first, b: [first.b[0] / atReference, first.b[1] / atReference, 0] };
  return direction === "playback" ? playback : playback.map(inverse);
}

/** Level at a frequency against 1 kHz. */
export const discResponseDb = (settings: Settings, hertz: Hertz): Decibels =>
  powerToDb(sectionsOf(settings).reduce((product, section) => product * powerAt(section, hertz), 1));

/** Discs from before there was a standard, by turnover and roll-off. */
const historic = (turnoverHz: Hertz, rollOffDb: Decibels, use: string): Preset<typeof parameters> => ({
  name: `${turnoverHz} Hz, ${rollOffDb === 0 ? "flat" : formatDb(-rollOffDb)}`,
  use,
  settings: { turnoverHz, bassShelfHz: 10, rollOffDb },
});

/** The curve with which discs are cut, undone or done. */
export const discEqualisation: ProcessorDefinition<typeof parameters> = {
  id: "disc-equalisation",
  name: "Disc equalisation",
  group: "tone",
  help: "The playback curve of gramophone records, and its inverse, by turnover and roll-off",
  keywords: "record vinyl shellac gramophone disc phono playback curve iec 60098 turnover roll-off emphasis archive",
  parameters,
  commonControls: "levels and sides",
  memory: 2,
  neutral: { turnoverHz: 100, bassShelfHz: 100, rollOffDb: 0 },
  ...toneProcessor(sectionsOf),
  summary: ({ direction, turnoverHz, rollOffDb }) =>
    `${direction}, ${formatHertz(turnoverHz)}, ${formatDb(-rollOffDb)} dB at 10 kHz`,
  presets: [
    {
      name: "IEC 60098",
      use: "microgroove records: 3180, 318 and 75 µs",
      settings: IEC_60098,
    },
    {
      name: "IEC 60098, undone",
      use: "a transfer that was played with the standard's curve though the disc has another: this first, then its own",
      settings: { ...IEC_60098, direction: "recording" },
    },
    historic(200, 0, "many acoustic recordings, and early electric ones with little bass held back"),
    historic(250, 0, "electric recordings without treble emphasis"),
    historic(300, 5, "electric recordings with slight treble emphasis"),
    historic(500, 0, "electric recordings with a high turnover, treble flat"),
    historic(400, 12, "early microgroove discs"),
    historic(500, 12, "transcription and early microgroove discs"),
    historic(500, 16, "transcription discs with strong treble emphasis"),
  ],
};
