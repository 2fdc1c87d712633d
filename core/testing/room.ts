/** A made-up room around sound, and how much of it a repair takes away: for tests and the bench. */
import { Fft } from "../math/fft";
import { newRepairStep, repairSettings } from "../repair";
import type { TailEstimate } from "../repair/reverb-estimation";
import { reverbResolutions, reverbTail } from "../repair/reverberation";
import type { Decibels, Hertz, Seconds } from "../audio/units";
import { meanPower, steadyNoise } from "./degraded";

/** Direct sound with its first 50 ms, and the rest. */
export interface Roomed {
  near: Float32Array;
  far: Float32Array;
}

/** White Gaussian tail of a room, `level` of the direct sound at first; reflections begin after 4 ms. */
export function roomed(x: Float32Array, rate: Hertz, rt60Seconds: Seconds, level = 0.03): Roomed {
  const length = Math.round(1.2 * rt60Seconds * rate);
  // Hiss is alike no farther than two samples apart: every third is white.
  const hiss = steadyNoise("hiss", 3 * length, rate, 9);
  let size = 64;
  while (size < x.length + length) size *= 2;
  const fft = new Fft(size);
  // What is near in the real part, what is far in the imaginary one.
  const response = [new Float64Array(size), new Float64Array(size)] as const;
  response[0][0] = 1;
  for (let i = Math.round(0.004 * rate); i < length; i++)
    response[i < 0.05 * rate ? 0 : 1][i] = level * hiss[3 * i]! * Math.exp((-6.9078 * i) / (rt60Seconds * rate));
  const sound = [new Float64Array(size), new Float64Array(size)] as const;
  sound[0].set(x);
  fft.forward(...sound);
  fft.forward(...response);
  // Back by a forward transform of the parts exchanged.
  const product = sound[0].map((re, k) => re * response[1][k]! + sound[1][k]! * response[0][k]!);
  const other = sound[0].map((re, k) => re * response[0][k]! - sound[1][k]! * response[1][k]!);
  fft.forward(product, other);
  const part = (of: Float64Array) => Float32Array.from(of.subarray(0, x.length), (v) => v / size);
  return { near: part(other), far: part(product) };
}

/**
 * What is left of the direct sound and of the tail, each by itself, by the gains that the whole was given: by so much
 * the direct sound stands further above the tail, dB.
 */
export function nearer({ near, far }: Roomed, rate: Hertz, tail: Partial<TailEstimate>): Decibels {
  const spoilt = near.map((v, i) => v + far[i]!);
  const settings = repairSettings({ ...newRepairStep("reverberation", ""), ...tail });
  const unwanted = reverbTail(settings as Parameters<typeof reverbTail>[0], rate);
  const edge = rate / 2;
  const padded = (x: Float32Array) => {
    const out = new Float32Array(x.length + 2 * edge);
    out.set(x, edge);
    return out;
  };
  const place = { first: 0, from: 0, to: spoilt.length + 2 * edge, heldFrom: 0, heldTo: spoilt.length + 2 * edge };
  const left = [near, far].map((part) => {
    const sum = new Float32Array(place.to);
    for (const resolution of reverbResolutions(rate)) {
      const gains = resolution.gains(padded(spoilt), undefined, 0, place, unwanted);
      const alone = padded(part);
      resolution.frames.analyse(alone, undefined, 0);
      resolution.apply(gains, alone, undefined, place);
      alone.forEach((v, i) => (sum[i] = sum[i]! + v));
    }
    return meanPower(sum);
  });
  return 10 * Math.log10(left[0]! / left[1]! / (meanPower(near) / meanPower(far)));
}
