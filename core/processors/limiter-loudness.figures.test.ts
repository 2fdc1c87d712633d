/** What limiting costs: a small form of `npm run bench -- sound`, on made-up sound. */
import { describe, expect, it } from "vitest";
import { layoutForChannels } from "../audio/layout";
import type { Planar } from "../audio/units";
import { ChainStage } from "../render/chain-stage";
import { musicLike, speechLike } from "../testing/degraded";
import { kWeightedDistortion, loudnessOf, movesBy, residueDb } from "../testing/distortion";
import { exactTruePeakDb, joined, noise, sine } from "../testing/signals";
import type { ChainEntry } from ".";

const RATE = 48_000;
const CEILING_DBTP = -1;

function limited(x: Float32Array, more: Record<string, unknown> = {}): Float32Array {
  const entry = { type: "limiter", bypass: false, ceilingDbtp: CEILING_DBTP, ...more } as ChainEntry;
  const stage = new ChainStage([entry], { sampleRate: RATE, layout: layoutForChannels(1) });
  return joined(stage.push([x.slice()])[0]!, stage.finish()[0] ?? new Float32Array(0));
}

/** At `overDb` above the ceiling. */
const raised = (x: Float32Array, overDb: number): Float32Array => {
  const gain = 10 ** ((CEILING_DBTP + overDb - exactTruePeakDb(x)) / 20);
  return x.map((v) => gain * v);
};

describe("8 dB of limiting", () => {
  it.each([
    ["music", () => musicLike(3, RATE, 5), 3.4, -15.4],
    ["speech", () => speechLike(4, RATE, 5), 3.1, -11.3],
  ])("loses little of the loudness of %s, at little distortion", (_, make, mostLost, mostDistortion) => {
    const x = raised(make(), 8);
    const out = limited(x);
    const block = (y: Float32Array): Planar => [y];
    expect(exactTruePeakDb(out)).toBeLessThanOrEqual(CEILING_DBTP + 0.02);
    expect(loudnessOf(block(x), RATE) - loudnessOf(block(out), RATE)).toBeLessThan(mostLost);
    expect(kWeightedDistortion([x], [out], RATE)).toBeLessThan(mostDistortion);
  });
  it("leaves a steady low tone a tone: THD ≤ −100 dB", () => {
    expect(residueDb(limited(sine(100, 7, 5, RATE)), [100], RATE)).toBeLessThan(-100);
  });
  it("does not modulate a high tone by a low one: intermodulation ≤ −80 dB", () => {
    const high = sine(7000, -7, 5, RATE);
    const two = sine(60, 5.06, 5, RATE).map((v, i) => v + high[i]!);
    expect(residueDb(limited(two), [60, 7000], RATE)).toBeLessThan(-80);
  });
  it("moves hats over strokes of bass by no more than 0.3 dB where the bass is held back apart", () => {
    const hats = sine(8000, -26, 4, RATE);
    const kit = sine(50, 4, 4, RATE).map((v, i) => v * Math.exp(-(((i / RATE) * 2) % 1) * 5) + hats[i]!);
    expect(movesBy(limited(kit, { bassApart: true }), 8000, RATE, RATE / 2, 3 * RATE)).toBeLessThan(0.3);
  });
});

describe("the gain of a limiter", () => {
  /** Level of a quiet tone, dB against before, over 5 ms that begin `seconds` after a peak at one second. */
  const back = (x: Float32Array, seconds: number): number => {
    const out = limited(x);
    const from = Math.round((1 + seconds) * RATE);
    const power = (y: Float32Array) => y.subarray(from, from + 240).reduce((sum, v) => sum + v * v, 0);
    return 10 * Math.log10(power(out) / power(x));
  };
  it("is back at once after a single peak", () => {
    const x = sine(1000, -20, 3, RATE);
    for (let i = 0; i < 24; i++) x[RATE + i] = 2.2 * Math.sin((Math.PI * i) / 24);
    expect(back(x, 0.01)).toBeGreaterThan(-0.5);
  });
  it("lets go slowly of what was dense", () => {
    const x = joined(noise(1, RATE, 7, 3), sine(1000, -20, 3, RATE));
    const soon = back(x, 0.05);
    expect(soon).toBeLessThan(-2);
    expect(back(x, 0.6)).toBeGreaterThan(soon + 1);
    expect(back(x, 2.5)).toBeGreaterThan(-0.1);
  });
  it("does not move by more than the peaks ask where sound is steady", () => {
    const x = sine(41, 3, 4, RATE);
    const out = limited(x);
    const crest = (from: number) => out.subarray(from, from + 1200).reduce((most, v) => Math.max(most, Math.abs(v)), 0);
    const crests = Array.from({ length: 40 }, (_, n) => crest(2 * RATE + n * 2400));
    expect(20 * Math.log10(Math.max(...crests) / Math.min(...crests))).toBeLessThan(0.01);
  });
});
