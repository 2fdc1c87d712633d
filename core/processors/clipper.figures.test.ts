import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { dbToGain } from "../audio/decibel";
import { ChainStage } from "../render/chain-stage";
import { bandLimited, exactTruePeakDb, joined, noise, sameBits, sine } from "../testing/signals";
import type { ChainEntry } from ".";

const RATE = 48_000;

function clipped(x: Float32Array, more: Record<string, unknown> = {}): Float32Array {
  const entry = { type: "clipper", bypass: false, ceilingDbfs: -1, ...more } as ChainEntry;
  const stage = new ChainStage([entry], { sampleRate: RATE, layout: layoutNamed("mono")! });
  return joined(stage.push([x.slice()])[0]!, stage.finish()[0] ?? new Float32Array(0));
}

/** Begins and ends in silence: where sound is torn off, no value between samples is true. */
const faded = (x: Float32Array): Float32Array =>
  x.map((v, i) => v * Math.min(1, i / 960, (x.length - 1 - i) / 960) ** 2);

describe("clipper", () => {
  it.each([
    ["a low tone, hard", () => sine(110, 5, 0.2, RATE), { kneePercent: 0 }],
    ["a low tone, soft", () => sine(110, 5, 0.2, RATE), { kneePercent: 50 }],
    ["a high tone", () => sine(7000, 5, 0.2, RATE), { kneePercent: 0 }],
    ["noise", () => bandLimited(noise(0.2, RATE, 8, 1)), { kneePercent: 0 }],
    ["noise, worked on at four times the rate", () => bandLimited(noise(0.2, RATE, 8, 2)), { oversampling: "4" }],
  ])("lets nothing of %s rise above its ceiling, between samples either", (_, make, settings) => {
    expect(exactTruePeakDb(clipped(faded(make()), settings))).toBeLessThanOrEqual(-1 + 0.02);
  });
  it("gives the same bits where nothing reaches its knee", () => {
    const x = noise(0.2, RATE, -20, 3);
    expect(sameBits([clipped(x)], [x])).toBe(true);
  });
  it("takes its delay back", () => {
    const x = new Float32Array(4800);
    x[2400] = 0.1;
    expect(clipped(x)[2400]).toBe(x[2400]);
  });
  it("cuts tips, and leaves the level around them", () => {
    const x = sine(440, -12, 0.5, RATE);
    for (let i = 0; i < 40; i++) x[12_000 + i]! *= 6;
    const out = clipped(x);
    const rms = (y: Float32Array) => Math.sqrt(y.subarray(14_400, 20_000).reduce((sum, v) => sum + v * v, 0) / 5600);
    expect(20 * Math.log10(rms(out) / rms(x))).toBeCloseTo(0, 2);
    expect(out.reduce((most, v) => Math.max(most, Math.abs(v)), 0)).toBeLessThanOrEqual(dbToGain(-1));
  });
  it("tells how much it cuts", () => {
    const entry = { type: "clipper", id: "c", bypass: false, ceilingDbfs: -6, kneePercent: 0 } as ChainEntry;
    const stage = new ChainStage([entry], { sampleRate: RATE, layout: layoutNamed("mono")! });
    stage.push([sine(440, 0, 0.5, RATE)]);
    expect(stage.takeGainReduction()["c"]![0]).toBeCloseTo(6, 1);
    expect(stage.takeGainReduction()["c"]![0]).toBe(0);
  });
});
