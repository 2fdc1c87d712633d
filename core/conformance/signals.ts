/** Building blocks of the standards' test signals. Made in code, the same anywhere. */
import { sinCosTurns } from "../math/deterministic-math";
import { kaiser, kaiserBeta, sinc } from "../math/kaiser";
import { dbToGain } from "../audio/decibel";
import type { Decibels, Hertz, Seconds } from "../audio/units";

/** A stretch of a 1 kHz sine at a level, or of silence (−Infinity). */
export type SignalSegment = readonly [levelDbfs: Decibels, seconds: Seconds];

const TONE: Hertz = 1000;

/** Samples of the tone until it repeats to the bit, so that long signals need not be calculated. */
function cycleOf(sampleRate: Hertz): Float64Array {
  let [a, b] = [sampleRate, TONE];
  while (b > 0) [a, b] = [b, a % b];
  return Float64Array.from({ length: sampleRate / a }, (_, n) => sinCosTurns((TONE * n) / sampleRate).sin);
}

/** A 1 kHz sine that changes its level and not its phase. */
export function toneOf(stretches: readonly SignalSegment[], sampleRate: Hertz): Float32Array {
  const ends: number[] = [];
  let seconds = 0;
  for (const [, length] of stretches) ends.push(Math.round((seconds += length) * sampleRate));
  const x = new Float32Array(ends[ends.length - 1] ?? 0);
  const cycle = cycleOf(sampleRate);
  let from = 0;
  stretches.forEach(([level], i) => {
    const gain = dbToGain(level);
    if (gain > 0) for (let n = from; n < ends[i]!; n++) x[n] = gain * cycle[n % cycle.length]!;
    from = ends[i]!;
  });
  return x;
}

/** A sine at the rate divided by `divisor`, with 10 ms of fade at both ends. */
export function fractionOfRate(
  divisor: number,
  degrees: number,
  amplitude: number,
  seconds: Seconds,
  sampleRate: Hertz,
): Float32Array {
  const x = new Float32Array(Math.round(seconds * sampleRate));
  for (let n = 0; n < x.length; n++) x[n] = amplitude * sinCosTurns(n / divisor + degrees / 360).sin;
  return fadedEnds(x, Math.round(sampleRate / 100));
}

function fadedEnds(x: Float32Array, fade: number): Float32Array {
  for (let n = 0; n < fade && n < x.length; n++) {
    x[n]! *= n / fade;
    x[x.length - 1 - n]! *= n / fade;
  }
  return x;
}

const OVERSAMPLING = 4;
const HALF_TAPS = 64; // of the decimation filter, in samples of the low rate
const BURST_AMPLITUDE = 1;
const CARRIER_AMPLITUDE = 0.5;

/**
 * A sine at a quarter of the rate with one period at a sixth of it, twice as high, in its midst; made at four times the
 * rate, band-limited, and decimated from `offset` of its samples: so the crest lies at another place between samples.
 */
export function burstBetweenSamples(offset: 0 | 1 | 2 | 3, seconds: Seconds, sampleRate: Hertz): Float32Array {
  const frames = Math.round(seconds * sampleRate);
  const middle = Math.floor(frames / 2) * OVERSAMPLING;
  const period = 6 * OVERSAMPLING;
  const before = 4 * OVERSAMPLING;
  // The carrier runs up to a zero crossing, the burst takes one period, and the carrier goes on.
  const at = (n: number): number => {
    const from = n - middle;
    if (from < 0) return CARRIER_AMPLITUDE * sinCosTurns(from / before).sin;
    if (from < period) return BURST_AMPLITUDE * sinCosTurns(from / period).sin;
    return CARRIER_AMPLITUDE * sinCosTurns((from - period) / before).sin;
  };
  const half = HALF_TAPS * OVERSAMPLING;
  const beta = kaiserBeta(80);
  const filter = Float64Array.from({ length: 2 * half + 1 }, (_, i) => {
    const distance = (i - half) / OVERSAMPLING;
    return (sinc(0.96 * distance) * kaiser((i - half) / (half + 1), beta) * 0.96) / OVERSAMPLING;
  });
  const wide = Float64Array.from({ length: (frames + 1) * OVERSAMPLING + 2 * half }, (_, n) => at(n - half));
  const x = new Float32Array(frames);
  for (let n = 0; n < frames; n++) {
    const first = n * OVERSAMPLING + offset;
    let sum = 0;
    for (let i = 0; i < filter.length; i++) sum += filter[i]! * wide[first + i]!;
    x[n] = sum;
  }
  return fadedEnds(x, Math.round(sampleRate / 100));
}
