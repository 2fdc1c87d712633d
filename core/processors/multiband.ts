import { log10 } from "../math/deterministic-math";
import { linkedMultiband } from "../kernels/linked-multiband";
import type { StaticCurve } from "../kernels/gain-smoother";
import type { Decibels, Frames, Hertz } from "../audio/units";
import { crossover, linkwitzRileyBiquads, type CrossoverKind } from "../dsp/crossover";
import {
  compression,
  curveOf,
  GainFollower,
  LevelDetector,
  meanShare,
  type Ballistics,
  type CompressionCurve,
} from "../dsp/dynamics";
import { attackMs, kneeDb, ratio, releaseMs, thresholdDb } from "./dynamics-settings";
import { choice, number, onOff, type RowsParameter, type SettingsOf } from "../parameters/parameter";
import { predictReduction } from "./predict-reduction";
import type { Processor, ProcessorDefinition } from "./processor";

const band = {
  crossoverHz: number("Crossover", "Where the band ends; the highest one goes on to the top", {
    unit: "Hz",
    min: 30,
    max: 18000,
    step: 10,
    scale: "log",
    default: 1000,
  }),
  thresholdDb: thresholdDb("Level of the band above which it is held back", { default: -24 }),
  ratio: ratio("How many dB more in the band give one dB more; 1 leaves it alone"),
  kneeDb: kneeDb(),
  attackMs: attackMs(),
  releaseMs: releaseMs(),
  gainDb: number("Gain", "Level of the band after it", { unit: "dB", min: -18, max: 18, step: 0.1, default: 0 }),
  solo: onOff("Solo", "Only this band is heard"),
};

const bands = {
  kind: "rows",
  label: "Bands",
  help: "The bands from low to high, each with a compressor of its own",
  one: "band",
  columns: band,
  least: 2,
  most: 6,
  default: [
    { crossoverHz: 160, thresholdDb: -24, ratio: 1.8, kneeDb: 6, attackMs: 25, releaseMs: 200, gainDb: 0, solo: false },
    {
      crossoverHz: 3500,
      thresholdDb: -24,
      ratio: 1.6,
      kneeDb: 6,
      attackMs: 12,
      releaseMs: 140,
      gainDb: 0,
      solo: false,
    },
    { crossoverHz: 18000, thresholdDb: -28, ratio: 1.6, kneeDb: 6, attackMs: 4, releaseMs: 90, gainDb: 0, solo: false },
  ],
} as const satisfies RowsParameter;

const parameters = {
  bands,
  crossover: choice("Crossover type", "No delay turns the phase at each corner; linear phase leaves it, and delays", {
    "no delay": "without delay",
    "linear phase": "linear phase",
  }),
  link: onOff("Link channels", "One gain for all channels, so that the image stays where it is", true),
};

type Settings = SettingsOf<typeof parameters>;
export type CompressedBand = Settings["bands"][number];

const bendOf = (one: CompressedBand) => compression(one.thresholdDb, one.ratio, one.kneeDb);

export const curveOfBand = (one: CompressedBand): CompressionCurve => curveOf(bendOf(one));

/** Corners between bands: where each but the highest ends, in rising order. */
export const cornersOf = (list: readonly { crossoverHz: number }[]): number[] =>
  list
    .slice(0, -1)
    .map(({ crossoverHz }) => crossoverHz)
    .sort((a, b) => a - b);

const isNeutral = (list: readonly CompressedBand[]): boolean =>
  list.every((one) => one.ratio === 1 && one.gainDb === 0 && !one.solo);

/** Adds `part` times `gains` to `x`. Hot. */
function addGained(x: Float32Array, part: Float32Array, gains: Float64Array, frames: Frames): void {
  for (let i = 0; i < frames; i++) x[i] = x[i]! + part[i]! * gains[i]!;
}

/** A band as the settings have it, and what follows from them. */
interface Band extends CompressedBand {
  heard: boolean;
  curve: StaticCurve;
  quietDb: Decibels;
  ballistics: Ballistics;
}

/** One or two channels that share each band's gain, by a kernel where there is one. */
export function linked(bands: readonly Band[], sampleRate: Hertz): Processor | undefined {
  const followers = bands.map(({ ballistics }) => new GainFollower(sampleRate, ballistics));
  const kernel = linkedMultiband(
    linkwitzRileyBiquads(cornersOf(bands), sampleRate),
    bands.map(({ heard, curve, quietDb, gainDb }, n) => ({
      ...followers[n]!.kernelArguments(curve, quietDb, gainDb),
      heard,
      meanShare: meanShare(sampleRate),
    })),
  );
  return (
    kernel && {
      latency: 0,
      process: ([a, b], frames) => kernel.process(a!.subarray(0, frames), b?.subarray(0, frames)),
      takeGainReduction: () => followers.map((follower) => follower.takeMaxReduction()),
    }
  );
}

/** Any number of channels, those of a group with one gain for each band. */
export function grouped(
  bands: readonly Band[],
  kind: CrossoverKind,
  groups: readonly number[],
  sampleRate: Hertz,
): Processor {
  const channels = groups.reduce((sum, size) => sum + size, 0);
  const splitter = crossover(kind, cornersOf(bands), channels, sampleRate);
  const working = bands.map((one) => ({
    ...one,
    detectors: groups.map(() => new LevelDetector("rms", sampleRate)),
    followers: groups.map(() => new GainFollower(sampleRate, one.ballistics)),
  }));
  let gains = new Float64Array(0);
  return {
    latency: splitter.latency,
    ...(splitter.state
      ? { state: [...splitter.state, ...working.flatMap((one) => [...one.detectors, ...one.followers])] }
      : {}),
    process(block, frames) {
      if (gains.length < frames) gains = new Float64Array(frames);
      const parts = splitter.split(block, frames);
      for (const x of block) x.fill(0, 0, frames);
      working.forEach(({ heard, curve, quietDb, gainDb, detectors, followers }, b) => {
        const part = parts[b]!;
        let first = 0;
        groups.forEach((size, group) => {
          detectors[group]!.powers(part.slice(first, first + size), frames, gains);
          followers[group]!.follow(gains, frames, curve, quietDb, gainDb);
          for (let c = first; heard && c < first + size; c++) addGained(block[c]!, part[c]!, gains, frames);
          first += size;
        });
      });
    },
    takeGainReduction: () => working.map((one) => Math.max(...one.followers.map((f) => f.takeMaxReduction()))),
  };
}

/** A compressor for each band. */
export const multiband: ProcessorDefinition<typeof parameters> = {
  id: "multiband",
  name: "Multiband",
  group: "dynamics",
  help: "Holds back each part of the spectrum for itself: boom, harshness, a voice's weight",
  keywords: "multiband compressor bands boom harsh low mid high dynamic",
  parameters,
  commonControls: "all",
  visualiser: { kind: "multiband" },
  reductionNames: ({ bands: list }) => list.map((_, n) => `band ${n + 1}`),
  memory: 2,
  neutral: { bands: bands.default.map((one) => ({ ...one, ratio: 1 })) },
  create({ bands: list, crossover: kind, link }, { sampleRate, layout }, _, moves) {
    if (isNeutral(list) && !moves) return { latency: 0, process: () => undefined };
    const solo = list.some((one) => one.solo);
    const bands = list.map((one) => ({
      ...one,
      heard: !solo || one.solo,
      curve: bendOf(one),
      quietDb: one.thresholdDb - one.kneeDb / 2,
      ballistics: {
        of: "rms",
        attack: one.attackMs / 1000,
        release: one.releaseMs / 1000,
        autoRelease: false,
      } as const,
    }));
    const channels = layout.speakers.length;
    const quick = !moves && link && channels <= 2 && kind === "no delay" ? linked(bands, sampleRate) : undefined;
    return quick ?? grouped(bands, kind, link ? [channels] : layout.speakers.map(() => 1), sampleRate);
  },
  automatable: ["thresholdDb", "ratio", "kneeDb", "attackMs", "releaseMs", "gainDb"],
  canAutomate: ({ crossover }) => crossover === "no delay",
  // What lies in each band is not known here: each is taken to hold an equal share of what makes the level.
  predict: (levels, { bands: list }) =>
    list.reduce((now, one) => {
      const share = 1 / list.length;
      const curve = curveOfBand(one);
      const lower = 10 * log10(list.length);
      return predictReduction(now, (level) => share * curve(level - lower), {
        ...one,
        detection: "rms",
        makeUpDb: share * one.gainDb,
      });
    }, levels),
  summary: ({ bands: list }) => `${list.length} bands, ${list.filter((one) => one.ratio > 1).length} at work`,
  presets: [
    {
      name: "Gentle, three bands",
      use: "on a mix whose bass and top move too freely",
      settings: {},
    },
    {
      name: "Only the boom",
      use: "where single bass notes are too strong",
      settings: {
        bands: [
          {
            crossoverHz: 140,
            thresholdDb: -26,
            ratio: 3,
            kneeDb: 8,
            attackMs: 20,
            releaseMs: 180,
            gainDb: 0,
            solo: false,
          },
          {
            crossoverHz: 18000,
            thresholdDb: 0,
            ratio: 1,
            kneeDb: 6,
            attackMs: 15,
            releaseMs: 150,
            gainDb: 0,
            solo: false,
          },
        ],
      },
    },
    {
      name: "Only what is harsh",
      use: "where voices or cymbals cut between 2 and 6 kHz",
      settings: {
        bands: [
          {
            crossoverHz: 2000,
            thresholdDb: 0,
            ratio: 1,
            kneeDb: 6,
            attackMs: 15,
            releaseMs: 150,
            gainDb: 0,
            solo: false,
          },
          {
            crossoverHz: 6000,
            thresholdDb: -30,
            ratio: 2.5,
            kneeDb: 8,
            attackMs: 3,
            releaseMs: 90,
            gainDb: 0,
            solo: false,
          },
          {
            crossoverHz: 18000,
            thresholdDb: 0,
            ratio: 1,
            kneeDb: 6,
            attackMs: 15,
            releaseMs: 150,
            gainDb: 0,
            solo: false,
          },
        ],
      },
    },
  ],
};
