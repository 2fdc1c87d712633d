import { dbToGain, dbToPower } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { exp, power } from "../math/deterministic-math";
import type { RepairDefinition } from "./repair";
import { StftResolution, suppress, type NoisePsdEstimator } from "./multi-resolution-suppressor";
import { forChannelPairs, frameLengthNear } from "../dsp/stft";
import { PREDICTION_REACH, WeightedPrediction } from "../dsp/weighted-prediction-error";
import { inTurn } from "./in-turn";
import type { SettingsOf } from "../parameters/parameter";
import type { Hertz, Seconds } from "../audio/units";

const parameters = {
  rt60Seconds: {
    kind: "number",
    label: "RT60",
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
  reverberantToDirectDb: {
    kind: "number",
    label: "Reverberant to direct",
    help: "How loud all of the tail is against the direct sound: −15 dB where the voice stands near, 0 dB some way off",
    unit: "dB",
    min: -20,
    max: 10,
    step: 0.5,
    scale: "linear",
    default: 0,
  },
  maxReductionDb: {
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
/** What the prediction leaves of the tail. */
const TAIL_SHARE = 0.5;
/** A frame holds what lies around it, so that the tail is taken from this much earlier than the early part is long. */
const FRAME_REACH: Seconds = 0.01;

/** Frames of the prediction: long enough that a bin holds its own past. */
const PREDICTION_FRAME: Seconds = 0.043;

/** 60 dB in natural units of power: ln 10⁶. */
const LN_MILLION = 13.815510557964274;

/** Of a room in frames: by how much its tail falls from one to the next, and how much of the direct sound joins it. */
export interface TailModel {
  decay: number;
  joins: number;
}

/** A tail that falls by 60 dB in `rt60Seconds` and holds `level` times the power of the direct sound altogether. */
export function tailModel(rt60Seconds: Seconds, level: number, hop: Seconds): TailModel {
  const decay = exp((-LN_MILLION * hop) / rt60Seconds);
  // A tail of more than all of the sound before it is none.
  return { decay, joins: Math.min(1, (level * (1 - decay)) / decay) };
}

/**
 * Power of the late tail. The room's sound is what there was of it and a share of the direct sound, both decayed by a
 * frame; the direct sound is what the room does not account for (after Lebart, Boucher, Denbigh 2001; Habets 2007).
 * What the room holds `delay` frames before, decayed to where the late part begins, is `fall` times the late tail.
 * Shape of both: [frame][bin]. Hot.
 */
function lateTail(powers: Float32Array, bins: number, model: TailModel, delay: number, fall: number): Float32Array {
  const tail = new Float32Array(powers.length);
  const room = new Float32Array(bins);
  const [kept, joined] = [model.decay * (1 - model.joins), model.decay * model.joins];
  for (let i = 0, k = 0; i + delay * bins < powers.length; i++) {
    room[k] = kept * room[k]! + joined * powers[i]!;
    tail[i + delay * bins] = fall * room[k]!;
    if (++k === bins) k = 0;
  }
  return tail;
}

const reverbResolutions = (sampleRate: Hertz): StftResolution[] =>
  FRAME_SECONDS.map((seconds) => new StftResolution(frameLengthNear(seconds, sampleRate)));

/** What the room adds to each frame. */
function reverbTail(
  { rt60Seconds, earlyMs, reverberantToDirectDb, maxReductionDb }: SettingsOf<typeof parameters>,
  sampleRate: Hertz,
): NoisePsdEstimator {
  return ({ resolution, powers }) => {
    const { bins, hop } = resolution.frames;
    const hopSeconds = hop / sampleRate;
    const model = tailModel(rt60Seconds, dbToPower(reverberantToDirectDb), hopSeconds);
    const delay = Math.ceil((earlyMs / 1000 + FRAME_REACH) / hopSeconds);
    const fall = TAIL_SHARE * power(model.decay, earlyMs / 1000 / hopSeconds - 1);
    const tail = lateTail(powers, bins, model, delay, fall);
    const least = new Float32Array(bins).fill(dbToGain(-maxReductionDb));
    return (t) => ({ power: tail.subarray(t * bins, (t + 1) * bins), least });
  };
}

const suppressorReach = ({ rt60Seconds }: { rt60Seconds: Seconds }): Seconds => 0.3 + Math.min(2, rt60Seconds);

/**
 * Turns down the late tail of a room: what its past predicts of each bin is taken away first, which leaves the voice
 * as it is, and what is left of the tail is turned down gently. The voice and its early reflections stay.
 */
export const reverberation: RepairDefinition<typeof parameters> = {
  id: "reverberation",
  name: "Reverberation",
  help: "Turns down the tail that a room adds, and leaves the voice and its early reflections",
  panel: "room",
  parameters,
  contextSeconds: (settings) => PREDICTION_REACH + suppressorReach(settings),
  isNeutral: ({ maxReductionDb }) => maxReductionDb === 0,
  create(settings, _, { sampleRate }) {
    const prediction = new WeightedPrediction(
      frameLengthNear(PREDICTION_FRAME, sampleRate),
      sampleRate,
      settings.earlyMs / 1000,
    );
    const share = 1 - dbToGain(-settings.maxReductionDb);
    return inTurn(
      [
        {
          work: (block, place) => forChannelPairs(block, (a, b) => prediction.process(a, b, place, share)),
          seconds: PREDICTION_REACH,
        },
        {
          work: suppress(reverbResolutions(sampleRate), reverbTail(settings, sampleRate)),
          seconds: suppressorReach(settings),
        },
      ],
      sampleRate,
    );
  },
  summary: ({ rt60Seconds, reverberantToDirectDb }) => `${rt60Seconds} s at ${formatDb(reverberantToDirectDb)} dB`,
};
