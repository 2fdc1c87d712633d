import { dbToGain, dbToPower } from "../audio/decibel";
import type { Decibels } from "../audio/units";
import { noiseFrames, noiseProfileSchema, profilePowers } from "./noise-profile";
import type { RepairDefinition } from "./repair";
import { StftResolution, suppress } from "./multi-resolution-suppressor";
import { type NoisePsd, FOLLOWING_REACH, followedNoise } from "./wiener-suppressor";

const parameters = {
  maxReductionDb: {
    kind: "number",
    label: "Broadband",
    help: "How far noise without pitch, such as hiss and room tone, is turned down where nothing else sounds",
    unit: "dB",
    min: 0,
    max: 60,
    step: 0.5,
    scale: "linear",
    default: 20,
  },
  tonalMaxReductionDb: {
    kind: "number",
    label: "Tones",
    help: "How far the steady tones within the noise, such as those of a fan, are turned down",
    unit: "dB",
    min: 0,
    max: 60,
    step: 0.5,
    scale: "linear",
    default: 26,
  },
  thresholdDb: {
    kind: "number",
    label: "Threshold",
    help: "Takes the noise for louder (+) or quieter (−) than it was learned: more is removed, or less",
    unit: "dB",
    min: -12,
    max: 12,
    step: 0.5,
    scale: "linear",
    default: 0,
  },
} as const;

/** A bin this far above the median around it is a tone of the noise. */
const TONE_ABOVE = 4;
/** Bins to each side among which the median is taken. */
const AROUND = 12;
/** The decision needs this many frames to settle. */
const SETTLING_SECONDS = 0.6;

/** Which bins of a noise are tones rather than broadband. */
function tonalBins(noise: ArrayLike<number>): Uint8Array {
  const tonal = new Uint8Array(noise.length);
  for (let k = 0; k < noise.length; k++) {
    const near: number[] = [];
    for (let n = Math.max(0, k - AROUND); n <= Math.min(noise.length - 1, k + AROUND); n++) near.push(noise[n]!);
    near.sort((a, b) => a - b);
    if (noise[k]! > TONE_ABOVE * near[near.length >> 1]!) tonal[k] = 1;
  }
  return tonal;
}

/** Least gain of each bin: the depths, by whether the bin holds a tone of the noise. */
const leastGains = (
  noise: ArrayLike<number>,
  maxReductionDb: Decibels,
  tonalMaxReductionDb: Decibels,
): Float32Array => {
  const [broadband, tonal] = [dbToGain(-maxReductionDb), dbToGain(-tonalMaxReductionDb)];
  return Float32Array.from(tonalBins(noise), (isTonal) => (isTonal ? tonal : broadband));
};

/** Hops are 16 ms at most. */
const FOLLOWING_SECONDS = FOLLOWING_REACH * 0.016;

/** Noise reduction: by a learned profile, or, without one, following the noise by itself. */
export const noise: RepairDefinition<typeof parameters> = {
  id: "noise",
  name: "Noise",
  help: "Turns down steady noise: by a profile learned from a stretch of it, or, in speech, following it by itself (long notes of music would be taken for noise)",
  panel: "noise profile",
  parameters,
  learned: noiseProfileSchema,
  contextSeconds: (_, learned) => (learned === undefined ? FOLLOWING_SECONDS : SETTLING_SECONDS),
  isNeutral: ({ maxReductionDb, tonalMaxReductionDb }) => maxReductionDb === 0 && tonalMaxReductionDb === 0,
  create({ maxReductionDb, tonalMaxReductionDb, thresholdDb }, learned, { sampleRate }) {
    const profile = learned === undefined ? undefined : noiseProfileSchema.parse(learned);
    const factor = dbToPower(thresholdDb);
    const scaled = (powers: ArrayLike<number>): NoisePsd => {
      const noise = Float32Array.from(powers, (power) => power * factor);
      return { power: noise, least: leastGains(noise, maxReductionDb, tonalMaxReductionDb) };
    };
    const sizes = profile ? noiseFrames(sampleRate) : noiseFrames(sampleRate).slice(0, 1);
    const resolutions = sizes.map((size) => new StftResolution(size));
    const learnedRows = resolutions.map(({ frames }) =>
      profile?.levels.map((_, channel) => scaled(profilePowers(profile, channel, sampleRate, frames.size))),
    );
    return suppress(resolutions, ({ resolution, channel, powers, context }) => {
      const known = learnedRows[resolutions.indexOf(resolution)];
      if (known) return () => known[Math.min(channel, known.length - 1)]!;
      const followed = followedNoise(powers, resolution.frames, context);
      const made = new Map<Float32Array, NoisePsd>();
      return (t) => {
        const row = followed(t);
        const rows = made.get(row) ?? scaled(row);
        made.set(row, rows);
        return rows;
      };
    });
  },
  summary: ({ maxReductionDb, tonalMaxReductionDb }, learned) =>
    `${maxReductionDb} dB${tonalMaxReductionDb === maxReductionDb ? "" : `, tones ${tonalMaxReductionDb} dB`}${learned ? ", learned" : ""}`,
};
