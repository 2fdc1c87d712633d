import { emptyPlanar, slicePlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import { formatHertz } from "../audio/format";
import { crossover } from "../dsp/crossover";
import { GainFollower, LevelDetector, shareOfStep } from "../dsp/dynamics";
import { number, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  fromHz: number(
    "From",
    "Lower edge of the band that is listened to and held back: where the hiss of s and sh begins",
    {
      unit: "Hz",
      min: 2000,
      max: 12000,
      step: 50,
      scale: "log",
      default: 5000,
    },
  ),
  toHz: number("To", "Upper edge of the band; 20 kHz is no edge: all above the lower one", {
    unit: "Hz",
    min: 3000,
    max: 20000,
    step: 50,
    scale: "log",
    default: 20000,
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
};

/** An upper edge from here on is none. */
const NO_EDGE: Hertz = 20_000;
/** The band is no narrower than this. */
const NARROWEST = 1.2;

/** Splits a block into the band of the hiss and the rest around it; both stay until the next call. */
function hissSplitter({ fromHz, toHz }: { fromHz: Hertz; toHz: Hertz }, channels: number, sampleRate: Hertz) {
  const upper = toHz >= NO_EDGE ? [] : [Math.max(toHz, NARROWEST * fromHz)];
  const splitter = crossover("no delay", [fromHz, ...upper], channels, sampleRate);
  let rest = emptyPlanar(channels, 0);
  return {
    state: splitter.state ?? [],
    split(block: Planar, frames: Frames): { hiss: Planar; rest: Planar } {
      const [low, hiss, top] = splitter.split(block, frames) as [Planar, Planar, Planar | undefined];
      if (!top) return { hiss, rest: low };
      if (rest[0]!.length < frames) rest = emptyPlanar(channels, frames);
      rest.forEach((x, c) => {
        const [below, above] = [low[c]!, top[c]!];
        for (let i = 0; i < frames; i++) x[i] = below[i]! + above[i]!;
      });
      return { hiss, rest };
    },
  };
}

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
  reductionNames: () => [""],
  memory: 3,
  neutral: { maxReductionDb: 0 },
  create(settings, { sampleRate, layout, keys = [] }) {
    if (settings.maxReductionDb === 0) return { latency: 0, process: () => undefined };
    const channels = layout.speakers.length;
    const splitter = hissSplitter(settings, channels, sampleRate);
    const keySplitter = keys.length > 0 ? hissSplitter(settings, channels, sampleRate) : null;
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
      state: [...splitter.state, ...(keySplitter?.state ?? []), hiss, voice, level, follower],
      process(block, frames, key) {
        if (gains.length < frames) [gains, whole] = [new Float64Array(frames), new Float64Array(frames)];
        const { hiss: band, rest } = splitter.split(block, frames);
        const listened = key && keySplitter ? keySplitter.split(key, frames).hiss : band;
        voice.powers(slicePlanar(key ?? block, 0, frames), frames, whole);
        hiss.powers(listened, frames, gains);
        level.over(gains, whole, frames);
        follower.follow(gains, frames, curve, settings.aboveDb);
        block.forEach((x, c) => {
          const [r, h] = [rest[c]!, band[c]!];
          for (let i = 0; i < frames; i++) x[i] = r[i]! + h[i]! * gains[i]!;
        });
      },
      takeGainReduction: () => [follower.takeMaxReduction()],
    };
  },
  createDetector(settings, { sampleRate, layout }) {
    const splitter = hissSplitter(settings, layout.speakers.length, sampleRate);
    return {
      latency: 0,
      process(block, frames, key) {
        const { hiss } = splitter.split(key ?? block, frames);
        block.forEach((x, c) => x.set(hiss[c]!.subarray(0, frames)));
      },
    };
  },
  automatable: ["aboveDb", "maxReductionDb", "speedMs"],
  predict: (levels) => levels,
  summary: ({ fromHz, toHz, maxReductionDb }: SettingsOf<typeof parameters>) =>
    `${toHz >= NO_EDGE ? `from ${formatHertz(fromHz)}` : `${formatHertz(fromHz)} to ${formatHertz(toHz)}`}, up to −${maxReductionDb} dB`,
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
