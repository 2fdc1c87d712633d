/** A small room of an algorithm's making: a feedback delay network (Jot & Chaigne, AES 90th Convention, 1991). */
import { exp10 } from "../math/deterministic-math";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { slicePlanar } from "../audio/units";
import { shareOfStep } from "../dsp/dynamics";
import { StateTables } from "../dsp/state";
import { number, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const parameters = {
  amountPercent: number("Amount", "How much room is added", { unit: "%", min: 0, max: 100, step: 1, default: 12 }),
  decaySeconds: number("Decay", "Time in which the room dies away by 60 dB", {
    unit: "s",
    min: 0.1,
    max: 6,
    step: 0.05,
    scale: "log",
    default: 0.7,
  }),
  sizePercent: number("Size", "How far its walls are apart", { unit: "%", min: 20, max: 200, step: 1, default: 80 }),
  earlyMs: number("Pre-delay", "Time before the room answers", {
    unit: "ms",
    min: 0,
    max: 120,
    step: 1,
    default: 12,
  }),
  dampHz: number("Damping", "The room swallows what lies above, quicker than the rest", {
    unit: "Hz",
    min: 1000,
    max: 16000,
    step: 100,
    scale: "log",
    default: 6000,
  }),
  fromHz: number("Low cut", "The room gets nothing from below", {
    unit: "Hz",
    min: 20,
    max: 800,
    step: 5,
    scale: "log",
    default: 150,
  }),
};

/** Lengths of the eight lines at size 100 %, without common divisors at 48 kHz; seconds. */
const LINES = [1423, 1687, 1949, 2237, 2539, 2851, 3181, 3527].map((frames) => frames / 48_000);
const COUNT = LINES.length;
/** Signs with which channel c takes up line n: rows of a Hadamard matrix, so that channels are unlike each other. */
const sign = (c: number, n: number): number => {
  let bits = c & n;
  let odd = 0;
  for (; bits > 0; bits >>= 1) odd ^= bits & 1;
  return odd === 1 ? -1 : 1;
};
const MIXING = 1 / Math.sqrt(COUNT);
/** Below this there is silence: subnormal numbers are slow. */
const SILENT = 1e-20;

/** Adds a room. */
export const ambience: ProcessorDefinition<typeof parameters> = {
  id: "ambience",
  name: "Ambience",
  group: "space",
  help: "Adds a small room around what is too dry or was cut together",
  keywords: "reverb reverberation room space hall depth dry",
  parameters,
  commonControls: "levels and sides",
  visualiser: { kind: "reverb" },
  memory: 6,
  neutral: { amountPercent: 0 },
  create(settings, { sampleRate, layout }) {
    if (settings.amountPercent === 0) return { latency: 0, process: () => undefined };
    const channels = layout.speakers.length;
    const amount = settings.amountPercent / 100;
    const lengths = LINES.map((seconds) => Math.round((seconds * sampleRate * settings.sizePercent) / 100));
    const lines = lengths.map((length) => new Float64Array(length));
    // −60 dB after the decay, whatever a line's length.
    const gains = lengths.map((length) => exp10((-3 * length) / (settings.decaySeconds * sampleRate)));
    const share = shareOfStep(1 / (2 * 3.141592653589793 * settings.dampHz), sampleRate);
    const damped = new Float64Array(COUNT);
    const places = new Int32Array(COUNT);
    const early = new Float32Array(Math.max(1, Math.round((settings.earlyMs / 1000) * sampleRate)));
    const earlyAt = new Int32Array(1);
    const filter = new BiquadFilter(butterworth("high", settings.fromHz, 2, sampleRate), 1);
    const out = new Float64Array(COUNT);
    return {
      latency: 0,
      state: [filter, new StateTables([...lines, damped, places, early, earlyAt])],
      process(given, frames) {
        const block = slicePlanar(given, 0, frames);
        const sum = new Float32Array(frames);
        for (const x of block) for (let i = 0; i < frames; i++) sum[i] = sum[i]! + x[i]! / channels;
        filter.process([sum]);
        for (let i = 0; i < frames; i++) {
          const at = earlyAt[0]!;
          const input = early[at]!;
          early[at] = sum[i]!;
          earlyAt[0] = at + 1 === early.length ? 0 : at + 1;
          for (let n = 0; n < COUNT; n++) {
            const read = lines[n]![places[n]!]!;
            let state = damped[n]! + (read - damped[n]!) * share;
            if (state < SILENT && state > -SILENT) state = 0;
            damped[n] = state;
            out[n] = state * gains[n]!;
          }
          // The lines are mixed by a fast Hadamard transform, which keeps their energy.
          for (let half = 1; half < COUNT; half *= 2)
            for (let n = 0; n < COUNT; n++) {
              if (n & half) continue;
              const [a, b] = [out[n]!, out[n + half]!];
              out[n] = a + b;
              out[n + half] = a - b;
            }
          for (let n = 0; n < COUNT; n++) {
            const line = lines[n]!;
            line[places[n]!] = input + out[n]! * MIXING;
            if (++places[n]! === line.length) places[n] = 0;
          }
          for (let c = 0; c < channels; c++) {
            let room = 0;
            for (let n = 0; n < COUNT; n++) room += sign(c + 1, n) * damped[n]!;
            block[c]![i] = block[c]![i]! + amount * MIXING * room;
          }
        }
      },
    };
  },
  automatable: ["amountPercent"],
  predict: (levels) => levels,
  summary: ({ amountPercent, decaySeconds }: SettingsOf<typeof parameters>) => `${amountPercent} %, ${decaySeconds} s`,
  presets: [
    {
      name: "Booth",
      use: "a voice that was recorded too dry",
      settings: { amountPercent: 8, decaySeconds: 0.3, sizePercent: 40, earlyMs: 3 },
    },
    {
      name: "Wooden room",
      use: "a small group that should stand in one place",
      settings: { amountPercent: 14, decaySeconds: 0.8 },
    },
    {
      name: "Hall behind",
      use: "depth without moving the front",
      settings: { amountPercent: 12, decaySeconds: 2.2, sizePercent: 160, earlyMs: 35 },
    },
  ],
};
