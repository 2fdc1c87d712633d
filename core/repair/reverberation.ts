import { dbToGain } from "../signal/decibel";
import { formatDb } from "../signal/format";
import { exp } from "../math/elementary";
import type { RepairDefinition } from "./repair";
import { frameNear, inPairs, SpectralFrames } from "./spectral/frames";

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
  depthDb: {
    kind: "number",
    label: "Depth",
    help: "How far the tail is turned down at most",
    unit: "dB",
    min: 0,
    max: 30,
    step: 0.5,
    scale: "linear",
    default: 12,
  },
} as const;

const FRAME_SECONDS = 0.032;
/** More than the mean of the tail is taken away: what stands above its mean is heard longest. */
const TAIL_SHARE = 2;

/** 60 dB in natural units of power: ln 10⁶. */
const LN_MILLION = 13.815510557964274;

/**
 * Gains of one channel: the late tail is what was there some 50 ms ago, decayed by the room (Lebart, Boucher, Denbigh
 * 2001; Habets 2007), and is subtracted from the power. Shape of `powers`: [frame][bin]; it is overwritten. Hot.
 */
function suppress(
  powers: Float32Array,
  bins: number,
  count: number,
  delay: number,
  decay: number,
  least: number,
): void {
  const smoothed = new Float32Array(count * bins);
  const tail = new Float32Array(count * bins);
  // The reverberant power, evened out as quickly as the room allows.
  const keep = decay;
  for (let t = 0; t < count; t++)
    for (let k = 0, i = t * bins; k < bins; k++, i++)
      smoothed[i] = t === 0 ? powers[i]! : keep * smoothed[i - bins]! + (1 - keep) * powers[i]!;
  const fall = decay ** delay;
  for (let t = delay; t < count; t++)
    for (let k = 0, i = t * bins; k < bins; k++, i++) tail[i] = TAIL_SHARE * fall * smoothed[i - delay * bins]!;
  const before = new Float32Array(bins).fill(1);
  for (let t = 0; t < count; t++) {
    for (let k = 0, i = t * bins; k < bins; k++, i++) {
      const power = powers[i]!;
      const wanted = power > tail[i]! ? power - tail[i]! : 0;
      const gain = power > 0 ? wanted / power : 1;
      // Gains fall slowly and rise at once: onsets stay, the tail does not flutter.
      const even = gain > before[k]! ? 0.3 * before[k]! + 0.7 * gain : 0.6 * before[k]! + 0.4 * gain;
      before[k] = even;
      powers[i] = even < least ? least : even;
    }
  }
}

/** Turns down the late tail of a room, and leaves the voice and its early reflections. */
export const reverberation: RepairDefinition<typeof parameters> = {
  id: "reverberation",
  name: "Room",
  help: "Turns down the tail that a room adds, and leaves the voice and its early reflections",
  parameters,
  surroundings: ({ tailSeconds }) => 0.2 + Math.min(2, tailSeconds),
  isNeutral: ({ depthDb }) => depthDb === 0,
  create({ tailSeconds, earlyMs, depthDb }, _, { sampleRate }) {
    const frames = new SpectralFrames(frameNear(FRAME_SECONDS, sampleRate));
    const { bins, hop } = frames;
    const delay = Math.max(1, Math.round(((earlyMs / 1000) * sampleRate) / hop));
    const decay = exp((-LN_MILLION * hop) / (tailSeconds * sampleRate));
    const least = dbToGain(-depthDb);
    return (block, place) =>
      inPairs(block, (a, b) => {
        frames.analyse(a, b, place.first);
        const gains = [new Float32Array(frames.count * bins), new Float32Array(frames.count * bins)] as const;
        for (let t = 0; t < frames.count; t++) frames.powers(t, ...gains, t * bins);
        for (const one of b ? gains : [gains[0]]) suppress(one, bins, frames.count, delay, decay, least);
        for (let t = 0; t < frames.count; t++) frames.apply(t, ...gains, t * bins);
        frames.synthesise(a, b, place);
      });
  },
  summary: ({ tailSeconds, depthDb }) => `${formatDb(depthDb)} dB, tail ${tailSeconds} s`,
};
