import { describe, expect, it } from "vitest";
import type { Features } from "@core/events/speech-features";
import { speechLike } from "@core/testing/degraded";
import { layoutNamed } from "@core/audio/layout";
import { measured } from "@core/testing/measured";
import { specNamed } from "@core/delivery/specs";
import { aboveLine } from "@ui/timeline/breakpoint-editors";
import { betterChannel } from "./better-channel";
import { EVENT_KINDS, treatmentStep } from "./event-kinds";
import { isRemoved, toneRemovalSteps, toneLabel } from "./removed-tones";

const MONO = { sampleRate: 48_000, layout: layoutNamed("mono")! };
const SETTINGS = { pauseSeconds: 1.5, keptSeconds: 0.8, lowerDb: -12 };

describe("the better side", () => {
  const speech = speechLike(4, 48_000, 3).map((v, i) => v + 0.0005 * Math.sin(i * 1.7));
  const noisy = speech.map((v, i) => v + 0.01 * Math.sin(i * 1.7));
  const clipped = speech.map((v) => Math.max(-0.2, Math.min(0.2, v)));
  it("is the one that stands further above its floor, or is clipped less; none where both are alike", () => {
    const sides = (a: Float32Array, b: Float32Array) =>
      betterChannel([measured([a], MONO), measured([b], MONO)], ["L", "R"]);
    expect(sides(noisy, speech)).toMatchObject({ channel: 1 });
    expect(sides(speech, clipped)).toMatchObject({ channel: 0 });
    expect(sides(speech, clipped)!.words).toMatch(/clipped runs/);
    expect(sides(speech, speech)).toBeNull();
  });
});

describe("a line over the waveform", () => {
  it("tells how many places lie above it, what is cut, and how loud the rest may be", () => {
    const values = Float32Array.from([-30, -6, -6, -30, -3, -30, -12]);
    const curves = { samplePeakDbfs: { values, hopSeconds: 0.1, columns: 1 } };
    const facts = { curves, figures: { integratedLufs: -24 } } as unknown as Parameters<typeof aboveLine>[0];
    expect(aboveLine(facts, -10, -1)).toEqual({ places: 2, cutDb: 7, roomDb: 9, lufs: -15 });
    expect(aboveLine(facts, 0, -1)).toEqual({ places: 0, cutDb: 0, roomDb: 2, lufs: -22 });
  });
});

describe("kinds of places", () => {
  const kind = (id: string) => EVENT_KINDS.find((one) => one.id === id)!;
  const places = [
    { start: 100, end: 200, sizeDb: -40 },
    { start: 900, end: 950, sizeDb: -30 },
  ];
  it("are treated by one step over all of them; blows of air only below the voice", () => {
    expect(treatmentStep(kind("breaths"), places, SETTINGS, "a").step).toMatchObject({
      type: "region-gain",
      gainDb: -12,
      regions: [
        { start: 100, end: 200 },
        { start: 900, end: 950 },
      ],
    });
    const { step } = treatmentStep(kind("plosives"), places, SETTINGS, "a");
    expect(step.regions[0]!.highHz).toBeLessThan(200);
    expect(step.regions[0]!.lowHz).toBeUndefined();
  });
  it("above a floor limit are looked for only where the deliverable has one", () => {
    const hops = 400;
    const steady = (db: number) => new Float32Array(hops).fill(db);
    const features: Features = {
      hop: 240,
      sampleRate: 48_000,
      frames: hops * 240,
      level: steady(-50),
      low: steady(-60),
      middle: steady(-55),
      high: steady(-60),
      peak: steady(-40),
      voiced: steady(0),
      tones: [],
      speechDb: -20,
      floorDb: -50,
    };
    const found = (spec: string) => kind("floor").find(features, SETTINGS, specNamed(spec));
    expect(found("audiobook-retail")).toHaveLength(1);
    expect(found("audiobook-retail")[0]!.sizeDb).toBeCloseTo(10, 0);
    expect(found("streaming-16")).toEqual([]);
  });
});

describe("steady tones", () => {
  const found = [50.1, 150.3, 250.5, 3152.4].map((hertz) => ({ hertz, start: 0, end: 48_000, sizeDb: 20 }));
  it("are taken away by a hum step for those of the mains, and by themselves otherwise", () => {
    let ids = 0;
    const steps = toneRemovalSteps(found, found, () => `s${ids++}`);
    expect(steps).toMatchObject([
      { type: "hum", fundamentalHz: 50.1, harmonics: 12 },
      { type: "tones", learned: [3152.4] },
    ]);
    expect(found.every((tone) => isRemoved(tone, steps))).toBe(true);
    expect(isRemoved({ ...found[0]!, hertz: 444 }, steps)).toBe(false);
    expect(found.map((tone) => toneLabel(tone, found))[0]).toMatch(/50.*hum/);
  });
});
