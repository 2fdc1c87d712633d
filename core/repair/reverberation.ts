import { dbToGain, dbToPower } from "../signal/decibel";
import { formatDb } from "../signal/format";
import { exp } from "../math/elementary";
import type { RepairDefinition } from "./repair";
import { Resolution, turnDown, type Unwanted } from "./resolution";
import { frameNear } from "./spectral/frames";
import type { SettingsOf } from "../process/parameter";
import type { Hertz, Seconds } from "../signal/units";

const parameters = {
  tailSeconds: {
    kind: "number",
    label: "Tail",
    help: "How long the room takes to fall by 60 dB",
    unit: "s",
    min: 0.1,
    max: 4,
    step: 0.05,
    scale: "log",
    default: 0.5,
  },
  earlyMs: {
    kind: "number",
    label: "Keep the first",
    help: "Reflections that come sooner than this belong to the voice",
    unit: "ms",
    min: 20,
    max: 120,
    step: 5,
    scale: "linear",
    default: 50,
  },
  thresholdDb: {
    kind: "number",
    label: "Threshold",
    help: "Takes the tail for louder (+) or quieter (−) than the time tells: lower it where the voice stands near and the room is faint",
    unit: "dB",
    min: -6,
    max: 6,
    step: 0.5,
    scale: "linear",
    default: 0,
  },
  depthDb: {
    kind: "number",
    label: "Depth",
    help: "How far the tail is turned down at most",
    unit: "dB",
    min: 0,
    max: 30,
    step: 0.5,
    scale: "linear",
    default: 18,
  },
} as const;

/** Short frames follow the voice, long ones its harmonics. */
const FRAME_SECONDS: readonly Seconds[] = [0.05, 0.1];
/** More than the mean of the tail counts as tail: what stands above its mean is heard longest. */
const TAIL_SHARE = 2;

/** 60 dB in natural units of power: ln 10⁶. */
const LN_MILLION = 13.815510557964274;

/**
 * Power of the late tail: what was there some 50 ms ago, evened out as quickly as the room allows and decayed by it
 * (Lebart, Boucher, Denbigh 2001; Habets 2007). Shape of both: [frame][bin]. Hot.
 */
function lateTail(powers: Float32Array, bins: number, delay: number, decay: number, share: number): Float32Array {
  const tail = new Float32Array(powers.length);
  const fall = share * decay ** delay;
  const smoothed = powers.slice(0, bins);
  for (let i = 0, k = 0; i + delay * bins < powers.length; i++) {
    smoothed[k] = decay * smoothed[k]! + (1 - decay) * powers[i]!;
    tail[i + delay * bins] = fall * smoothed[k]!;
    if (++k === bins) k = 0;
  }
  return tail;
}

export const roomResolutions = (sampleRate: Hertz): Resolution[] =>
  FRAME_SECONDS.map((seconds) => new Resolution(frameNear(seconds, sampleRate)));

/** What the room adds to each frame. */
export function roomTail(
  { tailSeconds, earlyMs, thresholdDb, depthDb }: SettingsOf<typeof parameters>,
  sampleRate: Hertz,
): Unwanted {
  return ({ resolution, powers }) => {
    const { bins, hop } = resolution.frames;
    const delay = Math.max(1, Math.round(((earlyMs / 1000) * sampleRate) / hop));
    const decay = exp((-LN_MILLION * hop) / (tailSeconds * sampleRate));
    const tail = lateTail(powers, bins, delay, decay, TAIL_SHARE * dbToPower(thresholdDb));
    const least = new Float32Array(bins).fill(dbToGain(-depthDb));
    return (t) => ({ power: tail.subarray(t * bins, (t + 1) * bins), least });
  };
}

/** Turns down the late tail of a room, and leaves the voice and its early reflections. */
export const reverberation: RepairDefinition<typeof parameters> = {
  id: "reverberation",
  name: "Room",
  help: "Turns down the tail that a room adds, and leaves the voice and its early reflections",
  parameters,
  surroundings: ({ tailSeconds }) => 0.3 + Math.min(2, tailSeconds),
  isNeutral: ({ depthDb }) => depthDb === 0,
  create: (settings, _, { sampleRate }) => turnDown(roomResolutions(sampleRate), roomTail(settings, sampleRate)),
  summary: ({ tailSeconds, depthDb }) => `${formatDb(depthDb)} dB, tail ${tailSeconds} s`,
};
