/** Settings that several dynamics processors have, worded alike. */
import type { StreamFormat } from "../audio/stream-format";
import { SideChain } from "../dsp/dynamics";
import { number, type NumberParameter } from "../parameters/parameter";
import type { Processor } from "./processor";

type Changes = Partial<Pick<NumberParameter, "min" | "max" | "default" | "step">>;

export const thresholdDb = (help: string, changes: Changes = {}): NumberParameter =>
  number("Threshold", help, { unit: "dBFS", min: -60, max: 0, step: 0.5, default: -18, ...changes });

export const ratio = (help: string, changes: Changes = {}): NumberParameter =>
  number("Ratio", help, { unit: ": 1", min: 1, max: 20, step: 0.1, scale: "log", default: 2, ...changes });

export const kneeDb = (changes: Changes = {}): NumberParameter =>
  number("Knee", "Range around the threshold over which the ratio comes in", {
    unit: "dB",
    min: 0,
    max: 24,
    step: 0.5,
    default: 6,
    ...changes,
  });

export const attackMs = (changes: Changes = {}): NumberParameter =>
  number("Attack", "Time in which it takes hold, 63 % of the way", {
    unit: "ms",
    min: 0.05,
    max: 300,
    step: 0.1,
    scale: "log",
    default: 15,
    ...changes,
  });

export const releaseMs = (changes: Changes = {}): NumberParameter =>
  number("Release", "Time in which it lets go, 63 % of the way", {
    unit: "ms",
    min: 5,
    max: 3000,
    step: 5,
    scale: "log",
    default: 150,
    ...changes,
  });

export const lookAheadMs = (changes: Changes = {}): NumberParameter =>
  number("Look-ahead", "How early it begins to take hold", {
    unit: "ms",
    min: 0,
    max: 20,
    step: 0.5,
    default: 0,
    ...changes,
  });

/** Corners of what is listened to. */
export const sidechainHighPassHz = number(
  "Side-chain high-pass",
  "The detector does not hear what lies below; 20 Hz is off",
  {
    unit: "Hz",
    min: 20,
    max: 2000,
    step: 5,
    scale: "log",
    default: 20,
  },
);

export const sidechainLowPassHz = number(
  "Side-chain low-pass",
  "The detector does not hear what lies above; 20 kHz is off",
  {
    unit: "Hz",
    min: 500,
    max: 20000,
    step: 50,
    scale: "log",
    default: 20000,
  },
);

/** What a detector behind the corners of its side chain listens to: its key, where it has one. */
export function sideChainDetector(
  settings: { sidechainHighPassHz: number; sidechainLowPassHz: number },
  { sampleRate, layout }: StreamFormat,
): Processor {
  const { sidechainHighPassHz, sidechainLowPassHz } = settings;
  const sideChain = new SideChain(layout.speakers.length, sampleRate, sidechainHighPassHz, sidechainLowPassHz);
  return {
    latency: 0,
    process(block, frames, key) {
      const heard = sideChain.of(key ?? block, frames);
      block.forEach((x, c) => x.set(heard[c]!));
    },
  };
}
