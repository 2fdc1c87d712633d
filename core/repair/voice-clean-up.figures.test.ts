import { describe, expect, it } from "vitest";
import { mixed, siSdr, speechLike, steadyNoise } from "../testing/degraded";
import { memoryFrames, sameBits } from "../testing/signals";
import { isActive, newRepairStep, repairSettings, type RepairStep } from ".";
import { repairedSource } from "./repaired-source";
import { voiceParts } from "./voice-clean-up";

const RATE = 48_000;
const control = (settings: object = {}): RepairStep => ({ ...newRepairStep("voice-clean-up", "v"), ...settings });
const partsOf = (step: RepairStep) => voiceParts(repairSettings(step) as Parameters<typeof voiceParts>[0]);
const asSteps = (step: RepairStep): RepairStep[] =>
  partsOf(step).map(({ type, settings }) => ({ ...newRepairStep(type, type), ...settings }));

const speech = speechLike(12, RATE, 3);
const noisy = mixed(speech, steadyNoise("room", speech.length, RATE, 7), 12);
noisy.forEach((_, i) => {
  if (i % 30_011 === 5000) noisy[i] = noisy[i]! + 0.4;
});

const through = (steps: RepairStep[]) =>
  repairedSource(memoryFrames([noisy], RATE), steps, { content: "" }).read(0, noisy.length);

describe("one control over a voice", () => {
  it("gives the very bits that its parts give one after the other, over the ends of segments as well", async () => {
    const step = control({ amount: 70 });
    const [one, apart] = await Promise.all([through([step]), through(asSteps(step))]);
    expect(sameBits(one, apart)).toBe(true);
  });

  it("gives the same with a room behind it, but for how much of the past the network hears", async () => {
    const step = control({ amount: 70, room: true, rt60Seconds: 0.4 });
    const [[one], [apart]] = await Promise.all([through([step]), through(asSteps(step))]);
    expect(siSdr(one!, apart!)).toBeGreaterThan(30);
  });

  it("brings the voice nearer", async () => {
    const [made] = await through([control({ amount: 30 })]);
    expect(siSdr(made!, speech) - siSdr(noisy, speech)).toBeGreaterThan(1);
  });

  it("turns noise down the further, the more is wanted", async () => {
    const noise = steadyNoise("room", 6 * RATE, RATE, 7).map((v) => 0.05 * v);
    const power = (x: Float32Array) => x.subarray(3 * RATE).reduce((sum, v) => sum + v * v, 0);
    const left = await Promise.all(
      [25, 50, 75].map(async (amount) => {
        const [made] = await repairedSource(memoryFrames([noise], RATE), [control({ amount })], { content: "" }).read(
          0,
          noise.length,
        );
        return 10 * Math.log10(power(made!) / power(noise));
      }),
    );
    expect(left[0]).toBeLessThan(-6);
    expect(left[1]).toBeLessThan(left[0]! - 5);
    expect(left[2]).toBeLessThan(left[1]! - 3);
  });

  it("leaves all as it is with nothing to do", () => {
    expect(isActive(control({ amount: 0 }))).toBe(false);
    expect(isActive(control({ clicks: false, mouthNoise: false, noise: false, room: false }))).toBe(false);
    expect(isActive(control())).toBe(true);
  });

  it("has parts that its switches name, deeper with the amount", () => {
    const types = (settings: object) => partsOf(control(settings)).map(({ type }) => type);
    expect(types({})).toEqual(["clicks", "mouth-noise", "speech-denoise"]);
    expect(types({ clicks: false, room: true })).toEqual(["mouth-noise", "speech-denoise", "reverberation"]);
    const depth = (amount: number) => partsOf(control({ amount })).at(-1)!.settings["maxReductionDb"];
    expect([depth(25), depth(50), depth(100)]).toEqual([8, 16, 32]);
  });
});
