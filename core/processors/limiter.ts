import { exp2 } from "../math/deterministic-math";
import { dbToGain, gainToDb } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { slicePlanar, type Planar } from "../audio/units";
import { LowBandLimiter } from "./low-band-limiter";
import { TruePeakLimiterStage } from "./true-peak-limiter-stage";
import { number, onOff, type SettingsOf } from "../parameters/parameter";
import type { LevelCurves, ProcessorDefinition } from "./processor";

const parameters = {
  ceilingDbtp: number("Ceiling", "The true peak that nothing goes above", {
    unit: "dBTP",
    min: -30,
    max: 0,
    step: 0.1,
    default: -1,
  }),
  releaseMs: number("Release", "How fast the level comes back after a peak; slower by itself while limiting goes on", {
    unit: "ms",
    min: 10,
    max: 2000,
    step: 10,
    scale: "log",
    default: 120,
  }),
  lookAheadMs: number("Look-ahead", "How early the level begins to yield to a peak", {
    unit: "ms",
    min: 1,
    max: 20,
    step: 0.5,
    default: 5,
  }),
  bassApart: onOff(
    "Bass apart",
    "Where the bass alone would rise above the ceiling, it alone is held back, and does not turn down what sounds with it",
    true,
  ),
  link: onOff("Link channels", "One gain for all channels, so that the image stays where it is", true),
};

/** Time for which the least gain is held: half a period of 50 Hz, so that a bass note does not modulate itself. */
const HOLD_SECONDS = 0.01;
/** The last stage only takes off what the gain's own movement put between samples: hundredths of a decibel. */
const CATCH = { lookAhead: 0.001, hold: 0.001, release: 0.03 };
/** Room for the rounding of the output to float32. */
const ROUNDING = 1 - exp2(-22);
/** Share of the peak reduction taken to show in the momentary loudness: a rough estimate; a steady tone loses more. */
const LOUDNESS_SHARE = 0.45;

/** Brick-wall limiter on the true peak. */
export const limiter: ProcessorDefinition<typeof parameters> = {
  id: "limiter",
  name: "Limiter",
  group: "dynamics",
  help: "Keeps the true peak at or under a ceiling",
  keywords: "limit brickwall peak ceiling loud true peak",
  parameters,
  commonControls: "levels and sides",
  memory: 6,
  create(settings, { sampleRate, layout }) {
    const ceiling = dbToGain(settings.ceilingDbtp) * ROUNDING;
    const main = {
      ceiling,
      lookAhead: settings.lookAheadMs / 1000,
      hold: HOLD_SECONDS,
      release: settings.releaseMs / 1000,
    };
    const channels = layout.speakers.length;
    const groups = settings.link ? [channels] : Array.from({ length: channels }, () => 1);
    const stages = groups.map((size) => [
      ...(settings.bassApart ? [new LowBandLimiter(size, sampleRate, main)] : []),
      new TruePeakLimiterStage(size, sampleRate, main),
      new TruePeakLimiterStage(size, sampleRate, { ...CATCH, ceiling }),
    ]);
    const each = (block: Planar, frames: number) => {
      let first = 0;
      groups.forEach((size, group) => {
        const members = block.slice(first, first + size);
        for (const stage of stages[group]!) stage.process(members, frames);
        first += size;
      });
    };
    return {
      latency: stages[0]!.reduce((sum, stage) => sum + stage.latency, 0),
      state: stages.flat(),
      process: (block, frames) => each(slicePlanar(block, 0, frames), frames),
      // Of everything, and of the bass alone.
      takeGainReduction: () => {
        const most = (of: (TruePeakLimiterStage | LowBandLimiter)[][]) =>
          Math.max(
            0,
            ...of.map((row) => -gainToDb(row.reduce((product, stage) => product * stage.takeMinimumGain(), 1))),
          );
        const whole = most(stages.map((row) => row.slice(-2)));
        return settings.bassApart ? [whole, most(stages.map((row) => row.slice(0, 1)))] : [whole];
      },
    };
  },
  automatable: ["ceilingDbtp"],
  predict: (levels, settings) => predictLimiting(levels, settings.ceilingDbtp),
  summary: ({ ceilingDbtp }: SettingsOf<typeof parameters>) => `ceiling ${formatDb(ceilingDbtp)} dBTP`,
  presets: [
    { name: "Safety", use: "last in a chain, for the odd peak", settings: { ceilingDbtp: -1, releaseMs: 120 } },
    { name: "Bass-heavy", use: "long notes that must not growl", settings: { releaseMs: 400, lookAheadMs: 10 } },
    { name: "Percussive", use: "short strokes: back at once", settings: { releaseMs: 50, lookAheadMs: 2 } },
  ],
};

function predictLimiting(levels: LevelCurves, ceilingDbtp: number): LevelCurves {
  const { peakDb, momentaryLufs, intersampleDb } = levels;
  const highest = ceilingDbtp - intersampleDb;
  const over = peakDb.map((peak) => Math.max(0, peak - highest));
  return {
    ...levels,
    peakDb: peakDb.map((peak) => Math.min(peak, highest)),
    // A momentary value covers the four steps up to it.
    momentaryLufs: momentaryLufs.map((level, i) => {
      const cut = ((over[i] ?? 0) + (over[i - 1] ?? 0) + (over[i - 2] ?? 0) + (over[i - 3] ?? 0)) / 4;
      return level - LOUDNESS_SHARE * cut;
    }),
  };
}
