import { formatDb } from "../audio/format";
import { choice, number, type Breakpoint, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";
import { gainEnvelopeParameter, predictGainEnvelope, gainEnvelope } from "./gain-envelope";

const parameters = {
  line: gainEnvelopeParameter("What is done to the level over time; worked out from another item, or drawn"),
  amountDb: number("Depth", "How far it goes down while the other item sounds", {
    unit: "dB",
    min: 0,
    max: 40,
    step: 0.5,
    default: 12,
  }),
  thresholdLufs: number("Threshold", "Momentary loudness above which the other item counts as sounding", {
    unit: "LUFS",
    min: -60,
    max: -10,
    step: 1,
    default: -40,
  }),
  holdSeconds: number("Hold", "It stays down through pauses that are shorter", {
    unit: "s",
    min: 0,
    max: 10,
    step: 0.1,
    default: 1,
  }),
  downSeconds: number("Fade down", "Time of the fade down, which ends as the other item sets in", {
    unit: "s",
    min: 0.02,
    max: 10,
    step: 0.02,
    scale: "log",
    default: 0.4,
  }),
  upSeconds: number("Fade up", "Time of the fade up", {
    unit: "s",
    min: 0.02,
    max: 20,
    step: 0.02,
    scale: "log",
    default: 1.2,
  }),
  shape: choice("Fade shape", "How the fades run, in dB", { straight: "straight", soft: "soft at both ends" }),
  offsetSeconds: number("Offset", "Where in this item the other one begins", {
    unit: "s",
    min: -3600,
    max: 36000,
    step: 0.1,
    default: 0,
  }),
};

export type DuckerSettings = SettingsOf<typeof parameters>;

const STEP_SECONDS = 0.1;
/** Points of a soft fade. */
const SOFT_POINTS = 8;

/** Stretches in which an item sounds, pauses shorter than the hold passed over; seconds of that item. */
function soundingOf(momentary: Float32Array, { thresholdLufs, holdSeconds }: DuckerSettings) {
  const stretches: { start: number; end: number }[] = [];
  momentary.forEach((lufs, i) => {
    if (lufs < thresholdLufs) return;
    // A momentary value covers the 400 ms up to its step.
    const start = Math.max(0, (i - 2) * STEP_SECONDS);
    const end = (i + 1) * STEP_SECONDS;
    const last = stretches.at(-1);
    if (last && start - last.end <= holdSeconds) last.end = end;
    else stretches.push({ start, end });
  });
  return stretches;
}

/** The line that goes down while another item sounds. @param momentary loudness of the other item */
export function duckerEnvelope(momentary: Float32Array, settings: DuckerSettings): Breakpoint[] {
  const { amountDb, downSeconds, upSeconds, shape, offsetSeconds, holdSeconds } = settings;
  const fade = (from: number, to: number, seconds: number, at: number): Breakpoint[] => {
    const count = shape === "soft" ? SOFT_POINTS : 1;
    return Array.from({ length: count + 1 }, (_, n): Breakpoint => {
      const share = n / count;
      const bent = shape === "soft" ? share * share * (3 - 2 * share) : share;
      return [at + share * seconds, from + bent * (to - from)];
    });
  };
  const points = soundingOf(momentary, settings).flatMap(({ start, end }) => [
    ...fade(0, -amountDb, downSeconds, start + offsetSeconds - downSeconds),
    ...fade(-amountDb, 0, upSeconds, end + offsetSeconds + holdSeconds),
  ]);
  return joinedFades(points);
}

/** Where a fade up runs into the next fade down, the lower one counts. */
function joinedFades(points: readonly Breakpoint[]): Breakpoint[] {
  const line: Breakpoint[] = [];
  for (const [x, y] of points) {
    const at = Math.max(0, Math.round(x * 1000) / 1000);
    while (line.length > 0 && line.at(-1)![0] >= at) {
      const [, before] = line.pop()!;
      if (before < y && line.length > 0 && line.at(-1)![1] <= before) break;
    }
    line.push([at, Number(y.toFixed(2))]);
  }
  return line.filter(([x], i) => i === 0 || x > line[i - 1]![0]);
}

/** Goes down while another item sounds. */
export const ducker: ProcessorDefinition<typeof parameters> = {
  id: "ducker",
  name: "Ducker",
  group: "level",
  help: "Goes down while another item sounds: music under speech, a translation over its original",
  keywords: "duck sidechain voice over music under speech translation",
  parameters,
  commonControls: "none",
  visualiser: { kind: "gain envelope", of: "another item", envelope: duckerEnvelope },
  memory: 0,
  create: ({ line }, { sampleRate }, start) => gainEnvelope(line, 1, sampleRate, start),
  predict: (levels, { line }) => predictGainEnvelope(levels, line, 1),
  summary: ({ line, amountDb }) =>
    line.length === 0 ? "no line yet" : `${formatDb(-amountDb)} dB under the other item`,
  presets: [
    {
      name: "Music under speech",
      use: "a bed under a reader",
      settings: { amountDb: 14, downSeconds: 0.5, upSeconds: 1.5 },
    },
    {
      name: "Original under translation",
      use: "the first words stay",
      settings: { amountDb: 18, downSeconds: 0.3, upSeconds: 0.6, holdSeconds: 2 },
    },
  ],
};
