/** Test signals and an independent, exact look between samples: for tests only. */
import { Random } from "../math/random";
import type { FrameSource } from "../audio/frame-source";
import { dbToGain } from "../audio/decibel";
import { slicePlanar, type Planar } from "../audio/units";

export function sine(hertz: number, peakDb: number, seconds: number, sampleRate: number, turns = 0): Float32Array {
  const x = new Float32Array(Math.round(seconds * sampleRate));
  const gain = dbToGain(peakDb);
  for (let n = 0; n < x.length; n++) x[n] = gain * Math.sin(2 * Math.PI * ((hertz * n) / sampleRate + turns));
  return x;
}

export function noise(seconds: number, sampleRate: number, peakDb: number, seed: number): Float32Array {
  const random = new Random(seed);
  const x = new Float32Array(Math.round(seconds * sampleRate));
  const gain = dbToGain(peakDb);
  for (let n = 0; n < x.length; n++) x[n] = gain * random.between(-1, 1);
  return x;
}

export function joined(...parts: Float32Array[]): Float32Array {
  const all = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

/** `x` without what lies above 0.47 of the rate: nearer to half the rate no interpolator is exact. */
export function bandLimited(x: Float32Array): Float32Array {
  const half = 200;
  const taps = Float64Array.from({ length: 2 * half + 1 }, (_, n) => {
    const d = n - half;
    const window = 0.42 + 0.5 * Math.cos((Math.PI * d) / half) + 0.08 * Math.cos((2 * Math.PI * d) / half);
    return (d === 0 ? 0.92 : Math.sin(Math.PI * 0.92 * d) / (Math.PI * d)) * window;
  });
  return x.map((_, i) => {
    let sum = 0;
    for (let n = Math.max(0, half - i); n < taps.length && i + n - half < x.length; n++)
      sum += taps[n]! * x[i + n - half]!;
    return sum;
  });
}

/** Whether two blocks hold the same numbers, to the bit; far quicker than a deep comparison. */
export const sameBits = (a: Planar, b: Planar): boolean =>
  a.length === b.length && a.every((x, c) => x.length === b[c]!.length && x.every((v, i) => Object.is(v, b[c]![i])));

export const memoryFrames = (block: Planar, sampleRate: number): FrameSource => ({
  sampleRate,
  channels: block.length,
  frames: block[0]!.length,
  read: async (start, count) => slicePlanar(block, start, Math.min(block[0]!.length, start + count)),
});

/** True peak in dBTP by a 512-tap Blackman–Harris sinc at 32 points between samples, wherever it could be highest. */
export function exactTruePeakDb(x: Float32Array): number {
  const half = 256;
  const points = 32;
  const a = [0.35875, 0.48829, 0.14128, 0.01168];
  const filters = Array.from({ length: points }, (_, p) =>
    Float64Array.from({ length: 2 * half }, (_, tap) => {
      const d = tap - (half - 1) - p / points;
      const w = (d + half) / (2 * half);
      const window =
        a[0]! -
        a[1]! * Math.cos(2 * Math.PI * w) +
        a[2]! * Math.cos(4 * Math.PI * w) -
        a[3]! * Math.cos(6 * Math.PI * w);
      return (d === 0 ? 1 : Math.sin(Math.PI * d) / (Math.PI * d)) * window;
    }),
  );
  const padded = joined(new Float32Array(half), x, new Float32Array(half));
  let samplePeak = 0;
  for (const v of x) samplePeak = Math.max(samplePeak, Math.abs(v));
  let peak = samplePeak;
  for (let i = 0; i < x.length - 1; i++) {
    const near = Math.max(Math.abs(x[i]!), Math.abs(x[i + 1]!), Math.abs(x[i - 1] ?? 0), Math.abs(x[i + 2] ?? 0));
    if (near < samplePeak * 0.3) continue;
    // Eight points first; a crest between two of them is at most 2 % higher, so the others matter only near the peak.
    for (let p = 0; p < points; p += 4) {
      if (at(i, p) <= peak * 0.97) continue;
      for (let q = p - 3; q <= p + 3; q++) peak = Math.max(peak, at(i, q));
    }
  }
  return 20 * Math.log10(peak);

  function at(i: number, point: number): number {
    const sample = i + Math.floor(point / points);
    const filter = filters[(point + points) % points]!;
    let sum = 0;
    for (let t = 0; t < filter.length; t++) sum += filter[t]! * (padded[sample + 1 + t] ?? 0);
    return Math.abs(sum);
  }
}
