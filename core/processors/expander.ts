import { formatDb } from "../audio/format";
import { slicePlanar, type Decibels, type Frames } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import { applyGains, curveOf, expansion, GainFollower, LevelDetector, SideChain } from "../dsp/dynamics";
import {
  attackMs,
  kneeDb,
  sidechainHighPassHz,
  sidechainLowPassHz,
  lookAheadMs,
  ratio,
  sideChainDetector,
  releaseMs,
  thresholdDb,
} from "./dynamics-settings";
import { number, type SettingsOf } from "../parameters/parameter";
import { predictReduction } from "./predict-reduction";
import type { ProcessorDefinition } from "./processor";
import { dbToPower } from "../audio/decibel";

const parameters = {
  thresholdDb: thresholdDb("Level below which it turns down", { default: -45, min: -80 }),
  ratio: ratio("How many dB one dB less at the input gives at the output; 1 does nothing, 20 is a gate"),
  rangeDb: number("Range", "It turns down by this at most", { unit: "dB", min: 0, max: 80, step: 1, default: 12 }),
  kneeDb: kneeDb(),
  hysteresisDb: number("Hysteresis", "Once open, it stays open until the level is this far below the threshold", {
    unit: "dB",
    min: 0,
    max: 12,
    step: 0.5,
    default: 3,
  }),
  holdMs: number("Hold", "It stays open for this long after the level has fallen", {
    unit: "ms",
    min: 0,
    max: 1000,
    step: 5,
    default: 60,
  }),
  attackMs: { ...attackMs({ default: 3 }), help: "Time in which it opens, 63 % of the way" },
  releaseMs: { ...releaseMs({ default: 200 }), help: "Time in which it closes, 63 % of the way" },
  lookAheadMs: lookAheadMs({ default: 2 }),
  sidechainHighPassHz: { ...sidechainHighPassHz, default: 80 },
  sidechainLowPassHz,
};

type ExpanderSettings = SettingsOf<typeof parameters>;

const bendOf = (settings: ExpanderSettings) =>
  expansion(settings.thresholdDb, settings.ratio, settings.kneeDb, settings.rangeDb);

const curveOfExpander = (settings: ExpanderSettings) => curveOf(bendOf(settings));

/** Keeps a level open: for a while after it has fallen, and until it is well below. Shape: powers, in place. */
class Opening {
  #left = 0;
  #open = false;

  constructor(
    readonly threshold: number,
    readonly lower: number,
    readonly hold: Frames,
  ) {}

  copyFrom(other: Opening): void {
    this.#left = other.#left;
    this.#open = other.#open;
  }

  process(powers: Float64Array, frames: Frames): void {
    for (let i = 0; i < frames; i++) {
      const power = powers[i]!;
      if (power >= this.threshold) {
        this.#open = true;
        this.#left = this.hold;
      } else if (this.#open && power >= this.lower) this.#left = this.hold;
      else if (this.#left > 0) this.#left--;
      else this.#open = false;
      if (this.#open && power < this.threshold) powers[i] = this.threshold;
    }
  }
}

/** What is below this is silence. */
const SILENCE_DB: Decibels = -290;

/** Turns down what is quiet. */
export const expander: ProcessorDefinition<typeof parameters> = {
  id: "expander",
  name: "Expander",
  group: "dynamics",
  help: "Turns down what is quiet: room between words, spill, noise; strongly set it is a gate",
  keywords: "gate noise pauses downward room spill quiet",
  parameters,
  commonControls: "all",
  takesKey: true,
  visualiser: { kind: "transfer curve", curve: curveOfExpander },
  reductionNames: () => [""],
  createDetector: sideChainDetector,
  memory: 3,
  neutral: { ratio: 1 },
  create(settings, { sampleRate, layout }) {
    const channels = layout.speakers.length;
    const curve = bendOf(settings);
    // Opening is the release of a reduction, closing its attack.
    const follower = new GainFollower(sampleRate, {
      of: "peak",
      attack: settings.releaseMs / 1000,
      release: settings.attackMs / 1000,
      autoRelease: false,
    });
    const detector = new LevelDetector("peak", sampleRate);
    // Fully open only above the knee.
    const openDb = settings.thresholdDb + settings.kneeDb / 2;
    const opening = new Opening(
      dbToPower(openDb),
      dbToPower(openDb - settings.hysteresisDb),
      Math.round((settings.holdMs / 1000) * sampleRate),
    );
    const sideChain = new SideChain(channels, sampleRate, settings.sidechainHighPassHz, settings.sidechainLowPassHz);
    const latency = Math.round((settings.lookAheadMs / 1000) * sampleRate);
    const delays = Array.from({ length: channels }, () => new DelayLine(latency));
    let gains = new Float64Array(0);
    return {
      latency,
      state: [follower, detector, opening, sideChain, ...delays],
      process(given, frames, key) {
        if (gains.length < frames) gains = new Float64Array(frames);
        const block = slicePlanar(given, 0, frames);
        detector.powers(sideChain.of(key ?? block, frames), frames, gains);
        opening.process(gains, frames);
        follower.follow(gains, frames, curve, SILENCE_DB);
        block.forEach((x, c) => {
          delays[c]!.process(x);
          applyGains(x, gains, frames);
        });
      },
      takeGainReduction: () => [follower.takeMaxReduction()],
    };
  },
  automatable: ["thresholdDb", "ratio", "rangeDb"],
  predict: (levels, settings) =>
    predictReduction(levels, curveOfExpander(settings), {
      attackMs: settings.releaseMs + settings.holdMs,
      releaseMs: settings.attackMs,
    }),
  summary: ({ thresholdDb: at, rangeDb }: ExpanderSettings): string =>
    `below ${formatDb(at)} dB, up to ${rangeWords(rangeDb)}`,
  presets: [
    {
      name: "Quieter between words",
      use: "on a voice in a room: pauses sink gently, breaths stay natural",
      settings: { thresholdDb: -42, ratio: 1.6, rangeDb: 8, kneeDb: 8, holdMs: 120, attackMs: 2, releaseMs: 250 },
    },
    {
      name: "Shut out spill",
      use: "on a close microphone that hears its neighbours",
      settings: { thresholdDb: -32, ratio: 6, rangeDb: 30, kneeDb: 3, holdMs: 40, attackMs: 0.5, releaseMs: 120 },
    },
    {
      name: "Sharpen the ends of notes",
      use: "on tails that fill up a mix",
      settings: { thresholdDb: -30, ratio: 1.3, rangeDb: 6, kneeDb: 12, holdMs: 0, attackMs: 5, releaseMs: 300 },
    },
  ],
};

const rangeWords = (range: Decibels): string => `−${range} dB`;
