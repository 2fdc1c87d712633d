import { dbToGain, gainToDb } from "../audio/decibel";
import { formatDb } from "../audio/format";
import type { Frames, Planar } from "../audio/units";
import { fillImpulses, IMPULSE_REACH, impulseRanges } from "./impulse-repair";
import type { RepairDefinition, RepairEvent } from "./repair";

const parameters = {
  thresholdDbfs: {
    kind: "number",
    label: "Threshold",
    help: "What stands above it is brought down to it; what is short and far above all around is filled from both sides",
    unit: "dBFS",
    min: -60,
    max: 0,
    step: 0.1,
    scale: "linear",
    default: 0,
  },
  fadeMs: {
    kind: "number",
    label: "Fades",
    help: "How long before and after the gain moves",
    unit: "ms",
    min: 0.5,
    max: 50,
    step: 0.5,
    scale: "log",
    default: 4,
  },
} as const;

/** Spikes nearer to each other than this are one. */
const APART_SECONDS = 0.05;

/** The gain that brings all channels down to the line, at each frame. */
function gainsNeeded(block: Planar, line: number): Float32Array {
  const gains = new Float32Array(block[0]?.length ?? 0).fill(1);
  for (const channel of block)
    for (let i = 0; i < gains.length; i++) {
      const size = Math.abs(channel[i]!);
      if (size > line && line / size < gains[i]!) gains[i] = line / size;
    }
  return gains;
}

/** Smallest of the gains within `reach`, then the mean over the same: no higher than needed anywhere, without corners. */
function eased(needed: Float32Array, reach: Frames): Float32Array {
  const held = needed.slice();
  // What is needed is spread step by step, twice as far each time: the same as looking at all within reach.
  for (let covered = 0, jump = 1; covered < reach; covered += jump) {
    jump = Math.min(covered + 1, reach - covered);
    const from = held.slice();
    for (let i = jump; i < held.length; i++) {
      if (from[i - jump]! < held[i]!) held[i] = from[i - jump]!;
      if (from[i]! < held[i - jump]!) held[i - jump] = from[i]!;
    }
  }
  const out = new Float32Array(needed.length);
  let sum = 0;
  for (let i = -reach; i < needed.length; i++) {
    sum += 1 - (held[i + reach] ?? 1);
    if (i >= 0) {
      out[i] = 1 - Math.max(0, sum) / (2 * reach + 1);
      sum -= 1 - (held[i - reach] ?? 1);
    }
  }
  return out;
}

/**
 * Brings spikes down to a line: what sets the peak without being needed. What was added to the sound is filled from both
 * sides, the rest is brought down by short dips of the gain, all channels alike.
 */
export const spikes: RepairDefinition<typeof parameters> = {
  id: "spikes",
  name: "Spikes",
  help: "Brings single peaks above a line down to it, so that the rest may be louder",
  parameters,
  contextSeconds: ({ fadeMs }) => (2 * fadeMs) / 1000 + IMPULSE_REACH,
  isNeutral: ({ thresholdDbfs }) => thresholdDbfs === 0,
  create({ thresholdDbfs, fadeMs }, _, { sampleRate }) {
    const line = dbToGain(thresholdDbfs);
    const reach = Math.max(1, Math.round((fadeMs / 1000) * sampleRate));
    return (block, { from, to }) => {
      const added = impulseRanges(block, line, sampleRate);
      for (const channel of block) fillImpulses(channel, added, line, sampleRate);
      const needed = gainsNeeded(block, line);
      if (needed.every((gain) => gain === 1)) return;
      const gains = eased(needed, reach);
      for (const channel of block)
        for (let i = from; i < to; i++) if (gains[i] !== 1) channel[i] = channel[i]! * gains[i]!;
    };
  },
  find:
    ({ thresholdDbfs }, _, { sampleRate }) =>
    (block, { first, from, to }) => {
      const line = dbToGain(thresholdDbfs);
      const needed = gainsNeeded(block, line);
      const added = impulseRanges(block, line, sampleRate);
      const apart = APART_SECONDS * sampleRate;
      const places: RepairEvent[] = [];
      for (let i = from; i < to; i++) {
        if (needed[i] === 1) continue;
        const last = places[places.length - 1];
        const sizeDb = -gainToDb(needed[i]!);
        if (last && first + i - last.end < apart) {
          last.end = first + i + 1;
          last.sizeDb = Math.max(last.sizeDb, sizeDb);
        } else {
          const words = added.some(({ from, to }) => from <= i && to > i) ? "filled" : "lowered";
          places.push({ start: first + i, end: first + i + 1, channel: 0, sizeDb, description: words });
        }
      }
      return places;
    },
  summary: ({ thresholdDbfs }) => `above ${formatDb(thresholdDbfs)} dBFS`,
};
