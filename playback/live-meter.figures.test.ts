import { describe, expect, it } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { noise, sine } from "@core/testing/signals";
import type { Planar } from "@core/audio/units";
import { LiveMeter } from "./live-meter";
import { Ring } from "./ring";
import { simulatedInput } from "./simulated-input";

const RATE = 48_000;
const BLOCK = 576;

/** What the meters say after a block of channels was heard; its first two are the sides. */
function metered(block: Planar, layout = "stereo") {
  const ring = Ring.create(block.length);
  const meter = new LiveMeter(ring, { sampleRate: RATE, layout: layoutNamed(layout)! });
  for (let at = 0; at + BLOCK <= block[0]!.length; at += BLOCK) {
    const parts = block.map((x) => x.subarray(at, at + BLOCK));
    [parts[0]!, parts[1] ?? parts[0]!, ...parts].forEach((x, plane) => ring.put(plane, ring.read, x));
    ring.advance(BLOCK);
    ring.setMeter("position", at + BLOCK);
    meter.update();
  }
  return { ring, meter };
}

describe("live meters", () => {
  it("tell RMS, balance and the correlation of every pair", () => {
    const x = noise(2, RATE, -20, 1);
    const { ring } = metered([x, x.map((v) => -v / 2), noise(2, RATE, -20, 2)], "LCR");
    expect(ring.channel(0).rmsDb - ring.channel(1).rmsDb).toBeCloseTo(6.02, 1);
    expect(ring.meter("balanceDb")).toBeCloseTo(-6.02, 1);
    expect(ring.pair(0, 1)).toBeCloseTo(-1, 3);
    expect(ring.pair(1, 0)).toBe(ring.pair(0, 1));
    expect(Math.abs(ring.pair(0, 2))).toBeLessThan(0.1);
  });
  it("tell the RMS of a sine 3.01 dB under its peak", () => {
    const { ring } = metered([sine(1000, -10, 3, RATE), sine(1000, -10, 3, RATE)]);
    expect(ring.channel(0).rmsDb).toBeCloseTo(-13.01, 1);
    expect(ring.channel(0).heldDb).toBeCloseTo(-10, 1);
  });
  it("remember the highest and where it was, and the range", () => {
    const x = noise(12, RATE, -30, 3).map((v, i) => (i > 4 * RATE && i < 8 * RATE ? v * 4 : v));
    const { ring } = metered([x, x]);
    expect(ring.meter("shortTermMaxFrame") / RATE).toBeGreaterThan(6.8);
    expect(ring.meter("shortTermMaxFrame") / RATE).toBeLessThan(8.1);
    expect(ring.meter("truePeakFrame") / RATE).toBeGreaterThan(4);
    expect(ring.meter("truePeakMax")).toBeCloseTo(ring.channel(0).heldDb, 6);
    expect(ring.meter("rangeLu")).toBeGreaterThan(8);
  });
  it("have no correlation with a side that is silent, nor with one that has just ended", () => {
    const x = noise(8, RATE, -20, 4);
    expect(metered([x, new Float32Array(x.length)]).ring.meter("correlation")).toBeNaN();
    expect(metered([x, x.map((v, i) => (i < RATE ? v : 0))]).ring.meter("correlation")).toBeNaN();
  });
  it("begin anew, and stay where the programme is", () => {
    const { ring, meter } = metered([noise(4, RATE, -20, 5), noise(4, RATE, -20, 6)]);
    const at = ring.meter("position");
    meter.reset();
    expect(ring.meter("shortTermMaxLufs")).toBe(-Infinity);
    expect(ring.pair(0, 1)).toBeNaN();
    expect(ring.meter("position")).toBe(at);
  });
});

describe("the simulated microphone", () => {
  it("speaks in phrases over a quiet room, the same each time", () => {
    const voice = simulatedInput(RATE);
    const rms = (from: number, to: number) => {
      const part = voice.subarray(from * RATE, to * RATE);
      return 10 * Math.log10(part.reduce((sum, v) => sum + v * v, 0) / part.length);
    };
    expect(rms(0, 0.5)).toBeLessThan(-60);
    expect(rms(1, 3)).toBeGreaterThan(-32);
    expect(voice.every((v) => Math.abs(v) < 1)).toBe(true);
    expect(simulatedInput(RATE).every((v, i) => v === voice[i])).toBe(true);
  });
});
