import { dbToGain, gainToDb } from "../signal/decibel";
import { formatDb } from "../signal/format";
import type { Frames, Hertz, Planar } from "../signal/units";
import { mendGap, predictor } from "./prediction";
import type { RepairDefinition, RepairPlace } from "./repair";

const parameters = {
  lineDbfs: {
    kind: "number",
    label: "Line",
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

/** Levels are taken over this long … */
const LOCAL_SECONDS = 0.003;
/** … and what is around over this long to each side. */
const AROUND_SECONDS = 0.15;
/** What is at most so long … */
const LONGEST_FOREIGN = 0.03;
/** … and so far above what is around, in amplitude, did not belong there; it begins and ends at the second. */
const FOREIGN = 4;
const FOREIGN_EDGE = 1.5;
const FILL_ORDER_AT_48K = 128;
/** The predictor of what fills a place is made of this long to each side. */
const PREDICTED_FROM = 0.04;

interface Stretch {
  from: Frames;
  to: Frames;
}

/** Stretches above the line that are short and far louder than all around them: what was added to the sound. */
function foreign(x: Float32Array, line: number, rate: Hertz): Stretch[] {
  const half = Math.max(1, Math.round((LOCAL_SECONDS * rate) / 2));
  const [around, longest] = [Math.round(AROUND_SECONDS * rate), Math.round(LONGEST_FOREIGN * rate)];
  const energy = new Float64Array(x.length + 1);
  const below = new Float64Array(x.length + 1);
  const held = new Float64Array(x.length + 1);
  for (let i = 0; i < x.length; i++) {
    const power = x[i]! * x[i]!;
    const counts = Math.abs(x[i]!) <= line;
    energy[i + 1] = energy[i]! + power;
    below[i + 1] = below[i]! + (counts ? power : 0);
    held[i + 1] = held[i]! + (counts ? 1 : 0);
  }
  const within = (i: number) => Math.max(0, Math.min(x.length, i));
  const mean = (sums: Float64Array, from: number, to: number) => sums[within(to)]! - sums[within(from)]!;
  const localAt = (i: number) => mean(energy, i - half, i + half + 1) / (2 * half + 1);
  const found: Stretch[] = [];
  for (let i = 0; i < x.length; i++) {
    if (Math.abs(x[i]!) <= line) continue;
    // Its own length is left out of what is around.
    const sides = [
      [i - around, i - longest],
      [i + longest, i + around],
    ] as const;
    const count = sides.reduce((sum, side) => sum + mean(held, ...side), 0);
    const usual = sides.reduce((sum, side) => sum + mean(below, ...side), 0) / Math.max(1, count);
    let [from, to] = [i, i + 1];
    let highest = 0;
    while (from > 0 && to - from <= longest && localAt(from - 1) > FOREIGN_EDGE ** 2 * usual) from--;
    while (to < x.length && to - from <= longest && localAt(to) > FOREIGN_EDGE ** 2 * usual) to++;
    for (let k = from; k < to; k++) highest = Math.max(highest, localAt(k));
    if (to - from <= longest && highest > FOREIGN ** 2 * usual) found.push({ from, to });
    i = to;
  }
  return found;
}

/** Fills stretches from both sides by linear prediction. */
function fill(channel: Float32Array, stretches: readonly Stretch[], rate: Hertz): void {
  const order = Math.max(16, Math.round((FILL_ORDER_AT_48K * rate) / 48_000));
  const reach = Math.round(PREDICTED_FROM * rate);
  for (const { from, to } of stretches) {
    const start = Math.max(0, from - reach);
    const x = Float64Array.from(channel.subarray(start, Math.min(channel.length, to + reach)));
    const gap = Array.from({ length: to - from }, (_, i) => from - start + i);
    const skip = new Uint8Array(x.length);
    skip.fill(1, from - start, to - start);
    mendGap(x, gap, predictor(x, 0, x.length, order, skip), 0);
    for (let i = from; i < to; i++) channel[i] = x[i - start]!;
  }
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
  surroundings: ({ fadeMs }) => (2 * fadeMs) / 1000 + AROUND_SECONDS + 2 * LONGEST_FOREIGN + PREDICTED_FROM,
  isNeutral: ({ lineDbfs }) => lineDbfs === 0,
  create({ lineDbfs, fadeMs }, _, { sampleRate }) {
    const line = dbToGain(lineDbfs);
    const reach = Math.max(1, Math.round((fadeMs / 1000) * sampleRate));
    return (block, { from, to }) => {
      for (const channel of block) {
        if (!channel.some((v) => Math.abs(v) > line)) continue;
        fill(channel, foreign(channel, line, sampleRate), sampleRate);
      }
      const needed = gainsNeeded(block, line);
      if (needed.every((gain) => gain === 1)) return;
      const gains = eased(needed, reach);
      for (const channel of block)
        for (let i = from; i < to; i++) if (gains[i] !== 1) channel[i] = channel[i]! * gains[i]!;
    };
  },
  find:
    ({ lineDbfs }, _, { sampleRate }) =>
    (block, { first, from, to }) => {
      const needed = gainsNeeded(block, dbToGain(lineDbfs));
      const apart = APART_SECONDS * sampleRate;
      const places: RepairPlace[] = [];
      for (let i = from; i < to; i++) {
        if (needed[i] === 1) continue;
        const last = places[places.length - 1];
        const sizeDb = -gainToDb(needed[i]!);
        if (last && first + i - last.end < apart) {
          last.end = first + i + 1;
          last.sizeDb = Math.max(last.sizeDb, sizeDb);
        } else places.push({ start: first + i, end: first + i + 1, channel: 0, sizeDb });
      }
      return places;
    },
  summary: ({ lineDbfs }) => `above ${formatDb(lineDbfs)} dBFS`,
};
