/**
 * How much of each bin of each frame is wanted sound, given what the noise is like: a Wiener filter in two passes.
 * The first one's a-priori signal-to-noise ratio is decision-directed (Ephraim & Malah 1984), once forwards and once
 * backwards in time; what both leave, evened out over the neighbours in time and frequency, is the second one's pilot.
 * Evening the pilot out rather than the gains keeps onsets sharp and leaves no single bins standing (musical noise).
 */
import type { WantedRows } from "../kernels/wanted-rows";
import type { Place } from "./repair";
import type { UnwantedRows } from "./resolution";
import { HOPS_PER_FRAME, type SpectralFrames } from "./spectral/frames";

/** Gains for `count` frames of powers, at least those of their rows, in the powers' place; shape of both [frame][bin]. */
export function wantedShare(
  rows: WantedRows,
  powers: Float32Array,
  count: number,
  unwantedAt: (frame: number) => UnwantedRows,
): Float32Array {
  const pilots = new Float32Array(powers.length);
  if (count === 0) return powers;
  const bins = powers.length / count;
  const row = (of: Float32Array, t: number) => of.subarray(t * bins, (t + 1) * bins);
  const left = (t: number, joined: boolean) => rows.left(row(powers, t), unwantedAt(t).power, row(pilots, t), joined);
  rows.begin(row(powers, 0), unwantedAt(0).power);
  for (let t = 0; t < count; t++) left(t, false);
  rows.begin(row(powers, count - 1), unwantedAt(count - 1).power);
  for (let t = count - 1; t >= 0; t--) left(t, true);
  weakenLonely(pilots, bins, count, unwantedAt);
  for (let t = 0; t < count; t++) {
    const around = {
      earlier: row(pilots, Math.max(0, t - 1)),
      pilot: row(pilots, t),
      later: row(pilots, Math.min(count - 1, t + 1)),
    };
    const { power, least } = unwantedAt(t);
    rows.gains(around, power, least, row(powers, t));
  }
  return powers;
}

/** Wanted sound fills this part of the bins around it, or more: around are three groups of bins … */
const FILLED = 0.3;
const GROUP = 3;
/** … so many frames to each side. */
const SIDE_FRAMES = 3;

/**
 * Turns down what stands alone: noise leaves single bins now and then, which would sing (musical noise), wanted sound
 * fills several around. Each bin counts for as much as its pilot has of what is not wanted there, at most 1. Hot.
 */
function weakenLonely(
  pilots: Float32Array,
  bins: number,
  count: number,
  unwantedAt: (frame: number) => UnwantedRows,
): void {
  const groups = Math.ceil(bins / GROUP);
  // One more at each end, empty.
  const width = groups + 2;
  const filled = new Float32Array(count * width);
  let known: Float32Array | undefined;
  const inverse = new Float32Array(bins);
  for (let t = 0; t < count; t++) {
    const { power } = unwantedAt(t);
    // A steady noise has one row for all frames.
    if (power !== known) for (let k = 0; k < bins; k++) inverse[k] = 1 / power[k]!;
    known = power;
    const at = t * bins;
    for (let g = 0, k = 0; g < groups; g++) {
      let sum = 0;
      for (const end = Math.min(bins, k + GROUP); k < end; k++) {
        const part = pilots[at + k]! * inverse[k]!;
        sum += part < 1 ? part : 1;
      }
      filled[t * width + g + 1] = sum;
    }
  }
  const around = new Float64Array(width);
  const share = 1 / (FILLED * 3 * GROUP * (2 * SIDE_FRAMES + 1));
  for (let t = -SIDE_FRAMES; t < count; t++) {
    const [joins, leaves] = [(t + SIDE_FRAMES) * width, (t - SIDE_FRAMES - 1) * width];
    if (joins < filled.length) for (let g = 0; g < width; g++) around[g]! += filled[joins + g]!;
    if (leaves >= 0) for (let g = 0; g < width; g++) around[g]! -= filled[leaves + g]!;
    if (t < 0) continue;
    for (let g = 0; g < groups; g++) {
      const part = (around[g]! + around[g + 1]! + around[g + 2]!) * share;
      if (part >= 1) continue;
      const weight = part > 0 ? part * part : 0;
      const end = t * bins + Math.min(bins, (g + 1) * GROUP);
      for (let i = t * bins + g * GROUP; i < end; i++) pilots[i]! *= weight;
    }
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
export function followedNoise(powers: Float32Array, frames: SpectralFrames, place: Place): NoiseAt {
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
      return held > HOPS_PER_FRAME ? Math.min(sum / held, 1.5 * floor) : floor;
    }),
  );
  return (t) => means[stretchOf(t) - firstStretch]!;
}
