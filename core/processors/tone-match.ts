import { dbToGain, dbToPower } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { exp2, log10 } from "../math/deterministic-math";
import type { Decibels, Hertz } from "../audio/units";
import { convolution } from "./equaliser";
import { linearPhaseTaps, minimumPhaseTaps } from "../dsp/magnitude-filter";
import { choice, number, type Breakpoint, type BreakpointsParameter, type SettingsOf } from "../parameters/parameter";
import { envelopeAt } from "../parameters/breakpoints";
import { predictResponse } from "./predict-tone";
import type { ProcessorDefinition } from "./processor";

const spectrum = (label: string, help: string): BreakpointsParameter => ({
  kind: "points",
  label,
  help,
  x: { unit: "Hz", min: 10, max: 100_000 },
  y: { unit: "dB", min: -300, max: 200 },
  most: 512,
  default: [],
});

const parameters = {
  own: spectrum("Own spectrum", "Average spectrum of the item, as it was learned"),
  wanted: spectrum("Wanted spectrum", "Average spectrum of the reference, as it was learned"),
  edits: {
    ...spectrum("Drawn changes", "What is added to the difference by hand"),
    y: { unit: "dB", min: -24, max: 24 },
  } satisfies BreakpointsParameter,
  amountPercent: number("Amount", "How much of the difference is made up for", {
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 70,
  }),
  smoothing: choice(
    "Smoothed over",
    "How fine the difference is followed: wide follows the tone, narrow also single notes",
    {
      "1": "1 octave",
      "2": "1/2 octave",
      "3": "1/3 octave",
      "6": "1/6 octave",
      "12": "1/12 octave",
      "24": "1/24 octave",
    },
    "3",
  ),
  maxChangeDb: number("Max change", "It lifts and lowers by this at most", {
    unit: "dB",
    min: 0,
    max: 24,
    step: 0.5,
    default: 9,
  }),
  fromHz: number("Low limit", "It leaves alone what lies below", {
    unit: "Hz",
    min: 20,
    max: 2000,
    step: 5,
    scale: "log",
    default: 30,
  }),
  toHz: number("High limit", "It leaves alone what lies above", {
    unit: "Hz",
    min: 1000,
    max: 20000,
    step: 100,
    scale: "log",
    default: 16000,
  }),
  phase: choice("Phase", "Without delay, or linear: no phase shift, some ringing before", {
    minimum: "without delay",
    linear: "linear phase",
  }),
};

export type ToneMatchSettings = SettingsOf<typeof parameters>;

/** The curve is worked out at so many places an octave. */
const PLACES_PER_OCTAVE = 24;
const LOWEST: Hertz = 20;
const OCTAVES = 10;
/** Most of the loudness of speech and music lies between these. */
const LOUD_FROM: Hertz = 200;
const LOUD_TO: Hertz = 5000;
/** Over so many octaves it comes in at the ends of its range. */
const EDGE_OCTAVES = 0.5;

const LOG10_OF_2 = 0.3010299956639812;
const octavesOf = (hertz: Hertz): number => log10(hertz) / LOG10_OF_2;
const onOctaves = (points: readonly Breakpoint[]): Breakpoint[] => points.map(([hertz, db]) => [octavesOf(hertz), db]);

/** What the match does at frequencies from 20 Hz to 20 kHz, before edges and by-hand changes: shape [Hz, dB]. */
function differenceOf({ own, wanted, smoothing }: ToneMatchSettings): Breakpoint[] {
  const [a, b] = [onOctaves(own), onOctaves(wanted)];
  const lowest = octavesOf(LOWEST);
  const count = OCTAVES * PLACES_PER_OCTAVE + 1;
  const raw = Array.from({ length: count }, (_, n) => {
    const at = lowest + n / PLACES_PER_OCTAVE;
    return envelopeAt(b, at) - envelopeAt(a, at);
  });
  // Smoothed in dB by a raised cosine of the given width.
  const reach = Math.max(1, Math.round(PLACES_PER_OCTAVE / Number(smoothing)));
  const smooth = raw.map((_, n) => {
    let [sum, weights] = [0, 0];
    for (let k = -reach + 1; k < reach; k++) {
      const value = raw[n + k];
      if (value === undefined) continue;
      const weight = 1 - Math.abs(k) / reach;
      sum += weight * value;
      weights += weight;
    }
    return sum / weights;
  });
  return smooth.map((db, n) => [LOWEST * exp2(n / PLACES_PER_OCTAVE), db]);
}

/** The curve that is applied; shape [Hz, dB]. Nothing but the drawn changes until both spectra are learned. */
export function matchCurve(settings: ToneMatchSettings): Breakpoint[] {
  const { own, wanted, amountPercent, maxChangeDb, fromHz, toHz } = settings;
  const learned = own.length > 1 && wanted.length > 1;
  const difference = learned ? differenceOf(settings) : [[LOWEST, 0] as const, [LOWEST * exp2(OCTAVES), 0] as const];
  // The loudness is no matter of tone: the mean where it is mostly made stays.
  const inside = difference.filter(([hertz]) => hertz >= LOUD_FROM && hertz <= LOUD_TO);
  const mean = inside.length > 0 ? inside.reduce((sum, [, db]) => sum + db, 0) / inside.length : 0;
  const edits = onOctaves(settings.edits);
  const places = learned ? difference : Array.from({ length: 241 }, (_, n) => [LOWEST * exp2(n / 24), 0] as const);
  return places.map(([hertz, db]): Breakpoint => {
    const edge = Math.min(octavesOf(hertz / fromHz), octavesOf(toHz / hertz)) / EDGE_OCTAVES + 0.5;
    const share = Math.max(0, Math.min(1, edge));
    const matched = learned ? Math.max(-maxChangeDb, Math.min(maxChangeDb, ((db - mean) * amountPercent) / 100)) : 0;
    return [hertz, share * matched + envelopeAt(edits, octavesOf(hertz))];
  });
}

/** dB of a curve at a frequency, straight over octaves between its points. */
function responseOf(curve: readonly Breakpoint[]): (hertz: Hertz) => Decibels {
  const line = onOctaves(curve);
  return (hertz) => envelopeAt(line, octavesOf(Math.max(1, hertz)));
}

/** Gives an item the tone of a reference. */
export const toneMatch: ProcessorDefinition<typeof parameters> = {
  id: "tone-match",
  name: "Tone match",
  group: "tone",
  help: "Gives the item the average spectrum of a reference, smoothed and within limits",
  keywords: "match reference spectrum tone similar drawn line",
  parameters,
  commonControls: "all",
  visualiser: { kind: "tone match" },
  memory: 1,
  create(settings, { sampleRate, layout }) {
    const curve = matchCurve(settings);
    if (curve.every(([, db]) => Math.abs(db) < 1e-6)) return { latency: 0, process: () => undefined };
    const response = responseOf(curve);
    const magnitude = (hertz: Hertz) => dbToGain(response(hertz));
    const taps =
      settings.phase === "linear" ? linearPhaseTaps(magnitude, sampleRate) : minimumPhaseTaps(magnitude, sampleRate);
    return convolution(taps, layout.speakers.length, settings.phase === "linear");
  },
  predict(levels, settings) {
    const response = responseOf(matchCurve(settings));
    return predictResponse(levels, (hertz) => dbToPower(response(hertz)));
  },
  summary(settings) {
    if (settings.own.length < 2 || settings.wanted.length < 2) return "nothing learned yet";
    const most = Math.max(...matchCurve(settings).map(([, db]) => Math.abs(db)));
    return `${settings.amountPercent} %, up to ±${formatDb(most)} dB`;
  },
  presets: [
    {
      name: "Tone only",
      use: "the broad balance, half of the way",
      settings: { smoothing: "1", amountPercent: 50, maxChangeDb: 6 },
    },
    {
      name: "Close",
      use: "two recordings of the same voice or set",
      settings: { smoothing: "6", amountPercent: 100, maxChangeDb: 12 },
    },
  ],
};
