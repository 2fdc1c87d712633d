/** Instruments of the demo studio, made of delay lines, resonators and seeded noise. Mono; mixed and placed elsewhere. */
import type { Random } from "@core/math/random";

export const RATE = 48_000;

const SINE = Float32Array.from({ length: 8193 }, (_, i) => Math.sin((2 * Math.PI * i) / 8192));

/** sin(2π·turns) by table, turns ≥ 0: a score has a great many. */
function sine(turns: number): number {
  const at = (turns - Math.floor(turns)) * 8192;
  const low = Math.floor(at);
  return SINE[low]! + (at - low) * (SINE[low + 1]! - SINE[low]!);
}

/** Frequency of a MIDI note number. */
export const pitch = (note: number): number => 440 * 2 ** ((note - 69) / 12);

/** A plucked string (Karplus & Strong 1983), damped by `brightness` 0…1. */
export function pluck(hertz: number, seconds: number, brightness: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  const period = RATE / hertz;
  const length = Math.floor(period - 0.5);
  const line = new Float32Array(length);
  let smooth = 0;
  for (let i = 0; i < length; i++) {
    smooth += (random.between(-1, 1) - smooth) * (0.25 + 0.7 * brightness);
    line[i] = smooth;
  }
  const fraction = period - 0.5 - length;
  const allpass = (1 - fraction) / (1 + fraction);
  const loss = 0.5 ** (1 / (hertz * (0.5 + 2.2 * seconds * 0.3)));
  let at = 0;
  let previous = 0;
  let passed = 0;
  let before = 0;
  for (let i = 0; i < out.length; i++) {
    const x = line[at]!;
    out[i] = x;
    const averaged = loss * ((0.5 + 0.5 * brightness) * x + (0.5 - 0.5 * brightness) * previous);
    previous = x;
    passed = allpass * averaged + before - allpass * passed;
    before = averaged;
    line[at] = passed;
    if (++at === length) at = 0;
  }
  return faded(out, 0.002, 0.05);
}

/** A bowed string: a band-limited saw with vibrato and bow noise through the resonances of a body. */
export function bow(hertz: number, seconds: number, pressure: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  const partials = Math.min(24, Math.floor(9000 / hertz));
  const phases = Array.from({ length: partials }, () => random.next());
  const levels = Array.from({ length: partials }, (_, k) => 1 / (k + 1) ** (1.25 - 0.3 * pressure));
  let drift = 0;
  for (let i = 0; i < out.length; i++) {
    const t = i / RATE;
    drift += (random.between(-1, 1) - drift) * 0.0004;
    const vibrato = 1 + 0.0035 * Math.min(1, t / 0.7) * sine(5.3 * t) + 0.02 * drift;
    let sum = 0;
    for (let k = 0; k < partials; k++) {
      const phase = (phases[k]! += (hertz * (k + 1) * vibrato) / RATE);
      sum += levels[k]! * sine(phase);
    }
    out[i] = 0.16 * sum + 0.012 * pressure * random.between(-1, 1);
  }
  return faded(
    resonated(
      out,
      [
        [275, 6],
        [460, 8],
        [1180, 9],
        [2600, 7],
      ],
      0.5,
    ),
    0.16,
    0.3,
  );
}

/** A drum: a gliding tone and a burst of noise. */
export function drum(hertz: number, seconds: number, noisiness: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  let phase = 0;
  let low = 0;
  for (let i = 0; i < out.length; i++) {
    const t = i / RATE;
    phase += (hertz * (1 + 1.6 * Math.exp(-t * 38))) / RATE;
    low += (random.between(-1, 1) - low) * 0.55;
    out[i] =
      Math.sin(2 * Math.PI * phase) * Math.exp((-t * 7) / seconds) * (1 - noisiness) +
      low * Math.exp((-t * 22) / seconds) * noisiness;
  }
  return faded(out, 0.0005, 0.02);
}

const VOWELS: Record<string, [number, number][]> = {
  a: [
    [730, 9],
    [1090, 11],
    [2440, 14],
  ],
  o: [
    [420, 9],
    [840, 11],
    [2400, 14],
  ],
  e: [
    [530, 9],
    [1840, 12],
    [2480, 14],
  ],
  u: [
    [310, 8],
    [870, 11],
    [2250, 14],
  ],
};

/** A choir voice: pulses and breath through the formants of a vowel. */
export function voice(hertz: number, seconds: number, vowel: keyof typeof VOWELS, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  let phase = random.next();
  for (let i = 0; i < out.length; i++) {
    const t = i / RATE;
    phase += (hertz * (1 + 0.006 * Math.sin(2 * Math.PI * 4.7 * t + hertz))) / RATE;
    const cycle = phase - Math.floor(phase);
    out[i] = (cycle < 0.35 ? Math.sin((Math.PI * cycle) / 0.35) ** 2 : 0) - 0.17 + 0.09 * random.between(-1, 1);
  }
  return faded(resonated(out, VOWELS[vowel]!, 0.05), 0.25, 0.4);
}

/** A bell: inharmonic partials that die at their own pace. */
export function bell(hertz: number, seconds: number): Float32Array {
  const partials = [
    [0.5, 0.5, 1],
    [1, 1, 0.8],
    [1.19, 0.7, 0.6],
    [1.56, 0.4, 0.5],
    [2, 0.6, 0.4],
    [2.66, 0.3, 0.25],
    [3.01, 0.25, 0.2],
  ] as const;
  const out = new Float32Array(Math.round(seconds * RATE));
  for (const [ratio, gain, life] of partials) {
    for (let i = 0; i < out.length; i++) {
      const t = i / RATE;
      out[i]! += 0.25 * gain * sine(hertz * ratio * t) * Math.exp((-t * 4) / (seconds * life));
    }
  }
  return faded(out, 0.001, 0.05);
}

/** A bird: a few short glides. */
export function chirp(hertz: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(0.5 * RATE));
  let at = 0;
  for (let note = 0; note < 4; note++) {
    const length = Math.round(random.between(0.05, 0.11) * RATE);
    const glide = random.between(-0.25, 0.35);
    let phase = 0;
    for (let i = 0; i < length && at + i < out.length; i++) {
      const x = i / length;
      phase += (hertz * (1 + glide * x)) / RATE;
      out[at + i] = 0.4 * Math.sin(2 * Math.PI * phase) * Math.sin(Math.PI * x) ** 2;
    }
    at += length + Math.round(random.between(0.01, 0.04) * RATE);
  }
  return out;
}

/** Adds two-pole resonances [hertz, q] to what is kept of the direct sound. */
export function resonated(
  x: Float32Array,
  poles: readonly (readonly [number, number])[],
  direct: number,
): Float32Array {
  const out = x.map((v) => v * direct);
  for (const [hertz, q] of poles) {
    const w = (2 * Math.PI * hertz) / RATE;
    const r = 1 - w / (2 * q);
    const a1 = -2 * r * Math.cos(w);
    const a2 = r * r;
    const gain = (1 - r) * 2 * Math.sin(w);
    let y1 = 0;
    let y2 = 0;
    for (let i = 0; i < x.length; i++) {
      const y = gain * x[i]! - a1 * y1 - a2 * y2;
      y2 = y1;
      y1 = y;
      out[i]! += y;
    }
  }
  return out;
}

export function faded(x: Float32Array, attackSeconds: number, releaseSeconds: number): Float32Array {
  const attack = Math.min(x.length, Math.round(attackSeconds * RATE));
  const release = Math.min(x.length, Math.round(releaseSeconds * RATE));
  for (let i = 0; i < attack; i++) x[i]! *= i / attack;
  for (let i = 0; i < release; i++) x[x.length - 1 - i]! *= i / release;
  return x;
}
