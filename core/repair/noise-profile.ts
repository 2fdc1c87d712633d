/** What a noise is like: its power in narrow bands, learned from a stretch that holds nothing else. */
import * as z from "zod";
import { fromBase64, toBase64 } from "../math/base64";
import { dbToPower, powerToDb } from "../audio/decibel";
import type { Decibels, Frames, Hertz, Planar, Seconds } from "../audio/units";
import { frameLengthNear, forChannelPairs, Stft } from "../dsp/stft";

/** Levels are kept in steps of three quarters of a decibel from here up: strong tones rise above 0. */
const LOWEST_DB: Decibels = -165;
const STEP_DB: Decibels = 0.75;
/** A voice stays the same for about as long … */
const SHORT_SECONDS: Seconds = 0.05;
/** … tones of music for longer: profiles are learned in these, which tell more lines apart. */
const LONG_SECONDS: Seconds = 0.1;

export const noiseProfileSchema = z.strictObject({
  sampleRate: z.number().int().min(8000).max(768_000),
  /** By channel: power of each bin of a frame, one byte each, as base64. */
  levels: z.array(z.base64().max(48_000)).min(1).max(24),
  /** How long the stretch was. */
  seconds: z.number().nonnegative(),
});
export type NoiseProfile = z.infer<typeof noiseProfileSchema>;

/** Samples of the short and of the long frames at a rate. */
export const noiseFrames = (sampleRate: Hertz): readonly [Frames, Frames] => [
  frameLengthNear(SHORT_SECONDS, sampleRate),
  frameLengthNear(LONG_SECONDS, sampleRate),
];

const codeOf = (db: Decibels): number => Math.max(0, Math.min(255, Math.round((db - LOWEST_DB) / STEP_DB)));

const encoded = (powers: ArrayLike<number>): string =>
  toBase64(Uint8Array.from(powers, (power) => codeOf(powerToDb(power))));

/** Mean power in each bin of a stretch. Shape of `block`: [channel][frame], with nothing but the noise. */
export const learnNoiseProfile = (block: Planar, sampleRate: Hertz): NoiseProfile =>
  learnFromStretches([block], sampleRate);

/** The same of several stretches, which need not be long by themselves: none of their edges is taken for noise. */
export function learnFromStretches(stretches: readonly Planar[], sampleRate: Hertz): NoiseProfile {
  const size = noiseFrames(sampleRate)[1];
  const frames = new Stft(size);
  const sums = stretches[0]!.map(() => new Float64Array(frames.bins));
  let count = 0;
  for (const block of stretches) {
    let channel = 0;
    forChannelPairs(block, (a, b) => {
      frames.analyse(a, b, 0);
      const powers = [new Float32Array(frames.bins), new Float32Array(frames.bins)] as const;
      for (let t = 0; t < frames.count; t++) {
        frames.powers(t, ...powers);
        for (const [side, sum] of sums.slice(channel, channel + (b ? 2 : 1)).entries())
          for (let k = 0; k < frames.bins; k++) sum[k]! += powers[side]![k]!;
      }
      channel += b ? 2 : 1;
    });
    count += frames.count;
  }
  if (count === 0) throw new Error("The stretch is too short to learn a noise from: 0.25 s are needed.");
  const levels = sums.map((sum) => encoded(sum.map((power) => power / count / (size / 2))));
  return { sampleRate, levels, seconds: stretches.reduce((sum, block) => sum + block[0]!.length, 0) / sampleRate };
}

/** Level of each bin in dB: the level of white noise that has as much there. */
export const profileDb = (profile: NoiseProfile, channel: number): Float64Array =>
  Float64Array.from(
    fromBase64(profile.levels[Math.min(channel, profile.levels.length - 1)]!),
    (code) => LOWEST_DB + code * STEP_DB,
  );

/** The profile within a band alone, in all channels: outside of it nothing counts as noise, and nothing is turned down. */
export function withinBand(profile: NoiseProfile, lowHz: Hertz, highHz: Hertz): NoiseProfile {
  const levels = profile.levels.map((text) => {
    const codes = fromBase64(text);
    const width = profile.sampleRate / 2 / (codes.length - 1);
    codes.fill(0, 0, Math.min(codes.length, Math.ceil(lowHz / width)));
    codes.fill(0, Math.min(codes.length, Math.floor(highHz / width) + 1));
    return toBase64(codes);
  });
  return { ...profile, levels };
}

/** The profile with one level in a band, in all channels: where it holds something that is no noise, or too little. */
export function withLevel(profile: NoiseProfile, lowHz: Hertz, highHz: Hertz, db: Decibels): NoiseProfile {
  const levels = profile.levels.map((text) => {
    const codes = fromBase64(text);
    const width = profile.sampleRate / 2 / (codes.length - 1);
    const from = Math.max(0, Math.round(lowHz / width));
    codes.fill(codeOf(db), from, Math.max(from + 1, Math.round(highHz / width) + 1));
    return toBase64(codes);
  });
  return { ...profile, levels };
}

/** Power of each bin of frames of `size` samples at a rate, as spectra there would show it. */
export function profilePowers(profile: NoiseProfile, channel: number, sampleRate: Hertz, size: Frames): Float64Array {
  const known = Float64Array.from(profileDb(profile, channel), dbToPower);
  const last = known.length - 1;
  const lineAt = (place: number) => {
    const low = Math.min(last - 1, Math.floor(place));
    const share = Math.min(1, place - low);
    return known[low]! * (1 - share) + known[low + 1]! * share;
  };
  const powers = new Float64Array(size / 2 + 1);
  // Lines of the profile from one bin to the next.
  const ratio = ((sampleRate / size) * 2 * last) / profile.sampleRate;
  // Where lines of the profile lie closer together, the window of a shorter frame takes several in.
  const beside = ratio > 1.5 ? ratio / 2 : 0;
  for (let k = 0; k < powers.length; k++) {
    const place = Math.min(last, k * ratio);
    const around = lineAt(Math.max(0, place - beside)) + lineAt(Math.min(last, place + beside));
    powers[k] = (0.5 * lineAt(place) + 0.25 * around) * (size / 2);
  }
  return powers;
}
