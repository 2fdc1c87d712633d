import { dbToGain, dbToPower } from "../signal/decibel";
import type { Decibels } from "../signal/units";
import { noiseFrame, noiseProfileSchema, profilePowers } from "./noise-profile";
import type { Place, RepairDefinition } from "./repair";
import { FOLLOWING_REACH, followedNoise, wantedShare, type NoiseAt } from "./wanted-share";
import { SpectralFrames, inPairs } from "./spectral/frames";

const parameters = {
  depthDb: {
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
  tonalDepthDb: {
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
const leastGains = (noise: ArrayLike<number>, depthDb: Decibels, tonalDepthDb: Decibels): Float32Array => {
  const [broadband, tonal] = [dbToGain(-depthDb), dbToGain(-tonalDepthDb)];
  return Float32Array.from(tonalBins(noise), (isTonal) => (isTonal ? tonal : broadband));
};

/** Hops are 16 ms at most. */
const FOLLOWING_SECONDS = FOLLOWING_REACH * 0.016;

/** Noise reduction: by a learned profile, or, without one, following the noise by itself. */
export const noise: RepairDefinition<typeof parameters> = {
  id: "noise",
  name: "Noise",
  help: "Turns down steady noise: by a profile learned from a stretch of it, or following it by itself",
  parameters,
  learned: noiseProfileSchema,
  surroundings: (_, learned) => (learned === undefined ? FOLLOWING_SECONDS : SETTLING_SECONDS),
  isNeutral: ({ depthDb, tonalDepthDb }) => depthDb === 0 && tonalDepthDb === 0,
  create({ depthDb, tonalDepthDb, thresholdDb }, learned, { sampleRate }) {
    const profile = learned === undefined ? undefined : noiseProfileSchema.parse(learned);
    const frames = new SpectralFrames(noiseFrame(sampleRate));
    const { bins } = frames;
    const factor = dbToPower(thresholdDb);
    const steady = new Map<number, { noise: Float32Array; least: Float32Array }>();
    const profileOf = (channel: number) => {
      const made = steady.get(channel);
      if (made || !profile) return made;
      const powers = Float32Array.from(profilePowers(profile, channel, sampleRate), (power) => power * factor);
      const one = { noise: powers, least: leastGains(powers, depthDb, tonalDepthDb) };
      steady.set(channel, one);
      return one;
    };
    const gainsOf = (powers: Float32Array, channel: number, place: Place): Float32Array => {
      const known = profileOf(channel);
      let noiseAt: NoiseAt;
      let leastAt: NoiseAt;
      if (known) {
        noiseAt = () => known.noise;
        leastAt = () => known.least;
      } else {
        const followed = followedNoise(powers, frames, place);
        const scaled = new Map<Float32Array, { noise: Float32Array; least: Float32Array }>();
        const at = (t: number) => {
          const row = followed(t);
          let made = scaled.get(row);
          if (!made) {
            const powersThere = row.map((power) => power * factor);
            made = { noise: powersThere, least: leastGains(powersThere, depthDb, tonalDepthDb) };
            scaled.set(row, made);
          }
          return made;
        };
        noiseAt = (t) => at(t).noise;
        leastAt = (t) => at(t).least;
      }
      return wantedShare(powers, bins, frames.count, noiseAt, leastAt);
    };
    return (block, place) =>
      inPairs(block, (a, b, channel) => {
        frames.analyse(a, b, place.first);
        const powers = [new Float32Array(frames.count * bins), new Float32Array(frames.count * bins)] as const;
        for (let t = 0; t < frames.count; t++) frames.powers(t, ...powers, t * bins);
        const gainsA = gainsOf(powers[0], channel, place);
        const gainsB = b ? gainsOf(powers[1], channel + 1, place) : gainsA;
        for (let t = 0; t < frames.count; t++) frames.apply(t, gainsA, gainsB, t * bins);
        frames.synthesise(a, b, place);
      });
  },
  summary: ({ depthDb, tonalDepthDb }, learned) =>
    `${depthDb} dB${tonalDepthDb === depthDb ? "" : `, tones ${tonalDepthDb} dB`}${learned ? ", learned" : ""}`,
};
