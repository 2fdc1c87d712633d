import { amountOf } from "./amount";
import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import type { RepairDefinition } from "./repair";
import { frameLengthNear } from "../dsp/stft";
import { Declipper } from "../dsp/declipping";

const parameters = {
  levelDbfs: {
    kind: "number",
    label: "Clipped at",
    help: "Samples at this level or above it were cut; the finding names it",
    unit: "dBFS",
    min: -40,
    max: 0,
    step: 0.01,
    scale: "linear",
    default: -0.01,
  },
  leastRun: {
    kind: "number",
    label: "Minimum run",
    help: "So many samples in a row must be cut: single ones at the top may be as they were",
    unit: "samples",
    min: 1,
    max: 10,
    step: 1,
    scale: "linear",
    default: 2,
  },
  amount: amountOf("How much of what was cut is put back"),
} as const;

/** Quieter plateaus of integer recordings differ by their last bit. */
const SLACK = 0.9995;
const FRAME_SECONDS = 0.043;

/** Which samples of `x` were cut: 1 at the top, −1 at the bottom. */
export function cutSamples(x: Float32Array, level: number, leastRun: number): Int8Array {
  const cut = new Int8Array(x.length);
  for (let i = 0; i < x.length;) {
    const sign = x[i]! >= level ? 1 : x[i]! <= -level ? -1 : 0;
    let end = i + 1;
    while (sign !== 0 && end < x.length && sign * x[end]! >= level) end++;
    if (sign !== 0 && end - i >= leastRun) cut.fill(sign, i, end);
    i = end;
  }
  return cut;
}

/** Puts back what was cut off at the top: the waveform rises above where it was cut, so that headroom is needed. */
export const clipping: RepairDefinition<typeof parameters> = {
  id: "clipping",
  name: "Clipping",
  help: "Puts back the crests that were cut off: the simplest waveform that passes through everything that was not",
  parameters,
  contextSeconds: () => 0.1,
  isNeutral: ({ amount }) => amount === 0,
  create({ levelDbfs, leastRun, amount }, _, { sampleRate }) {
    const level = dbToGain(levelDbfs) * SLACK;
    const share = amount / 100;
    const declipper = new Declipper(frameLengthNear(FRAME_SECONDS, sampleRate));
    return (block, { first, from, to }) => {
      for (const channel of block) {
        const cut = cutSamples(channel, level, leastRun);
        const restored = share < 1 ? channel.slice() : channel;
        declipper.restore(restored, cut, first, from, to);
        if (share < 1) for (let i = from; i < to; i++) channel[i] = channel[i]! + share * (restored[i]! - channel[i]!);
      }
    };
  },
  find:
    ({ levelDbfs, leastRun }) =>
    (block, { first, from, to }) =>
      block.flatMap((channel, c) => {
        const cut = cutSamples(channel, dbToGain(levelDbfs) * SLACK, leastRun);
        const places = [];
        for (let i = from; i < to; i++) {
          if (cut[i] === 0 || (i > 0 && cut[i - 1] === cut[i])) continue;
          let end = i + 1;
          while (end < cut.length && cut[end] === cut[i]) end++;
          places.push({ start: first + i, end: first + end, channel: c, sizeDb: 0 });
        }
        return places;
      }),
  summary: ({ levelDbfs }) => `from ${formatDb(levelDbfs)} dBFS`,
};
