/**
 * How much of each bin of each frame is wanted sound, given what the noise is like: a Wiener filter in two passes.
 * The first one's a-priori signal-to-noise ratio is decision-directed (Ephraim & Malah 1984), once forwards and once
 * backwards in time; what both leave, evened out over the neighbours in time and frequency, is the clean PSD of the second.
 * Smoothing the clean PSD rather than the gains keeps onsets sharp and leaves no single bins standing (musical noise).
 */
import { MUSICAL_NOISE_REACH, musicalNoiseFilter, type MusicalNoiseFilter } from "../kernels/musical-noise-filter";
import { wienerGain, type WienerGain } from "../kernels/wiener-gain";
import type { BlockContext } from "../audio/block-context";

import { STFT_OVERLAP, type Stft } from "../dsp/stft";

/** What works on rows of so many bins. */
export interface WienerKernels {
  wienerGain: WienerGain;
  musicalNoise: MusicalNoiseFilter;
}

export const wienerKernels = (bins: number): WienerKernels => ({
  wienerGain: wienerGain(bins),
  musicalNoise: musicalNoiseFilter(bins),
});

/**
 * Gains for `count` frames of powers, at least those of their rows, in the powers' place; `cleanPsds` is room for as much.
 * Shape of both: [frame][bin].
 */
export function wienerGains(
  { wienerGain, musicalNoise }: WienerKernels,
  powers: Float32Array,
  cleanPsds: Float32Array,
  count: number,
  unwantedAt: (frame: number) => NoisePsd,
): Float32Array {
  if (count === 0) return powers;
  const bins = powers.length / count;
  const row = (of: Float32Array, t: number) => of.subarray(t * bins, (t + 1) * bins);
  const left = (t: number, joined: boolean) =>
    wienerGain.cleanPsd(row(powers, t), unwantedAt(t).power, row(cleanPsds, t), joined);
  wienerGain.begin(row(powers, 0), unwantedAt(0).power);
  for (let t = 0; t < count; t++) left(t, false);
  wienerGain.begin(row(powers, count - 1), unwantedAt(count - 1).power);
  for (let t = count - 1; t >= 0; t--) left(t, true);
  weakenLonely(musicalNoise, cleanPsds, count, unwantedAt);
  for (let t = 0; t < count; t++) {
    const around = {
      earlier: row(cleanPsds, Math.max(0, t - 1)),
      clean: row(cleanPsds, t),
      later: row(cleanPsds, Math.min(count - 1, t + 1)),
    };
    const { power, least } = unwantedAt(t);
    wienerGain.gains(around, power, least, row(powers, t));
  }
  return powers;
}

/** Turns down what stands alone, so that no single bins sing. */
function weakenLonely(
  company: MusicalNoiseFilter,
  cleanPsds: Float32Array,
  count: number,
  unwantedAt: (frame: number) => NoisePsd,
): void {
  const bins = cleanPsds.length / count;
  const row = (t: number) => cleanPsds.subarray(t * bins, (t + 1) * bins);
  company.begin();
  for (let t = -MUSICAL_NOISE_REACH; t < count; t++) {
    const joins = t + MUSICAL_NOISE_REACH;
    if (joins < count) company.push(row(joins), unwantedAt(joins).power);
    else company.pushSilence();
    if (t >= 0) company.attenuate(row(t));
  }
}

/** Power of the noise in each bin of a frame. */
export type NoiseAt = (frame: number) => Float32Array;

/** Frames are smoothed over this many before their minimum is looked for. */
const SMOOTHED = 8;
/** A minimum is looked for in stretches of so many frames … */
const STRETCH = 64;
/** … this many to each side. */
const REACH = 4;
/** Frames no further above the minimum than this are taken for noise alone; 4 dB. */
const NOISE_ALONE = 2.5;
/** What the smoothed minimum of steady noise lies below its mean (measured on white noise). */
const MINIMUM_BIAS = 1.6;

/** Frames to each side that `followedNoise` looks at. */
export const FOLLOWING_REACH = STRETCH * (REACH + 1) + SMOOTHED;

/**
 * Noise followed through the recording by its minima (after Martin 2001 and Cohen 2003, not causal): in each stretch,
 * the mean of those frames that lie near the smoothed minimum of the stretches around it.
 */
export function followedNoise(powers: Float32Array, frames: Stft, place: BlockContext): NoiseAt {
  const { bins, count, firstFrame, hop, size } = frames;
  // Frames that reach over an end of the recording hold less than there is.
  const firstWhole = Math.max(0, Math.ceil((place.first + place.heldFrom) / hop) - firstFrame);
  const lastWhole = Math.min(count - 1, Math.floor((place.first + place.heldTo - size) / hop) - firstFrame);
  const stretchOf = (t: number) => Math.floor((firstFrame + t) / STRETCH);
  const firstStretch = stretchOf(0);
  const stretches = stretchOf(count - 1) - firstStretch + 1;
  const smoothed = new Float32Array(count * bins);
  const running = new Float64Array(bins);
  for (let t = firstWhole; t <= lastWhole; t++) {
    const keep = t === firstWhole ? 0 : 1 - 1 / SMOOTHED;
    for (let k = 0; k < bins; k++) {
      running[k] = keep * running[k]! + (1 - keep) * powers[t * bins + k]!;
      smoothed[t * bins + k] = running[k]!;
    }
  }
  const minima = new Float32Array(stretches * bins).fill(Infinity);
  for (let t = firstWhole; t <= lastWhole; t++) {
    const at = (stretchOf(t) - firstStretch) * bins;
    for (let k = 0; k < bins; k++)
      if (smoothed[t * bins + k]! < minima[at + k]!) minima[at + k] = smoothed[t * bins + k]!;
  }
  const around = (s: number, k: number) => {
    let least = Infinity;
    for (let n = Math.max(0, s - REACH); n <= Math.min(stretches - 1, s + REACH); n++)
      if (minima[n * bins + k]! < least) least = minima[n * bins + k]!;
    return least < Infinity ? least * MINIMUM_BIAS : 0;
  };
  const noise = Array.from({ length: stretches }, (_, s) =>
    Float32Array.from({ length: bins }, (_, k) => around(s, k)),
  );
  const sums = noise.map(() => new Float64Array(bins));
  const counts = noise.map(() => new Float64Array(bins));
  for (let t = firstWhole; t <= lastWhole; t++) {
    const s = stretchOf(t) - firstStretch;
    for (let k = 0; k < bins; k++) {
      if (smoothed[t * bins + k]! > NOISE_ALONE * noise[s]![k]!) continue;
      sums[s]![k]! += powers[t * bins + k]!;
      counts[s]![k]! += 1;
    }
  }
  const means = noise.map((row, s) =>
    row.map((floor, k) => {
      let sum = 0;
      let held = 0;
      for (let n = Math.max(0, s - REACH); n <= Math.min(stretches - 1, s + REACH); n++) {
        sum += sums[n]![k]!;
        held += counts[n]![k]!;
      }
      return held > STFT_OVERLAP ? Math.min(sum / held, 1.5 * floor) : floor;
    }),
  );
  return (t) => means[stretchOf(t) - firstStretch]!;
}

/** Power of what is not wanted in a frame, and how far its bins are turned down at most. Shape of both: [bin]. */
export interface NoisePsd {
  power: Float32Array;
  least: Float32Array;
}
