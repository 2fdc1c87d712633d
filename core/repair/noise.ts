import { dbToGain, dbToPower } from "../signal/decibel";
import type { Decibels, Frames } from "../signal/units";
import { wantedRows, type WantedRows } from "../kernels/wanted-rows";
import { noiseFrames, noiseProfileSchema, profilePowers } from "./noise-profile";
import type { Place, RepairDefinition } from "./repair";
import { FOLLOWING_REACH, followedNoise, wantedShare } from "./wanted-share";
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

/** What a frame's noise is like, and how far its bins are turned down at most. Shape of both: [bin]. */
interface NoiseRows {
  noise: Float32Array;
  least: Float32Array;
}

/** Noise reduction in frames of one length. */
class Resolution {
  readonly frames: SpectralFrames;
  readonly #rows: WantedRows;

  constructor(size: Frames) {
    this.frames = new SpectralFrames(size);
    this.#rows = wantedRows(this.frames.bins);
  }

  /** Leaves what is wanted of `from`…`to`; `rowsOf` tells the noise of a side, given its powers. */
  reduce(
    a: Float32Array,
    b: Float32Array | undefined,
    place: Place,
    rowsOf: (side: number, powers: Float32Array) => (t: number) => NoiseRows,
  ): void {
    const { frames } = this;
    const { bins } = frames;
    frames.analyse(a, b, place.first);
    const { count } = frames;
    const powers = [new Float32Array(count * bins), new Float32Array(count * bins)] as const;
    for (let t = 0; t < count; t++) frames.powers(t, ...powers, t * bins);
    const gains = powers.slice(0, b ? 2 : 1).map((one, side) => {
      const rows = rowsOf(side, one);
      const [noiseAt, leastAt] = [(t: number) => rows(t).noise, (t: number) => rows(t).least];
      return wantedShare(this.#rows, one, bins, count, noiseAt, leastAt);
    });
    const [first, second = first] = gains as [Float32Array, Float32Array?];
    for (let t = 0; t < count; t++) frames.apply(t, first, second, t * bins);
    frames.synthesise(a, b, place);
  }
}

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
    const factor = dbToPower(thresholdDb);
    const scaled = (powers: ArrayLike<number>): NoiseRows => {
      const noise = Float32Array.from(powers, (power) => power * factor);
      return { noise, least: leastGains(noise, depthDb, tonalDepthDb) };
    };
    // Short frames follow a voice, long ones tell tones apart; what both leave differs in its faults, which halves them.
    const sizes = profile ? noiseFrames(sampleRate) : noiseFrames(sampleRate).slice(0, 1);
    const resolutions = sizes.map((size) => new Resolution(size));
    const learnedRows = resolutions.map(({ frames }) =>
      profile?.levels.map((_, channel) => scaled(profilePowers(profile, channel, sampleRate, frames.size))),
    );
    const rowsFor = (r: number, channel: number, powers: Float32Array, place: Place): ((t: number) => NoiseRows) => {
      const known = learnedRows[r];
      if (known) return () => known[Math.min(channel, known.length - 1)]!;
      const followed = followedNoise(powers, resolutions[r]!.frames, place);
      const made = new Map<Float32Array, NoiseRows>();
      return (t) => {
        const row = followed(t);
        const rows = made.get(row) ?? scaled(row);
        made.set(row, rows);
        return rows;
      };
    };
    return (block, place) =>
      inPairs(block, (a, b, channel) => {
        const made = resolutions.map((resolution, r) => {
          const out = [a.slice(), b?.slice()] as const;
          resolution.reduce(...out, place, (side, powers) => rowsFor(r, channel + side, powers, place));
          return out;
        });
        [a, b].forEach((x, side) => {
          const [one, two] = made.map((out) => out[side]!);
          if (!x) return;
          for (let i = place.from; i < place.to; i++) x[i] = two ? 0.5 * (one![i]! + two[i]!) : one![i]!;
        });
      });
  },
  summary: ({ depthDb, tonalDepthDb }, learned) =>
    `${depthDb} dB${tonalDepthDb === depthDb ? "" : `, tones ${tonalDepthDb} dB`}${learned ? ", learned" : ""}`,
};
