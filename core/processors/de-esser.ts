import { slicePlanar, type Frames } from "../audio/units";
import { formatHertz } from "../audio/format";
import { crossover } from "../dsp/crossover";
import { GainFollower, LevelDetector, shareOfStep } from "../dsp/dynamics";
import { number, onOff, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  fromHz: number("Frequency", "Where the hiss of s and sh begins", {
    unit: "Hz",
    min: 2000,
    max: 12000,
    step: 50,
    scale: "log",
    default: 5000,
  }),
  aboveDb: number("Threshold", "Level of the hiss against the whole voice above which it is held back", {
    unit: "dB",
    min: -30,
    max: 6,
    step: 0.5,
    default: -12,
  }),
  maxReductionDb: number("Max reduction", "It is held back by this at most", {
    unit: "dB",
    min: 0,
    max: 24,
    step: 0.5,
    default: 8,
  }),
  speedMs: number("Release", "Time in which it lets go, 63 % of the way", {
    unit: "ms",
    min: 10,
    max: 300,
    step: 5,
    scale: "log",
    default: 50,
  }),
  listen: onOff("Listen to reduction", "Only what it takes away is heard"),
};

/** The level of the voice is that over some syllables. */
const VOICE_SECONDS = 0.3;
/** So many times as quickly it is taken up when it sets in. */
const SETS_IN = 20;
const ATTACK_SECONDS = 0.001;

/** The level of the voice: one that sets in counts at once; one that ends, slowly less. */
class VoiceLevel {
  #mean = 0;

  constructor(readonly share: number) {}

  copyFrom(other: VoiceLevel): void {
    this.#mean = other.#mean;
  }

  /** Powers of the hiss over those of the voice, in place. */
  over(hiss: Float64Array, whole: Float64Array, frames: Frames): void {
    let mean = this.#mean;
    for (let i = 0; i < frames; i++) {
      const way = whole[i]! - mean;
      mean += way > 0 ? way * SETS_IN * this.share : way * this.share;
      if (mean < 1e-30) mean = 0;
      hiss[i] = mean > 0 ? hiss[i]! / mean : 0;
    }
    this.#mean = mean;
  }
}

/** Holds back hiss where it stands out from the voice, whatever its level. */
export const deEsser: ProcessorDefinition<typeof parameters> = {
  id: "de-esser",
  name: "De-esser",
  group: "dynamics",
  help: "Softens s and sh where they stand out from the voice, however loud it is",
  keywords: "s sounds sh sibilance sibilant hiss harsh voice",
  parameters,
  commonControls: "levels and sides",
  takesKey: true,
  memory: 3,
  neutral: { maxReductionDb: 0 },
  create(settings, { sampleRate, layout, keys = [] }) {
    if (settings.maxReductionDb === 0 && !settings.listen) return { latency: 0, process: () => undefined };
    const channels = layout.speakers.length;
    const splitter = crossover("no delay", [settings.fromHz], channels, sampleRate);
    const keySplitter = keys.length > 0 ? crossover("no delay", [settings.fromHz], channels, sampleRate) : null;
    const hiss = new LevelDetector("peak", sampleRate);
    const voice = new LevelDetector("rms", sampleRate);
    const level = new VoiceLevel(shareOfStep(VOICE_SECONDS, sampleRate));
    const follower = new GainFollower(sampleRate, {
      of: "peak",
      attack: ATTACK_SECONDS,
      release: settings.speedMs / 1000,
      autoRelease: false,
    });
    const curve = {
      direction: 1,
      thresholdDb: settings.aboveDb,
      slope: 1,
      kneeDb: 0,
      maxReductionDb: settings.maxReductionDb,
    } as const;
    let [gains, whole] = [new Float64Array(0), new Float64Array(0)];
    return {
      latency: 0,
      state: [...(splitter.state ?? []), ...(keySplitter?.state ?? []), hiss, voice, level, follower],
      process(block, frames, key) {
        if (gains.length < frames) [gains, whole] = [new Float64Array(frames), new Float64Array(frames)];
        const [low, high] = splitter.split(block, frames) as [typeof block, typeof block];
        const keyHigh = key && keySplitter ? keySplitter.split(key, frames)[1]! : high;
        voice.powers(slicePlanar(key ?? block, 0, frames), frames, whole);
        hiss.powers(keyHigh, frames, gains);
        level.over(gains, whole, frames);
        follower.follow(gains, frames, curve, settings.aboveDb);
        block.forEach((x, c) => {
          const [l, h] = [low[c]!, high[c]!];
          if (settings.listen) for (let i = 0; i < frames; i++) x[i] = h[i]! * (1 - gains[i]!);
          else for (let i = 0; i < frames; i++) x[i] = l[i]! + h[i]! * gains[i]!;
        });
      },
      takeGainReduction: () => [follower.takeMaxReduction()],
    };
  },
  automatable: ["aboveDb", "maxReductionDb", "speedMs"],
  predict: (levels) => levels,
  summary: ({ fromHz, maxReductionDb }: SettingsOf<typeof parameters>) =>
    `from ${formatHertz(fromHz)}, up to −${maxReductionDb} dB`,
  presets: [
    {
      name: "Bright voice",
      use: "on a close, bright voice",
      settings: { fromHz: 5500, aboveDb: -12, maxReductionDb: 6 },
    },
    {
      name: "Low voice",
      use: "where the hiss begins lower",
      settings: { fromHz: 3800, aboveDb: -14, maxReductionDb: 6 },
    },
    { name: "Firm", use: "where s hurts", settings: { fromHz: 5000, aboveDb: -16, maxReductionDb: 12, speedMs: 35 } },
  ],
};
