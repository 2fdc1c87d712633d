import { exp2 } from "../math/deterministic-math";
import { dbToGain, gainToDb } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { slicePlanar, type Decibels, type Planar } from "../audio/units";
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
  releaseMs: number("Release", "How fast dense passages are let go of; after a single peak the level is back at once", {
    unit: "ms",
    min: 10,
    max: 2000,
    step: 10,
    scale: "log",
    default: 600,
  }),
  lookAheadMs: number("Look-ahead", "How early the level begins to yield to a peak", {
    unit: "ms",
    min: 0.5,
    max: 20,
    step: 0.1,
    default: 0.7,
  }),
  bassApart: onOff(
    "Bass apart",
    "Bass that alone would rise above the ceiling is held back alone, and does not turn down what sounds with it",
    false,
  ),
  link: onOff("Link channels", "One gain for all channels, so that the image stays where it is", true),
};

/** The last stage only takes off what the gain's own movement put between samples: hundredths of a decibel. */
const CATCH = { lookAhead: 0.001, peakRelease: 0.03, release: 0.03 };
/** The bass moves more slowly than what is on it: its gain needs this look-ahead. */
const BASS_LOOK_AHEAD = 0.005;
/** Room for the rounding of the output to float32. */
const ROUNDING = 1 - exp2(-22);
/**
 * How much of the peak reduction shows in the momentary loudness, fitted on music and speech: little of a decibel that
 * only crests lose, most of eight. A rough estimate: a steady tone loses all.
 */
const loudnessLost = (cutDb: Decibels): Decibels => cutDb * Math.min(0.9, 0.12 + 0.1 * cutDb);

/** Brick-wall limiter on the true peak. */
export const limiter: ProcessorDefinition<typeof parameters> = {
  id: "limiter",
  name: "Limiter",
  group: "dynamics",
  help: "Keeps the true peak at or under a ceiling",
  keywords: "limit brickwall peak ceiling loud true peak",
  parameters,
  commonControls: "levels and sides",
  visualiser: { kind: "peaks" },
  reductionNames: ({ bassApart }) => (bassApart ? ["everything", "the bass alone"] : [""]),
  memory: 6,
  create(settings, { sampleRate, layout }) {
    const ceiling = dbToGain(settings.ceilingDbtp) * ROUNDING;
    const main = {
      ceiling,
      lookAhead: settings.lookAheadMs / 1000,
      release: settings.releaseMs / 1000,
    };
    const channels = layout.speakers.length;
    const groups = settings.link ? [channels] : Array.from({ length: channels }, () => 1);
    const stages = groups.map((size) => [
      ...(settings.bassApart
        ? [new LowBandLimiter(size, sampleRate, { ...main, lookAhead: Math.max(main.lookAhead, BASS_LOOK_AHEAD) })]
        : []),
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
      // Of everything, and of the bass alone: each the deepest of its own stage, not a product of different moments.
      takeGainReduction: () =>
        (settings.bassApart ? [-2, 0] : [-2]).map((at) => {
          const gains = stages.map((row) => row.at(at)!.takeMinimumGain());
          return Math.max(0, ...gains.map((gain) => -gainToDb(gain)));
        }),
    };
  },
  automatable: ["ceilingDbtp"],
  predict: (levels, settings) => predictLimiting(levels, settings.ceilingDbtp),
  summary: ({ ceilingDbtp }: SettingsOf<typeof parameters>) => `ceiling ${formatDb(ceilingDbtp)} dBTP`,
  presets: [
    { name: "Safety", use: "last in a chain, for the odd peak", settings: { ceilingDbtp: -1 } },
    { name: "Bass-heavy", use: "long notes that must not growl", settings: { bassApart: true, releaseMs: 1000 } },
    {
      name: "Sustained",
      use: "strings and organs: a gain that moves slowly",
      settings: { lookAheadMs: 5, releaseMs: 1500 },
    },
  ],
};

function predictLimiting(levels: LevelCurves, ceilingDbtp: number): LevelCurves {
  const { intersampleDb } = levels;
  const highest = ceilingDbtp - intersampleDb;
  const peakDb = new Float32Array(levels.peakDb.length);
  // In single precision, as the curve itself.
  const over = new Float32Array(peakDb.length);
  for (let i = 0; i < peakDb.length; i++) {
    const peak = levels.peakDb[i]!;
    over[i] = Math.max(0, peak - highest);
    peakDb[i] = Math.min(peak, highest);
  }
  const momentaryLufs = new Float32Array(levels.momentaryLufs.length);
  for (let i = 0; i < momentaryLufs.length; i++) {
    // A momentary value covers the four steps up to it.
    let lost = 0;
    for (let back = 0; back < 4; back++) lost += loudnessLost(over[i - back] ?? 0);
    momentaryLufs[i] = levels.momentaryLufs[i]! - lost / 4;
  }
  return { ...levels, peakDb, momentaryLufs };
}
