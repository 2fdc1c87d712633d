import { formatDb } from "../audio/format";
import { slicePlanar } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import { applyGains, compression, curveOf, GainFollower, LevelDetector, SideChain } from "../dsp/dynamics";
import { predictReduction } from "./predict-reduction";
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
import { choice, number, onOff, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  thresholdDb: thresholdDb("Level above which it begins to hold back"),
  ratio: ratio("How many dB more at the input give one dB more at the output; 1 does nothing"),
  kneeDb: kneeDb(),
  attackMs: attackMs(),
  releaseMs: releaseMs(),
  autoRelease: onOff("Auto release", "Lets go more slowly the longer it has held on, up to four times"),
  detection: choice(
    "Listens to",
    "The peaks, or the mean over some 10 ms, which is nearer to what is heard as level",
    { peak: "peaks", rms: "mean level (RMS)" },
    "rms",
  ),
  sidechainHighPassHz,
  sidechainLowPassHz,
  lookAheadMs: lookAheadMs(),
  link: onOff("Link channels", "One gain for all channels, so that the image stays where it is", true),
  makeUpDb: number("Make-up", "Gain after it, to bring the loudness back", {
    unit: "dB",
    min: 0,
    max: 24,
    step: 0.1,
    default: 0,
  }),
};

type CompressorSettings = SettingsOf<typeof parameters>;

const bendOf = ({ thresholdDb, ratio, kneeDb }: CompressorSettings) => compression(thresholdDb, ratio, kneeDb);

const curveOfCompressor = (settings: CompressorSettings) => curveOf(bendOf(settings));

/** Holds back what is loud. */
export const compressor: ProcessorDefinition<typeof parameters> = {
  id: "compressor",
  name: "Compressor",
  group: "dynamics",
  help: "Holds back what is loud, so that the whole lies closer together",
  keywords: "compress dynamics glue punch control even out loud",
  parameters,
  commonControls: "all",
  takesKey: true,
  visualiser: { kind: "transfer curve", curve: curveOfCompressor, makeUpDb: ({ makeUpDb }) => makeUpDb },
  reductionNames: () => [""],
  createDetector: sideChainDetector,
  memory: 2,
  neutral: { ratio: 1, makeUpDb: 0 },
  create(settings, { sampleRate, layout }) {
    const channels = layout.speakers.length;
    const curve = bendOf(settings);
    const quietDb = settings.thresholdDb - settings.kneeDb / 2;
    const groups = settings.link ? [channels] : Array.from({ length: channels }, () => 1);
    const followers = groups.map(
      () =>
        new GainFollower(sampleRate, {
          of: settings.detection,
          attack: settings.attackMs / 1000,
          release: settings.releaseMs / 1000,
          autoRelease: settings.autoRelease,
        }),
    );
    const detectors = groups.map(() => new LevelDetector(settings.detection, sampleRate));
    const sideChain = new SideChain(channels, sampleRate, settings.sidechainHighPassHz, settings.sidechainLowPassHz);
    const latency = Math.round((settings.lookAheadMs / 1000) * sampleRate);
    const delays = Array.from({ length: channels }, () => new DelayLine(latency));
    let gains = new Float64Array(0);
    return {
      latency,
      state: [...followers, ...detectors, sideChain, ...delays],
      process(given, frames, key) {
        if (gains.length < frames) gains = new Float64Array(frames);
        const block = slicePlanar(given, 0, frames);
        const heard = sideChain.of(key ?? block, frames);
        let first = 0;
        groups.forEach((size, group) => {
          detectors[group]!.powers(heard.slice(first, first + size), frames, gains);
          followers[group]!.follow(gains, frames, curve, quietDb, settings.makeUpDb);
          for (let c = first; c < first + size; c++) {
            const x = block[c]!;
            delays[c]!.process(x);
            applyGains(x, gains, frames);
          }
          first += size;
        });
      },
      takeGainReduction: () => [Math.max(...followers.map((follower) => follower.takeMaxReduction()))],
    };
  },
  automatable: ["thresholdDb", "ratio", "kneeDb", "attackMs", "releaseMs", "makeUpDb"],
  predict: (levels, settings) => predictReduction(levels, curveOfCompressor(settings), settings),
  summary: ({ ratio, thresholdDb }) => `${ratio} : 1 above ${formatDb(thresholdDb)} dB`,
  presets: [
    {
      name: "Hold a mix together",
      use: "on a finished mix, for one or two dB where it is loudest",
      settings: {
        thresholdDb: -16,
        ratio: 1.6,
        kneeDb: 8,
        attackMs: 30,
        releaseMs: 180,
        autoRelease: true,
        sidechainHighPassHz: 90,
      },
    },
    {
      name: "Even out a reader",
      use: "on a voice whose words swallow their ends",
      settings: { thresholdDb: -26, ratio: 2.5, kneeDb: 10, attackMs: 8, releaseMs: 220, sidechainHighPassHz: 120 },
    },
    {
      name: "Catch what jumps out",
      use: "on single loud words or strokes, the rest left alone",
      settings: {
        thresholdDb: -12,
        ratio: 6,
        kneeDb: 2,
        attackMs: 1,
        releaseMs: 80,
        detection: "peak",
        lookAheadMs: 2,
      },
    },
    {
      name: "Under the original",
      use: "to lift what is quiet: strongly compressed, a third of it mixed in",
      settings: { thresholdDb: -36, ratio: 8, kneeDb: 6, attackMs: 4, releaseMs: 120, makeUpDb: 6, mix: 33 },
    },
  ],
};
