/** Two channels that share their gains go through a kernel; any others do not: both give the same. */
import { expect, it } from "vitest";
import { noise, sameBits } from "../testing/signals";
import { compression } from "../dsp/dynamics";
import { grouped, linked } from "./multiband";

const RATE = 48000;

const band = (crossoverHz: number, thresholdDb: number, ratio: number, gainDb: number, heard = true) => ({
  ...{ crossoverHz, thresholdDb, ratio, gainDb, heard, kneeDb: 6, attackMs: 5, releaseMs: 80, solo: false },
  curve: compression(thresholdDb, ratio, 6),
  quietDb: thresholdDb - 3,
  ballistics: { of: "rms", attack: 0.005, release: 0.08, autoRelease: false } as const,
});

it.each([1, 2])("is the same by a kernel and step by step, with %i channels", (channels) => {
  const bands = [band(200, -30, 3, 2), band(2000, -24, 1, -1), band(6000, -40, 8, 0, false), band(18000, -36, 2, 0)];
  const quick = linked(bands, RATE)!;
  const plain = grouped(bands, "no delay", [channels], RATE);
  for (const frames of [1, 777, 1024, 8192, 3000]) {
    const block = Array.from({ length: channels }, (_, c) => noise(frames / RATE, RATE, -6, frames + c));
    const other = block.map((x) => x.slice());
    quick.process(block, frames);
    plain.process(other, frames);
    expect(sameBits(block, other)).toBe(true);
    expect(quick.takeGainReduction!()).toEqual(plain.takeGainReduction!());
  }
});
