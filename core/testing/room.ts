/** A made-up room around sound, and how much of it a repair takes away: for tests and the bench. */
import { Fft } from "../math/fft";
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

/** Frames in which pauses are told from sound, and how far under the mean of the direct sound a pause lies. */
const FRAME: Seconds = 0.02;
const PAUSE_DB: Decibels = -30;

/**
 * By how much further the direct sound stands above the tail in `made` than in the sum of both, dB: levels of where
 * the direct sound is heard against those of its pauses, in which nothing but the tail is.
 */
export function nearer({ near, far }: Roomed, made: Float32Array, rate: Hertz): Decibels {
  const length = Math.round(FRAME * rate);
  const pausePower = meanPower(near) * 10 ** (PAUSE_DB / 10);
  const ratio = (x: Float32Array): Decibels => {
    let [sound, pause] = [0, 0];
    for (let at = 0; at + length <= near.length; at += length) {
      const power = meanPower(x.subarray(at, at + length));
      if (meanPower(near.subarray(at, at + length)) > pausePower) sound += power;
      else pause += power;
    }
    return 10 * Math.log10(sound / (pause + 1e-20));
  };
  return ratio(made) - ratio(near.map((v, i) => v + far[i]!));
}
