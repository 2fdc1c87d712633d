/** Breakpoints: envelopes worked out, thinned, and followed. */
import { describe, expect, it } from "vitest";
import { ChainStage } from "../render/chain-stage";
import { layoutNamed } from "../audio/layout";
import { slicePlanar } from "../audio/units";
import { noise, sameBits, sine } from "../testing/signals";
import { duckerEnvelope, type DuckerSettings } from "./ducker";
import { newChainEntry, settingsOf, type ChainEntry } from ".";
import { levellerEnvelope, type LevellerSettings } from "./leveller";
import { envelopeAt, decimatedBreakpoints } from "../parameters/breakpoints";
import type { Breakpoint } from "../parameters/parameter";

const FORMAT = { sampleRate: 48000, layout: layoutNamed("mono")! };
const leveller = (more: Partial<LevellerSettings> = {}) =>
  ({ ...settingsOf(newChainEntry("leveller", "x")), ...more }) as unknown as LevellerSettings;
const ducker = (more: Partial<DuckerSettings> = {}) =>
  ({ ...settingsOf(newChainEntry("ducker", "x")), ...more }) as unknown as DuckerSettings;

describe("a line through points", () => {
  it("is straight between them, level outside, and 0 without any", () => {
    const line: Breakpoint[] = [
      [1, 0],
      [3, -6],
    ];
    expect([0, 1, 2, 3, 9].map((x) => envelopeAt(line, x))).toEqual([0, 0, -3, -6, -6]);
    expect(envelopeAt([], 4)).toBe(0);
  });
  it("loses the points that it can do without", () => {
    const line = Array.from({ length: 101 }, (_, n): Breakpoint => [n, n < 50 ? 0 : (n - 50) / 10]);
    const few = decimatedBreakpoints(line, 0.01);
    expect(few.length).toBe(3);
    for (const [x, y] of line) expect(envelopeAt(few, x)).toBeCloseTo(y, 1);
  });
});

describe("the leveller", () => {
  const momentary = Float32Array.from({ length: 600 }, (_, i) => (i < 300 ? -30 : -12));
  it("brings both halves into the window around its target, no faster than its speed", () => {
    const settings = leveller({ targetLufs: -20, windowLu: 2, upDb: 12, downDb: 12, speedDbPerSecond: 2 });
    const line = levellerEnvelope({ momentaryLufs: momentary }, settings);
    expect(envelopeAt(line, 10)).toBeCloseTo(8, 0);
    expect(envelopeAt(line, 50)).toBeCloseTo(-6, 0);
    line.forEach(([x, y], i) => {
      if (i > 0) expect(Math.abs(y - line[i - 1]![1])).toBeLessThanOrEqual(2 * (x - line[i - 1]![0]) + 0.3);
    });
    // It begins to move before the change, and ends behind it.
    expect(envelopeAt(line, 29)).toBeLessThan(7);
    expect(envelopeAt(line, 31)).toBeGreaterThan(-5);
  });
  it("waits in pauses, and stays within its range", () => {
    const quiet = Float32Array.from({ length: 600 }, (_, i) => (i > 200 && i < 400 ? -70 : -30));
    const line = levellerEnvelope({ momentaryLufs: quiet }, leveller({ upDb: 4 }));
    for (const [, db] of line) expect(db).toBeLessThanOrEqual(4);
    expect(envelopeAt(line, 30)).toBeCloseTo(4, 1);
  });
});

describe("the ducker", () => {
  const sounding = Float32Array.from({ length: 400 }, (_, i) => (i >= 100 && i < 200 ? -20 : -80));
  it("is down while the other item sounds, and comes back behind it", () => {
    const line = duckerEnvelope(sounding, ducker({ amountDb: 12, downSeconds: 1, upSeconds: 2, holdSeconds: 1 }));
    expect(envelopeAt(line, 8)).toBeCloseTo(0, 5);
    for (const seconds of [10, 15, 20.5]) expect(envelopeAt(line, seconds)).toBeCloseTo(-12, 5);
    expect(envelopeAt(line, 24)).toBeCloseTo(0, 5);
  });
  it("stays down through short pauses, and lies where the other item begins", () => {
    const twice = Float32Array.from({ length: 400 }, (_, i) =>
      (i >= 100 && i < 150) || (i >= 158 && i < 200) ? -20 : -80,
    );
    const line = duckerEnvelope(twice, ducker({ holdSeconds: 2, offsetSeconds: 5 }));
    expect(envelopeAt(line, 20.3)).toBeCloseTo(-12, 5);
    expect(envelopeAt(line, 12)).toBeCloseTo(0, 5);
  });
});

describe("a ridden line", () => {
  const entry = (line: Breakpoint[]): ChainEntry => ({ ...newChainEntry("leveller", "x"), line });
  it("gives the same samples wherever reading begins", () => {
    const x = noise(1, 48000, -6, 1);
    const line: Breakpoint[] = [
      [0.1, 0],
      [0.5, -12],
      [0.9, 3],
    ];
    const whole = new ChainStage([entry(line)], FORMAT).push([x])[0]!;
    for (const start of [1, 7777, 30001]) {
      const later = new ChainStage([entry(line)], FORMAT, start).push(slicePlanar([x], start, x.length))[0]!;
      expect(sameBits([later], [whole.subarray(start)])).toBe(true);
    }
  });
  it("makes no zipper noise: a sine swept by 12 dB in a second keeps everything else below −90 dB", () => {
    const x = sine(1000, -6, 3, 48000);
    const line: Breakpoint[] = [
      [1, 0],
      [2, -12],
    ];
    const out = new ChainStage([entry(line)], FORMAT).push([x])[0]!;
    // What is left when the very gain that was drawn is taken out again.
    let [error, signal] = [0, 0];
    out.forEach((v, i) => {
      const wanted = x[i]! * 10 ** (envelopeAt(line, i / 48000) / 20);
      error += (v - wanted) ** 2;
      signal += wanted * wanted;
    });
    expect(10 * Math.log10(error / signal)).toBeLessThan(-90);
  });
});
