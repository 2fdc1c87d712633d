/** How much a processor that turns down takes from the loudness, and how much of what is left is not the sound itself. */
import type { Decibels, Hertz, Planar } from "../audio/units";
import { layoutForChannels } from "../audio/layout";
import { Fft } from "../math/fft";
import { Measurer } from "../measure";
import { kWeighting } from "../measure/k-weighting";

/** Integrated loudness, LUFS. */
export function loudnessOf(block: Planar, sampleRate: Hertz): number {
  const measurer = new Measurer({ sampleRate, layout: layoutForChannels(block.length) });
  measurer.process(block);
  return measurer.result().figures.integratedLufs ?? -Infinity;
}

/** Through both sections of K-weighting. */
function kWeighted(x: Float32Array, sampleRate: Hertz): Float64Array {
  const { shelf, highPass } = kWeighting(sampleRate);
  return [shelf, highPass].reduce<Float64Array>((y, { b0, b1, b2, a1, a2 }) => {
    let [s1, s2] = [0, 0];
    return y.map((v) => {
      const out = b0 * v + s1;
      s1 = b1 * v - a1 * out + s2;
      s2 = b2 * v - a2 * out;
      return out;
    });
  }, Float64Array.from(x));
}

/** K-weighted power of what `after` has beside `before` at its best common gain, dB under that. */
export function kWeightedDistortion(before: Planar, after: Planar, sampleRate: Hertz): Decibels {
  let [cross, own] = [0, 0];
  const pairs = before.map((x, c) => [kWeighted(x, sampleRate), kWeighted(after[c]!, sampleRate)] as const);
  for (const [x, y] of pairs)
    x.forEach((v, i) => {
      cross += v * y[i]!;
      own += v * v;
    });
  const gain = cross / own;
  let rest = 0;
  for (const [x, y] of pairs) x.forEach((v, i) => (rest += (y[i]! - gain * v) ** 2));
  return 10 * Math.log10(rest / (gain * gain * own));
}

/** Samples that `residueDb` looks at. */
export const RESIDUE_FRAMES = 131_072;

/** Power of what is at none of the `tones`, dB under them: total harmonic distortion and noise, intermodulation. */
export function residueDb(x: Float32Array, tones: readonly Hertz[], sampleRate: Hertz): Decibels {
  const [re, im] = [new Float64Array(RESIDUE_FRAMES), new Float64Array(RESIDUE_FRAMES)];
  const from = x.length - RESIDUE_FRAMES - 4800;
  for (let i = 0; i < RESIDUE_FRAMES; i++) {
    const w = (2 * Math.PI * i) / RESIDUE_FRAMES;
    const window = 0.35875 - 0.48829 * Math.cos(w) + 0.14128 * Math.cos(2 * w) - 0.01168 * Math.cos(3 * w);
    re[i] = x[from + i]! * window;
  }
  new Fft(RESIDUE_FRAMES).forward(re, im);
  const width = (6 * sampleRate) / RESIDUE_FRAMES;
  let [kept, rest] = [0, 0];
  for (let k = 0; k < RESIDUE_FRAMES / 2; k++) {
    const at = (k * sampleRate) / RESIDUE_FRAMES;
    const power = re[k]! ** 2 + im[k]! ** 2;
    if (tones.some((hertz) => Math.abs(at - hertz) <= width)) kept += power;
    else if (at > 15) rest += power;
  }
  return 10 * Math.log10(rest / kept);
}

/** How far the level of a tone moves over steps of 10 ms, dB. */
export function movesBy(x: Float32Array, hertz: Hertz, sampleRate: Hertz, from: number, to: number): Decibels {
  const hop = sampleRate / 100;
  let [least, most] = [Infinity, -Infinity];
  for (let at = from; at + hop <= to; at += hop) {
    let [re, im] = [0, 0];
    for (let i = at; i < at + hop; i++) {
      re += x[i]! * Math.cos((2 * Math.PI * hertz * i) / sampleRate);
      im += x[i]! * Math.sin((2 * Math.PI * hertz * i) / sampleRate);
    }
    const level = 20 * Math.log10(Math.hypot(re, im));
    least = Math.min(least, level);
    most = Math.max(most, level);
  }
  return most - least;
}
