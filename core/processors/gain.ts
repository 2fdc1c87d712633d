import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { number, onOff, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  gainDb: number("Gain", "Raises or lowers all channels alike", {
    unit: "dB",
    min: -60,
    max: 60,
    step: 0.1,
    default: 0,
  }),
  invert: onOff("Invert polarity", "Turns the waveform over"),
};

/** Gain and polarity. Exact: 0 dB gives the same bits. */
export const gain: ProcessorDefinition<typeof parameters> = {
  id: "gain",
  name: "Gain",
  group: "level",
  help: "Sets the level, and turns polarity over if asked",
  keywords: "volume level trim polarity invert phase",
  parameters,
  commonControls: "none",
  memory: 0,
  create(settings) {
    const factor = dbToGain(settings.gainDb) * (settings.invert ? -1 : 1);
    return {
      latency: 0,
      state: [],
      process(block, frames) {
        if (factor === 1) return;
        for (const channel of block) for (let i = 0; i < frames; i++) channel[i] = channel[i]! * factor;
      },
    };
  },
  automatable: ["gainDb"],
  predict: (levels, { gainDb }: SettingsOf<typeof parameters>) => ({
    ...levels,
    peakDb: levels.peakDb.map((peak) => peak + gainDb),
    momentaryLufs: levels.momentaryLufs.map((level) => level + gainDb),
  }),
  summary: ({ gainDb, invert }) => `${formatDb(gainDb, { sign: true })} dB${invert ? ", inverted" : ""}`,
  presets: [],
};
