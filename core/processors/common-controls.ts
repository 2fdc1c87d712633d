/** The common controls of a processor: input and output level, mix, and the channels or side that it works on. */
import type { StreamFormat } from "../audio/stream-format";
import { layoutNamed } from "../audio/layout";
import { dbToGain, gainToDb } from "../audio/decibel";
import { slicePlanar, type Decibels, type Frames, type Planar } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import type { Parameters, Setting, SettingsOf } from "../parameters/parameter";
import type { LevelCurves, Processor, ProcessorDefinition } from "./processor";

const level = (label: string, help: string) =>
  ({ kind: "number", label, help, unit: "dB", min: -36, max: 36, step: 0.1, scale: "linear", default: 0 }) as const;

const LEVELS = {
  inputDb: level("Input level", "Gain before it: how hard what follows is driven"),
  outputDb: level("Output level", "Gain after it"),
} as const;

const SIDES = {
  sides: {
    kind: "choice",
    label: "Channels",
    help: "All channels, or one side of a stereo signal; middle is what both sides share",
    options: [
      { value: "all", label: "all channels" },
      { value: "left", label: "left" },
      { value: "right", label: "right" },
      { value: "mid", label: "middle" },
      { value: "side", label: "side" },
    ],
    default: "all",
  },
} as const;

const MIX = {
  mix: {
    kind: "number",
    label: "Mix",
    help: "How much of the processed sound is heard; the rest is the sound as it came",
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    scale: "linear",
    default: 100,
  },
} as const;

const PARAMETERS = { all: { ...LEVELS, ...MIX, ...SIDES }, "levels and sides": { ...LEVELS, ...SIDES }, none: {} };

export const commonControls = ({ commonControls }: Pick<ProcessorDefinition, "commonControls">): Parameters =>
  PARAMETERS[commonControls];

type CommonSettings = { inputDb: number; outputDb: number; mix: number; sides: Setting };

const commonSettingsOf = (settings: SettingsOf<Parameters>): CommonSettings => ({
  inputDb: Number(settings["inputDb"] ?? 0),
  outputDb: Number(settings["outputDb"] ?? 0),
  mix: Number(settings["mix"] ?? 100),
  sides: settings["sides"] ?? "all",
});

/** The processor within its common controls; the bare one where they do nothing. */
export function createWithCommonControls(
  create: (format: StreamFormat) => Processor,
  settings: SettingsOf<Parameters>,
  format: StreamFormat,
): Processor {
  const { inputDb, outputDb, mix, sides } = commonSettingsOf(settings);
  const channels = format.layout.speakers.length;
  // A side can only be told where there are two.
  const sided = channels === 2 && typeof sides === "string" ? sides : "all";
  const inner = create(sided === "all" ? format : { ...format, layout: layoutNamed("mono")! });
  if (inputDb === 0 && outputDb === 0 && mix === 100 && sided === "all") return inner;
  const input = dbToGain(inputDb);
  const output = dbToGain(outputDb);
  const wet = mix / 100;
  const delays = Array.from({ length: channels }, () => new DelayLine(inner.latency));
  return {
    ...(inner.takeGainReduction ? { takeGainReduction: () => inner.takeGainReduction!() } : {}),
    ...(inner.state ? { state: [...inner.state, ...delays] } : {}),
    latency: inner.latency,
    process(given, frames, key) {
      const block = slicePlanar(given, 0, frames);
      const dry = block.map((x, c) => {
        const copy = x.slice();
        delays[c]!.process(copy);
        return copy;
      });
      if (input !== 1) for (const x of block) for (let i = 0; i < frames; i++) x[i] = x[i]! * input;
      processSided(inner, block, sided, dry, frames, key);
      for (let c = 0; c < channels; c++) {
        const x = block[c]!;
        const d = dry[c]!;
        for (let i = 0; i < frames; i++) x[i] = output * (wet === 1 ? x[i]! : d[i]! + wet * (x[i]! - d[i]!));
      }
    },
  };
}

/** One side of a key: what a processor that works on one side listens to. */
function sideOfKey(key: Planar, sided: string): Planar {
  const [left, right] = key as [Float32Array, Float32Array];
  if (sided === "left") return [left];
  if (sided === "right") return [right];
  const sign = sided === "mid" ? 1 : -1;
  return [left.map((v, i) => 0.5 * (v + sign * right[i]!))];
}

function processSided(
  inner: Processor,
  block: Planar,
  sided: string,
  dry: Planar,
  frames: Frames,
  given: Planar | undefined,
): void {
  if (sided === "all") return inner.process(block, frames, given);
  const key = given && sideOfKey(given, sided);
  const [left, right] = block as [Float32Array, Float32Array];
  const rest = (own: Float32Array, other: Float32Array, delayed: Float32Array) => {
    inner.process([own], frames, key);
    for (let i = 0; i < frames; i++) other[i] = delayed[i]!;
  };
  if (sided === "left") return rest(left, right, dry[1]!);
  if (sided === "right") return rest(right, left, dry[0]!);
  const sign = sided === "mid" ? 1 : -1;
  const own = new Float32Array(frames);
  for (let i = 0; i < frames; i++) own[i] = 0.5 * (left[i]! + sign * right[i]!);
  inner.process([own], frames, key);
  for (let i = 0; i < frames; i++) {
    // The other of middle and side stays as it was, delayed alike; both sides are put together again.
    const other = 0.5 * (dry[0]![i]! - sign * dry[1]![i]!);
    left[i] = other + own[i]!;
    right[i] = sign * (own[i]! - other);
  }
}

const raised = (levels: LevelCurves, db: Decibels): LevelCurves =>
  db === 0
    ? levels
    : { ...levels, peakDb: levels.peakDb.map((v) => v + db), momentaryLufs: levels.momentaryLufs.map((v) => v + db) };

/** Levels after a processor within its common controls. */
export function predictWithCommonControls(
  before: LevelCurves,
  predict: (levels: LevelCurves) => LevelCurves,
  settings: SettingsOf<Parameters>,
): LevelCurves {
  const { inputDb, outputDb, mix, sides } = commonSettingsOf(settings);
  const after = predict(raised(before, inputDb));
  const share = (mix / 100) * (sides === "all" ? 1 : 0.5);
  if (share === 1) return raised(after, outputDb);
  // Both are the same sound at two levels: amplitudes add up.
  const blend = (dry: Float32Array, wet: Float32Array) =>
    wet.map((level, i) => gainToDb((1 - share) * dbToGain(dry[i]!) + share * dbToGain(level)));
  const mixed = {
    ...after,
    peakDb: blend(before.peakDb, after.peakDb),
    momentaryLufs: blend(before.momentaryLufs, after.momentaryLufs),
  };
  return raised(mixed, outputDb);
}
