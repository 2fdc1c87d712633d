import { formatHertz } from "../audio/format";
import { cut, type AnalogueBiquad } from "../dsp/analogue-filter";
import { choice, number, onOff, type SettingsOf } from "../parameters/parameter";
import { toneProcessor } from "./tone-processor";
import type { ProcessorDefinition } from "./processor";

const SLOPES = {
  "6": "6 dB/octave",
  "12": "12 dB/octave",
  "18": "18 dB/octave",
  "24": "24 dB/octave",
  "36": "36 dB/octave",
  "48": "48 dB/octave",
  "72": "72 dB/octave",
  "96": "96 dB/octave",
} as const;

const parameters = {
  high: onOff("High-pass", "Takes away what lies below a frequency", true),
  highHz: number("HPF cutoff", "Corner of the high-pass, −3 dB", {
    unit: "Hz",
    min: 10,
    max: 2000,
    step: 1,
    scale: "log",
    default: 30,
  }),
  highSlope: choice("HPF slope", "How steeply the high-pass falls", SLOPES, "24"),
  low: onOff("Low-pass", "Takes away what lies above a frequency"),
  lowHz: number("LPF cutoff", "Corner of the low-pass, −3 dB", {
    unit: "Hz",
    min: 500,
    max: 22000,
    step: 100,
    scale: "log",
    default: 18000,
  }),
  lowSlope: choice("LPF slope", "How steeply the low-pass falls", SLOPES, "24"),
};

type Settings = SettingsOf<typeof parameters>;

const biquadsOfFilter = (settings: Settings): AnalogueBiquad[] => [
  ...(settings.high ? cut("high", settings.highHz, Number(settings.highSlope) / 6) : []),
  ...(settings.low ? cut("low", settings.lowHz, Number(settings.lowSlope) / 6) : []),
];

/** High- and low-pass. */
export const filter: ProcessorDefinition<typeof parameters> = {
  id: "filter",
  name: "Filter",
  group: "tone",
  help: "Takes away what lies below or above: rumble, subsonics, hiss at the top",
  keywords: "high-pass low-pass high pass low cut rumble subsonic hpf lpf",
  parameters,
  commonControls: "all",
  memory: 1,
  neutral: { high: false, low: false },
  ...toneProcessor(biquadsOfFilter),
  automatable: ["highHz", "lowHz"],
  summary: ({ high, highHz, low, lowHz }) =>
    [high ? `from ${formatHertz(highHz)}` : "", low ? `to ${formatHertz(lowHz)}` : ""].filter(Boolean).join(", ") ||
    "off",
  presets: [
    { name: "Below music", use: "what no loudspeaker plays but every limiter feels", settings: { highHz: 22 } },
    { name: "Below a voice", use: "steps, traffic, handling under speech", settings: { highHz: 75 } },
    { name: "Narrow band", use: "a telephone or a small radio", settings: { highHz: 320, low: true, lowHz: 3400 } },
  ],
};
