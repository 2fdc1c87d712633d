import { describe, expect, it } from "vitest";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { gainToDb, powerToDb } from "../audio/decibel";
import { meanPower, musicLike, speechLike, steadyNoise } from "../testing/degraded";
import { memoryFrames } from "../testing/signals";
import { envelopeDb } from "./gain-envelope";
import { newRepairStep, type RepairStep } from ".";
import { repairedSource } from "./repaired-source";
import { matchTemplate } from "./template-matching";
import { shareInside } from "./time-frequency-region";

const RATE = 48_000;
const AT = 3 * RATE;
const LENGTH = Math.round(0.15 * RATE);

/** A beep that somebody's telephone made. */
const withBeep = (x: Float32Array, hertz: number, size: number, at = AT) =>
  x.map((v, i) =>
    i >= at && i < at + LENGTH
      ? v + size * Math.sin((2 * Math.PI * hertz * i) / RATE) * Math.sin((Math.PI * (i - at)) / LENGTH) ** 0.3
      : v,
  );
const band = (x: Float32Array, low: number, high: number) => {
  const block = [x.slice()];
  new BiquadFilter([...butterworth("high", low, 8, RATE), ...butterworth("low", high, 8, RATE)], 1).process(block);
  return block[0]!;
};
const levelIn = (x: Float32Array, low: number, high: number, from = AT, to = AT + LENGTH) =>
  powerToDb(meanPower(band(x, low, high).subarray(from, to)));
const through = async (x: Float32Array, ...steps: RepairStep[]) =>
  (await repairedSource(memoryFrames([x], RATE), steps, { content: "" }).read(0, x.length))[0]!;

describe("replacing from around", () => {
  const noise = steadyNoise("room", 6 * RATE, RATE, 3).map((v) => v * 0.002);
  const music = musicLike(6, RATE, 5);
  const box = { start: AT - 500, end: AT + LENGTH + 500, lowHz: 2500, highHz: 3500 };
  for (const from of ["time", "frequency", "both"])
    it(`takes a beep out of room tone (${from}), down to what is around it`, async () => {
      const spoilt = withBeep(noise, 3000, 0.05);
      const out = await through(spoilt, { ...newRepairStep("spectral-inpainting", "a"), from, regions: [box] });
      const before = levelIn(spoilt, 2600, 3400);
      expect(before - levelIn(noise, 2600, 3400)).toBeGreaterThan(20);
      expect(Math.abs(levelIn(out, 2600, 3400) - levelIn(noise, 2600, 3400))).toBeLessThan(from === "time" ? 2 : 3);
      // What lies outside of the box is as it was.
      expect(out.subarray(0, box.start - 2048)).toEqual(spoilt.subarray(0, box.start - 2048));
      expect(Math.abs(levelIn(out, 5000, 9000) - levelIn(noise, 5000, 9000))).toBeLessThan(0.1);
    });
  it("lets a chord go on under what is taken out", async () => {
    const spoilt = withBeep(music, 3000, 0.3);
    const out = await through(spoilt, { ...newRepairStep("spectral-inpainting", "a"), regions: [box] });
    const off = (x: Float32Array) =>
      levelIn(
        x.map((v, i) => v - music[i]!),
        2600,
        3400,
      );
    expect(off(spoilt) - off(out)).toBeGreaterThan(15);
  });
  it("is the same, wherever reading begins", async () => {
    const spoilt = withBeep(noise, 3000, 0.05, 8 * RATE - 2000);
    const x = new Float32Array(12 * RATE);
    x.set(spoilt);
    x.set(noise.subarray(0, 6 * RATE), 6 * RATE);
    const where = [{ ...box, start: 8 * RATE - 3000, end: 8 * RATE + 9000 }];
    const source = () =>
      repairedSource(memoryFrames([x], RATE), [{ ...newRepairStep("spectral-inpainting", "a"), regions: where }], {
        content: "",
      });
    const whole = (await source().read(0, x.length))[0]!.slice();
    const late = (await source().read(8 * RATE, 2 * RATE))[0]!;
    expect(late).toEqual(whole.subarray(8 * RATE, 10 * RATE));
  });
});

describe("a shape drawn by hand", () => {
  const triangle = {
    start: AT,
    end: AT + RATE,
    lowHz: 1000,
    highHz: 5000,
    outline: [
      { frame: AT, hertz: 1000 },
      { frame: AT + RATE, hertz: 1000 },
      { frame: AT + RATE, hertz: 5000 },
    ],
  };
  it("holds what lies within its corners", () => {
    expect(shareInside(triangle, AT + RATE / 2, 2000, 50)).toBe(1);
    expect(shareInside(triangle, AT + RATE / 2, 4000, 50)).toBe(0);
    expect(shareInside(triangle, AT + RATE / 2, 3000, 100)).toBeCloseTo(0.5, 2);
  });
  it("is silenced, and nothing besides", async () => {
    const noise = steadyNoise("hiss", 6 * RATE, RATE, 4).map((v) => v * 0.05);
    const out = await through(noise, { ...newRepairStep("region-gain", "a"), gainDb: -100, regions: [triangle] });
    const [from, to] = [AT + 0.7 * RATE, AT + 0.8 * RATE];
    expect(levelIn(noise, 1500, 3000, from, to) - levelIn(out, 1500, 3000, from, to)).toBeGreaterThan(20);
    expect(Math.abs(levelIn(noise, 6000, 9000, from, to) - levelIn(out, 6000, 9000, from, to))).toBeLessThan(0.1);
    const early = [AT + 0.1 * RATE, AT + 0.2 * RATE] as const;
    expect(Math.abs(levelIn(noise, 2500, 4500, ...early) - levelIn(out, 2500, 4500, ...early))).toBeLessThan(0.3);
  });
});

describe("finding what is alike", () => {
  it("finds every other beep, and nothing in what is said", async () => {
    let x = speechLike(20, RATE, 6).map((v) => v * 0.3);
    const beeps = [3, 7.3, 11.9, 16.2].map((s) => Math.round(s * RATE));
    for (const at of beeps) x = withBeep(x, 3000, 0.1, at);
    const region = { start: beeps[0]! - 1000, end: beeps[0]! + LENGTH + 1000, lowHz: 2000, highHz: 4500 };
    const found = await matchTemplate(memoryFrames([x], RATE), region, { least: 0.8 });
    expect(found.map(({ start }) => Math.round((10 * (start + 1000)) / RATE))).toEqual([73, 119, 162]);
  });
});

describe("gain over time", () => {
  it("goes straight in dB from point to point, and stays beyond them", async () => {
    const points = [
      { frame: RATE, gainDb: 0 },
      { frame: 2 * RATE, gainDb: -12 },
      { frame: 3 * RATE, gainDb: 6 },
    ];
    expect([0, 1.5, 2.5, 9].map((s) => envelopeDb(points, s * RATE))).toEqual([0, -6, -3, 6]);
    const ones = new Float32Array(4 * RATE).fill(0.25);
    const out = await through(ones, { ...newRepairStep("gain-envelope", "a"), learned: points });
    for (const s of [0.5, 1.25, 1.5, 2.5, 3.9])
      expect(gainToDb(out[s * RATE]! / 0.25)).toBeCloseTo(envelopeDb(points, s * RATE), 3);
    // Nowhere a step.
    const steps = out.map((v, i) => (i > 0 ? Math.abs(v - out[i - 1]!) : 0));
    expect(steps.reduce((most, step) => Math.max(most, step), 0)).toBeLessThan(2.2e-5);
  });
  it("on a range fades within it, or before and after it", async () => {
    const ones = new Float32Array(4 * RATE).fill(0.25);
    const where = [{ start: RATE, end: 2 * RATE }];
    const step = { ...newRepairStep("region-gain", "a"), gainDb: -6, fadeSeconds: 0.2, regions: where };
    const inside = await through(ones, step);
    const outside = await through(ones, { ...step, fades: "outside" });
    const db = (x: Float32Array, s: number) => gainToDb(x[Math.round(s * RATE)]! / 0.25);
    expect([db(inside, 0.95), db(inside, 1.5), db(outside, 0.75)]).toEqual([0, expect.closeTo(-6, 4), 0]);
    expect(db(inside, 1.02)).toBeGreaterThan(-0.5);
    expect(db(outside, 1.01)).toBeCloseTo(-6, 2);
    expect(db(outside, 0.85)).toBeLessThan(-0.1);
  });
});
