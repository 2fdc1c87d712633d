import { exp10, log10 } from "../math/deterministic-math";
import { counted, formatDb } from "../audio/format";
import type { Decibels, Lufs } from "../audio/units";
import { number, type Breakpoint, type SettingsOf } from "../parameters/parameter";
import { decimatedBreakpoints } from "../parameters/breakpoints";
import type { LevelCurves, ProcessorDefinition } from "./processor";
import { gainEnvelopeParameter, predictGainEnvelope, gainEnvelope } from "./gain-envelope";

const parameters = {
  line: gainEnvelopeParameter("What is done to the level over time; worked out from the targets, or drawn"),
  amountPercent: number("Amount", "How much of the line is applied", {
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 100,
  }),
  targetLufs: number("Target", "Short-term loudness that it rides toward", {
    unit: "LUFS",
    min: -40,
    max: -6,
    step: 0.5,
    default: -20,
  }),
  windowLu: number("Window", "Loudness this near to the target, above and below, is left alone", {
    unit: "LU",
    min: 0,
    max: 12,
    step: 0.5,
    default: 2,
  }),
  upDb: number("Max boost", "It lifts by this at most", { unit: "dB", min: 0, max: 18, step: 0.5, default: 6 }),
  downDb: number("Max cut", "It lowers by this at most", { unit: "dB", min: 0, max: 18, step: 0.5, default: 6 }),
  speedDbPerSecond: number("Speed", "The gain moves no faster than this", {
    unit: "dB/s",
    min: 0.2,
    max: 20,
    step: 0.1,
    scale: "log",
    default: 2,
  }),
  pauseLufs: number("Pauses below", "What is quieter is a pause: the gain waits", {
    unit: "LUFS",
    min: -70,
    max: -20,
    step: 1,
    default: -45,
  }),
};

export type LevellerSettings = SettingsOf<typeof parameters>;

const STEP_SECONDS = 0.1;
/** Short-term loudness: 3 s, which is 30 momentary steps. */
const SHORT_TERM_STEPS = 30;
/** The line may lose points as long as it stays as near as this. */
const TOLERANCE: Decibels = 0.1;

/** Short-term loudness around each step, from momentary loudness in steps of 100 ms; pauses do not count. */
function around(momentary: Float32Array, pauseLufs: Lufs): Float64Array {
  const powers = Float64Array.from(momentary, (lufs) => (lufs > pauseLufs ? exp10(lufs / 10) : 0));
  const sums = new Float64Array(powers.length + 1);
  const counts = new Float64Array(powers.length + 1);
  powers.forEach((power, i) => {
    sums[i + 1] = sums[i]! + power;
    counts[i + 1] = counts[i]! + (power > 0 ? 1 : 0);
  });
  return powers.map((_, i) => {
    // A momentary value ends at its step, so that what lies around a step is read a little later.
    const from = Math.max(0, i + 2 - SHORT_TERM_STEPS / 2);
    const to = Math.min(powers.length, i + 2 + SHORT_TERM_STEPS / 2);
    const count = counts[to]! - counts[from]!;
    return count > 0 ? 10 * log10((sums[to]! - sums[from]!) / count) : -Infinity;
  });
}

/** The line that brings the short-term loudness into the window around its target, as far as speed and range allow. */
export function levellerEnvelope(levels: Pick<LevelCurves, "momentaryLufs">, settings: LevellerSettings): Breakpoint[] {
  const { targetLufs, windowLu, upDb, downDb, speedDbPerSecond, pauseLufs } = settings;
  const loudness = around(levels.momentaryLufs, pauseLufs);
  const wanted = new Float64Array(loudness.length);
  let last = 0;
  loudness.forEach((lufs, i) => {
    if (levels.momentaryLufs[i]! > pauseLufs && lufs > -Infinity) {
      const away = targetLufs - lufs;
      const beyond = Math.sign(away) * Math.max(0, Math.abs(away) - windowLu);
      last = Math.max(-downDb, Math.min(upDb, beyond));
    }
    wanted[i] = last;
  });
  // No faster than its speed, forwards and backwards, so that it begins to move before a change and not behind it.
  const most = speedDbPerSecond * STEP_SECONDS;
  const limited = (order: number[]) => {
    const line = wanted.slice();
    order.forEach((i, n) => {
      if (n === 0) return;
      const before = line[order[n - 1]!]!;
      line[i] = Math.max(before - most, Math.min(before + most, line[i]!));
    });
    return line;
  };
  const places = Array.from(wanted.keys());
  const [forwards, backwards] = [limited(places), limited([...places].reverse())];
  const line = places.map((i): Breakpoint => [(i + 0.5) * STEP_SECONDS, (forwards[i]! + backwards[i]!) / 2]);
  return decimatedBreakpoints(line, TOLERANCE).map(([x, y]): Breakpoint => [
    Number(x.toFixed(2)),
    Number(y.toFixed(2)),
  ]);
}

/** Rides the gain slowly toward a loudness. */
export const leveller: ProcessorDefinition<typeof parameters> = {
  id: "leveller",
  name: "Leveller",
  group: "level",
  help: "Rides the gain slowly, as a hand on a fader would, toward a loudness; its line can be drawn over",
  keywords: "ride rider automatic gain agc level even loudness fader",
  parameters,
  commonControls: "none",
  visualiser: {
    kind: "gain envelope",
    of: "item",
    envelope: (momentaryLufs, settings) => levellerEnvelope({ momentaryLufs }, settings),
  },
  memory: 0,
  create: ({ line, amountPercent }, { sampleRate }, start) =>
    gainEnvelope(line, amountPercent / 100, sampleRate, start),
  predict: (levels, { line, amountPercent }) => predictGainEnvelope(levels, line, amountPercent / 100),
  summary: ({ line, targetLufs }) =>
    line.length === 0 ? "no line yet" : `toward ${formatDb(targetLufs)} LUFS, ${counted(line.length, "point")}`,
  presets: [
    {
      name: "Reader",
      use: "a voice that comes and goes over a chapter",
      settings: { windowLu: 1.5, speedDbPerSecond: 2 },
    },
    {
      name: "Talk",
      use: "several voices, far and near",
      settings: { windowLu: 1, upDb: 9, downDb: 9, speedDbPerSecond: 4 },
    },
    {
      name: "Concert",
      use: "slow swells that should stay",
      settings: { windowLu: 5, upDb: 4, downDb: 3, speedDbPerSecond: 0.5 },
    },
  ],
};
