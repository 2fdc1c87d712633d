import { log10 } from "../math/deterministic-math";
import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { slicePlanar } from "../audio/units";
import { Oversampled } from "../dsp/oversampling";
import { choice, number, type SettingsOf } from "../parameters/parameter";
import { TruePeakLimiterStage } from "./true-peak-limiter-stage";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  ceilingDbfs: number("Ceiling", "What lies above is cut off", {
    unit: "dBFS",
    min: -30,
    max: 0,
    step: 0.1,
    default: -1,
  }),
  kneePercent: number("Softness", "From where the waveform begins to bend; 0 cuts hard", {
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 25,
  }),
  oversampling: choice(
    "Works at",
    "How many times the rate it works at; more keeps high tones cleaner, and costs more",
    { "4": "4 × rate", "8": "8 × rate", "16": "16 × rate" },
    "8",
  ),
};

/** Back at the rate, what was cut off rings above the ceiling by tenths of a decibel: that is taken off again, with 0.02 dB to spare. */
const ROOM = 0.998;
const RINGING = { lookAhead: 0.001, peakRelease: 0.005, release: 0.03 };

/** Cuts off the tips of peaks, without moving the level around them. */
export const clipper: ProcessorDefinition<typeof parameters> = {
  id: "clipper",
  name: "Clipper",
  group: "dynamics",
  help: "Cuts off the tips of short peaks, hard or soft, so that a limiter has less to do; nothing rises above the ceiling",
  keywords: "clip peaks hard soft drums louder tips",
  parameters,
  commonControls: "all",
  visualiser: { kind: "peaks" },
  reductionNames: () => [""],
  memory: 0.5,
  create({ ceilingDbfs, kneePercent, oversampling }, { sampleRate, layout }) {
    const ceiling = dbToGain(ceilingDbfs);
    const knee = ceiling * (1 - kneePercent / 100);
    let most = 1;
    /** Straight up to the knee, then a parabola that reaches the ceiling level. Hot. */
    const cutOff = (x: Float32Array) => {
      const span = 2 * (ceiling - knee);
      for (let i = 0; i < x.length; i++) {
        const v = x[i]!;
        const size = v < 0 ? -v : v;
        if (size <= knee) {
          x[i] = 0;
          continue;
        }
        const over = size - knee;
        const kept = over >= span ? ceiling : size - (over * over) / (2 * span);
        if (kept < most * size) most = kept / size;
        x[i] = v < 0 ? size - kept : kept - size;
      }
    };
    const steps = { "4": 2, "8": 3, "16": 4 }[oversampling];
    const lines = layout.speakers.map(() => new Oversampled(steps, sampleRate, { reference: cutOff }));
    const tails = layout.speakers.map(
      () => new TruePeakLimiterStage(1, sampleRate, { ...RINGING, ceiling: ROOM * ceiling }),
    );
    return {
      latency: lines[0]!.latency + tails[0]!.latency,
      state: [...lines, ...tails],
      process: (block, frames) =>
        slicePlanar(block, 0, frames).forEach((x, c) => {
          lines[c]!.process(x);
          tails[c]!.process([x], frames);
        }),
      takeGainReduction() {
        const reduction = most < 1 ? -20 * log10(most) : 0;
        most = 1;
        return [reduction];
      },
    };
  },
  automatable: ["ceilingDbfs", "kneePercent"],
  predict: (levels, { ceilingDbfs }) => ({
    ...levels,
    peakDb: levels.peakDb.map((peak) => Math.min(peak, ceilingDbfs)),
    // Tips are short: of their height little shows in the loudness.
    momentaryLufs: levels.momentaryLufs.map(
      (level, i) => level - 0.1 * Math.max(0, (levels.peakDb[i] ?? -Infinity) - ceilingDbfs),
    ),
  }),
  summary: ({ ceilingDbfs, kneePercent }: SettingsOf<typeof parameters>) =>
    `${formatDb(ceilingDbfs)} dBFS, ${kneePercent === 0 ? "hard" : "soft"}`,
  presets: [
    { name: "Tips of drums", use: "a decibel or two before a limiter", settings: { ceilingDbfs: -3, kneePercent: 30 } },
    { name: "Hard", use: "where it should be heard", settings: { ceilingDbfs: -6, kneePercent: 0 } },
  ],
};
