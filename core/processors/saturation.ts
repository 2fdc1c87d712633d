import { log10, power } from "../math/deterministic-math";
import { waveshaper } from "../kernels/waveshaper";
import { butterworth } from "../dsp/butterworth";
import { dbToGain } from "../audio/decibel";
import { slicePlanar, type Planar } from "../audio/units";
import { shelf } from "../dsp/analogue-filter";
import { matchedFilter } from "../dsp/matched-filter";
import { Oversampled } from "../dsp/oversampling";
import { choice, number, type SettingsOf } from "../parameters/parameter";
import { BiquadCascade } from "../dsp/biquad-cascade";
import { predictReduction } from "./predict-reduction";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  driveDb: number("Drive", "How far the waveform is bent; 0 leaves it alone", {
    unit: "dB",
    min: 0,
    max: 24,
    step: 0.5,
    default: 6,
  }),
  evenPercent: number("Even", "Share of even harmonics, which lie an octave above; the rest are odd ones", {
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 20,
  }),
  toneDb: number("Tone", "What is bent more: below 0 the low end, above 0 the top", {
    unit: "dB",
    min: -12,
    max: 12,
    step: 0.5,
    default: 0,
  }),
  oversampling: choice(
    "Works at",
    "How many times the rate it works at; more keeps high tones cleaner, and costs more",
    { "4": "4 × rate", "8": "8 × rate", "16": "16 × rate" },
  ),
};

const TONE_HERTZ = 1000;
/** The curve reaches its end here, before drive: at +6 dBFS. */
const CEILING = 2;
const SEVENTH = 1 / 7;
/** The bias that makes the most even harmonics. */
const MOST_BIAS = 0.45;
const DC_HERTZ = 5;

/**
 * u − u³ + 3/5·u⁵ − 1/7·u⁷, the integral of (1 − u²)³: slope 1 at 0, and three derivatives that vanish at ±1, beyond
 * which it stays. Of degree 7, so that at 4 times the rate nothing that it makes of what can be heard falls back
 * below 20 kHz as long as it does not reach its ends; and smooth there, so that what does is below −100 dB.
 */
export function waveshaped(u: number): number {
  if (u >= 1) return 16 / 35;
  if (u <= -1) return -16 / 35;
  const q = u * u;
  return u * (1 + q * (-1 + q * (0.6 - q * SEVENTH)));
}

/** The waveform after it, for a drawing: of a sample between −1 and 1. */
export function waveshapedSample(
  x: number,
  { driveDb, evenPercent }: { driveDb: number; evenPercent: number },
): number {
  const drive = dbToGain(driveDb) / CEILING;
  const bias = (MOST_BIAS * evenPercent) / 100;
  const slope = power(1 - bias * bias, 3);
  return (waveshaped(x * drive + bias) - waveshaped(bias)) / (drive * slope);
}

/** Bends the waveform softly. */
export const saturation: ProcessorDefinition<typeof parameters> = {
  id: "saturation",
  name: "Saturation",
  group: "colour",
  help: "Adds harmonics and rounds peaks: warmth, density, presence",
  keywords: "warmth harmonics distortion drive tape tube valve density colour",
  parameters,
  commonControls: "all",
  visualiser: { kind: "harmonics" },
  memory: 0.5,
  neutral: { driveDb: 0 },
  create({ driveDb, evenPercent, toneDb, oversampling }, { sampleRate, layout }) {
    if (driveDb === 0) return { latency: 0, process: () => undefined };
    const channels = layout.speakers.length;
    const drive = dbToGain(driveDb) / CEILING;
    const bias = (MOST_BIAS * evenPercent) / 100;
    const scale = 1 / (drive * power(1 - bias * bias, 3));
    const steps = { "4": 2, "8": 3, "16": 4 }[oversampling];
    const lines = Array.from(
      { length: channels },
      () => new Oversampled(steps, sampleRate, waveshaper(drive, bias, scale)),
    );
    const around = (db: number) => (db === 0 ? null : matchedFilter([shelf("high", TONE_HERTZ, db, 0.5)], sampleRate));
    const [before, after] = [around(toneDb), around(-toneDb)].map(
      (filter) => filter && new BiquadCascade(filter, channels),
    );
    const blocker = bias > 0 ? BiquadCascade.of(butterworth("high", DC_HERTZ, 2, sampleRate), channels) : null;
    return {
      latency: lines[0]!.latency,
      state: [before, after, blocker, ...lines].filter((part) => part !== null && part !== undefined),
      process(given, frames) {
        const block: Planar = slicePlanar(given, 0, frames);
        before?.process(block, frames);
        block.forEach((x, c) => lines[c]!.process(x));
        after?.process(block, frames);
        blocker?.process(block, frames);
      },
    };
  },
  automatable: ["driveDb", "evenPercent", "toneDb"],
  // Peaks are rounded by the curve; the loudness follows by about half.
  predict: (levels, settings) =>
    settings.driveDb === 0
      ? levels
      : predictReduction(
          levels,
          (level) => {
            const peak = dbToGain(Math.min(level, 24));
            return Math.max(0, -20 * log10(Math.max(1e-6, waveshapedSample(peak, settings) / peak)));
          },
          { attackMs: 0, releaseMs: 0, detection: "rms" },
        ),
  summary: ({ driveDb, evenPercent }: SettingsOf<typeof parameters>) => `drive ${driveDb} dB, even ${evenPercent} %`,
  presets: [
    { name: "A little density", use: "on a mix that is too clean", settings: { driveDb: 4, evenPercent: 15 } },
    {
      name: "Body for a thin voice",
      use: "on a voice without warmth",
      settings: { driveDb: 8, evenPercent: 60, toneDb: -6 },
    },
    { name: "Edge", use: "where the top should come forward", settings: { driveDb: 9, evenPercent: 10, toneDb: 8 } },
  ],
};
