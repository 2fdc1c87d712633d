/** Sound with known clean originals, what spoils it, and how near a repair comes: for tests and the bench. */
import { Random } from "../math/random";
import type { Decibels, Hertz } from "../audio/units";

export const meanPower = (x: Float32Array): number => x.reduce((sum, v) => sum + v * v, 0) / x.length;

/** Scale-invariant signal-to-distortion ratio (Le Roux et al. 2019). */
export function siSdr(estimate: Float32Array, clean: Float32Array): Decibels {
  let [cross, own] = [0, 0];
  for (let i = 0; i < clean.length; i++) {
    cross += estimate[i]! * clean[i]!;
    own += clean[i]! * clean[i]!;
  }
  const scale = cross / own;
  let off = 0;
  for (let i = 0; i < clean.length; i++) off += (estimate[i]! - scale * clean[i]!) ** 2;
  return 10 * Math.log10((scale * scale * own) / off);
}

const gaussian = (random: Random): number =>
  Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next());

/** Speech as far as repairs care: gliding pulses through resonances, hissing consonants, pauses. Peak 0.5. */
export function speechLike(seconds: number, rate: Hertz, seed: number): Float32Array {
  const random = new Random(seed);
  const x = new Float32Array(Math.round(seconds * rate));
  let phase = 0;
  // A voice falls by 12 dB an octave from some 500 Hz on.
  const slope = 1 - Math.exp((-2 * Math.PI * 500) / rate);
  let [soft, softer] = [0, 0];
  for (let at = Math.round(0.1 * rate); at < x.length;) {
    const length = Math.round(random.between(0.12, 0.3) * rate);
    const [pitch, glide] = [random.between(95, 180), random.between(-0.25, 0.25)];
    const formants = [random.between(300, 800), random.between(900, 2200), random.between(2400, 3200)];
    const states = formants.map(() => [0, 0]);
    const hissing = random.next() < 0.25;
    for (let i = 0; i < length && at + i < x.length; i++) {
      const envelope = Math.sin((Math.PI * i) / length) ** 0.7;
      const before = phase;
      phase = (phase + (pitch * (1 + (glide * i) / length)) / rate) % 1;
      soft += slope * ((phase < before ? 1 : 0) + 0.002 * gaussian(random) - soft);
      softer += slope * (soft - softer);
      const source = hissing ? 0.02 * gaussian(random) : 6 * softer;
      let out = hissing ? source * 0.5 : 0;
      formants.forEach((hertz, f) => {
        const radius = Math.exp((-Math.PI * (60 + 40 * f)) / rate);
        const [a, b] = states[f] as [number, number];
        const y = source + 2 * radius * Math.cos((2 * Math.PI * hertz) / rate) * a - radius * radius * b;
        states[f] = [y, a];
        out += (y * 0.08) / (f + 1);
      });
      x[at + i] = envelope * out;
    }
    at += length + (random.next() < 0.2 ? Math.round(random.between(0.25, 0.6) * rate) : 0);
  }
  const top = x.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  return x.map((v) => (0.5 * v) / top);
}

/** Chords of decaying partials: music as far as repairs care. Peak 0.5. */
export function musicLike(seconds: number, rate: Hertz, seed: number): Float32Array {
  const random = new Random(seed);
  const x = new Float32Array(Math.round(seconds * rate));
  for (let at = 0; at < x.length; at += Math.round(0.22 * rate)) {
    for (let voice = 0; voice < 3; voice++) {
      const pitch = 110 * 2 ** (Math.floor(random.between(0, 36)) / 12);
      for (let partial = 1; partial <= 8 && partial * pitch < rate / 2.5; partial++) {
        const [size, turns] = [random.between(0.3, 1) / partial, random.next()];
        const [decay, hertz] = [-3 * partial ** 0.5, pitch * partial];
        for (let i = 0; i < 0.9 * rate && at + i < x.length; i++)
          x[at + i]! += size * Math.exp((decay * i) / rate) * Math.sin(2 * Math.PI * ((hertz * i) / rate + turns));
      }
    }
  }
  const top = x.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  return x.map((v) => (0.5 * v) / top);
}

export type NoiseKind = "room" | "fan" | "hiss";

/** Steady noise: low and soft, with the tones of a fan, or a hiss. */
export function steadyNoise(kind: NoiseKind, frames: number, rate: Hertz, seed: number): Float32Array {
  const random = new Random(seed);
  const x = new Float32Array(frames);
  let [a, b, c, low, last] = [0, 0, 0, 0, 0];
  for (let i = 0; i < frames; i++) {
    const white = gaussian(random);
    a = 0.99765 * a + white * 0.099046;
    b = 0.963 * b + white * 0.2965164;
    c = 0.57 * c + white * 1.0526913;
    const pink = a + b + c + white * 0.1848;
    low += 0.25 * (pink - low);
    x[i] = kind === "hiss" ? white - 0.5 * last : kind === "room" ? low : pink;
    last = white;
  }
  if (kind !== "fan") return x;
  const rms = Math.sqrt(meanPower(x));
  const tones = [
    [118, 0.8],
    [236, 0.5],
    [354, 0.3],
    [1240, 0.25],
    [2480, 0.12],
  ] as const;
  return x.map(
    (v, i) =>
      v +
      tones.reduce(
        (sum, [hertz, size]) => sum + size * rms * Math.SQRT2 * Math.sin((2 * Math.PI * hertz * i) / rate),
        0,
      ),
  );
}

/** Hum: harmonics of one fundamental that drifts, each with its own size and phase. */
export function drifting(
  frames: number,
  rate: Hertz,
  baseHz: Hertz,
  harmonics: number,
  driftHz: Hertz,
  seed: number,
): Float32Array {
  const random = new Random(seed);
  const parts = Array.from({ length: harmonics }, (_, h) => ({
    turns: random.next(),
    size: random.between(0.4, 1) / (1 + h * 0.5),
  }));
  const x = new Float32Array(frames);
  let turns = 0;
  for (let i = 0; i < frames; i++) {
    turns += (baseHz + driftHz * Math.sin((2 * Math.PI * 0.07 * i) / rate + seed)) / rate;
    parts.forEach((part, h) => (x[i]! += part.size * Math.sin(2 * Math.PI * ((h + 1) * turns + part.turns))));
  }
  return x;
}

/** `x` with `added`, so many dB below it; and how loud `added` became. */
export function mixed(x: Float32Array, added: Float32Array, belowDb: Decibels, from = 0): Float32Array {
  const gain = Math.sqrt(meanPower(x) / meanPower(added) / 10 ** (belowDb / 10));
  return added.map((v, i) => gain * v + (x[i - from] ?? 0));
}

export interface Clicked {
  spoilt: Float32Array;
  places: { from: number; to: number }[];
}

/** Clicks at random places: sharp ones of up to half a millisecond, or those that ring, as lips do. */
export function clicked(
  x: Float32Array,
  rate: Hertz,
  perSecond: number,
  kind: "sharp" | "ringing",
  seed: number,
): Clicked {
  const random = new Random(seed);
  const spoilt = x.slice();
  const rms = Math.sqrt(meanPower(x));
  const places = Array.from({ length: Math.round((perSecond * x.length) / rate) }, () => {
    const from = Math.floor(random.between(2000, x.length - 2000));
    const length = Math.round(kind === "sharp" ? random.between(1, 25) : random.between(0.001, 0.004) * rate);
    const [hertz, size] = [
      random.between(2000, 6000),
      rms * (kind === "sharp" ? random.between(1, 6) : random.between(0.5, 2.5)),
    ];
    const sign = random.next() < 0.5 ? -1 : 1;
    for (let i = 0; i < length; i++)
      spoilt[from + i]! +=
        kind === "sharp"
          ? sign * size * (i === 0 ? 1 : random.between(-0.8, 0.8)) * (1 - i / length)
          : size * Math.exp((-4 * i) / length) * Math.sin((2 * Math.PI * hertz * i) / rate + 0.5);
    return { from, to: from + length };
  });
  return { spoilt, places };
}

/** Thumps of 3 to 20 ms, 20 dB above the level of `x`, one a second or so. */
export function spiked(x: Float32Array, rate: Hertz, seed: number): Float32Array {
  const random = new Random(seed);
  const spoilt = x.slice();
  const size = 10 * Math.sqrt(meanPower(x));
  for (let second = 0; (second + 1) * rate < x.length; second++) {
    const from = Math.floor((second + random.between(0.1, 0.9)) * rate);
    const length = Math.round(random.between(0.003, 0.02) * rate);
    const hertz = random.between(180, 200);
    for (let i = 0; i < length && from + i < x.length; i++)
      spoilt[from + i]! +=
        size * Math.sin((Math.PI * (i + 0.5)) / length) ** 2 * Math.sin((2 * Math.PI * hertz * i) / rate);
  }
  return spoilt;
}

/** `x` clipped so that `share` of its samples are; where, as +1 and −1. */
export function clippedAt(x: Float32Array, share: number): { spoilt: Float32Array; level: number; cut: Int8Array } {
  const level = Float32Array.from(x, Math.abs).sort()[Math.floor(x.length * (1 - share))]!;
  return {
    level,
    spoilt: x.map((v) => Math.max(-level, Math.min(level, v))),
    cut: Int8Array.from(x, (v) => (v >= level ? 1 : v <= -level ? -1 : 0)),
  };
}

/** Signal to distortion on the samples that were cut. */
export function sdrOnCut(estimate: Float32Array, clean: Float32Array, cut: Int8Array): Decibels {
  let [signal, off] = [0, 0];
  cut.forEach((kind, i) => {
    if (kind === 0) return;
    signal += clean[i]! ** 2;
    off += (clean[i]! - estimate[i]!) ** 2;
  });
  return 10 * Math.log10(signal / off);
}

/** Harmonic mean of precision and recall of places found, a tenth of a millisecond of slack to each side. */
export function f1(
  places: readonly { from: number; to: number }[],
  found: readonly { start: number; end: number }[],
  rate: Hertz,
): number {
  const slack = rate / 10_000;
  const touches = (a: { from: number; to: number }, b: { start: number; end: number }) =>
    b.start < a.to + slack && b.end > a.from - slack;
  const hit = places.filter((place) => found.some((one) => touches(place, one))).length;
  const right = found.filter((one) => places.some((place) => touches(place, one))).length;
  const [recall, precision] = [hit / places.length, right / Math.max(1, found.length)];
  return recall + precision === 0 ? 0 : (2 * recall * precision) / (recall + precision);
}
