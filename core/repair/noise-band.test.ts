import { describe, expect, it } from "vitest";
import { steadyNoise } from "../testing/degraded";
import { memoryFrames, sine } from "../testing/signals";
import { newRepairStep } from ".";
import { learnNoiseProfile, profileDb, withinBand } from "./noise-profile";
import { repairedSource } from "./repaired-source";

const RATE = 16_000;
const hiss = steadyNoise("hiss", 6 * RATE, RATE, 3).map((v) => 0.02 * v);
const profile = learnNoiseProfile([hiss], RATE);
const LOWEST = -165;

/** Power of a recording around a frequency, by a band of 100 Hz or so. */
function powerAt(x: Float32Array, hertz: number): number {
  let [a, b] = [0, 0];
  const [cos, sin] = [Math.cos, Math.sin];
  let sum = 0;
  // Short stretches, so that noise between lines is told as well.
  const length = RATE / 100;
  for (let at = 0; at + length <= x.length; at += length) {
    [a, b] = [0, 0];
    for (let i = 0; i < length; i++) {
      a += x[at + i]! * cos((2 * Math.PI * hertz * i) / RATE);
      b += x[at + i]! * sin((2 * Math.PI * hertz * i) / RATE);
    }
    sum += a * a + b * b;
  }
  return sum;
}

describe("a noise that is learned of a band alone", () => {
  const inBand = withinBand(profile, 2000, 4000);
  const width = RATE / 2 / (profileDb(profile, 0).length - 1);
  const levelAt = (hertz: number) => profileDb(inBand, 0)[Math.round(hertz / width)]!;

  it("has what was learned inside, and nothing outside", () => {
    expect(levelAt(3000)).toBe(profileDb(profile, 0)[Math.round(3000 / width)]);
    for (const hertz of [0, 500, 1950, 4050, 8000]) expect(levelAt(hertz)).toBe(LOWEST);
  });

  it("is turned down in that band, and all else is left within a tenth of a decibel", async () => {
    const step = { ...newRepairStep("noise", "n"), learned: inBand };
    const [made] = await repairedSource(memoryFrames([hiss], RATE), [step], { content: "" }).read(0, hiss.length);
    const change = (hertz: number) => 10 * Math.log10(powerAt(made!, hertz) / powerAt(hiss, hertz));
    expect(change(3000)).toBeLessThan(-12);
    for (const hertz of [600, 1200, 5500, 7000]) expect(Math.abs(change(hertz))).toBeLessThan(0.1);
  });

  it("leaves a tone beside the band alone that is as quiet as the noise", async () => {
    const tone = sine(1000, -50, 6, RATE);
    const step = { ...newRepairStep("noise", "n"), learned: inBand };
    const [made] = await repairedSource(memoryFrames([tone], RATE), [step], { content: "" }).read(0, tone.length);
    let furthest = 0;
    // Away from its ends, which spread over the spectrum.
    for (let i = RATE / 2; i < tone.length - RATE / 2; i++)
      furthest = Math.max(furthest, Math.abs(made![i]! - tone[i]!));
    expect(furthest).toBeLessThan(1e-5);
  });
});
