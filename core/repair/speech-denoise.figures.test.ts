import { describe, expect, it } from "vitest";
import { mixed, siSdr, speechLike, steadyNoise } from "../testing/degraded";
import { SincInterpolation } from "../dsp/sinc-interpolation";
import { memoryFrames } from "../testing/signals";
import { newRepairStep } from ".";
import { repairedSource } from "./repaired-source";

async function repaired(block: Float32Array[], rate: number, settings: Record<string, unknown> = {}) {
  const step = { ...newRepairStep("speech-denoise", "a"), ...settings };
  return repairedSource(memoryFrames(block, rate), [step], { content: "" }).read(0, block[0]!.length);
}

/** Noise that swells and fades by 12 dB each way within a second. */
const swinging = (length: number, rate: number) =>
  steadyNoise("room", length, rate, 7).map((v, i) => v * 10 ** (0.6 * Math.sin((2 * Math.PI * i) / (1.1 * rate))));

/** Bursts of hiss, three a second. */
const knocks = (length: number, rate: number) =>
  steadyNoise("hiss", length, rate, 7).map((v, i) => v * Math.exp(-(i % Math.round(rate / 3)) / (0.02 * rate)));

describe("changing noise", () => {
  // Made-up speech is half noise to a network that knows people: the bench, on recordings, holds the figures.
  it.each([48_000, 44_100, 96_000])("is turned down round a voice at %d Hz", async (rate) => {
    const speech = new SincInterpolation(48_000 / rate).all(speechLike(6, 48_000, 3));
    for (const noise of [swinging(speech.length, rate), knocks(speech.length, rate)]) {
      const spoilt = mixed(speech, noise, 10);
      const [made] = await repaired([spoilt], rate);
      expect(siSdr(made!, speech) - siSdr(spoilt, speech)).toBeGreaterThan(1);
    }
  });

  it("leaves clean speech nearly as it is, and in time", async () => {
    const speech = speechLike(6, 48_000, 3);
    const [made] = await repaired([speech], 48_000);
    expect(siSdr(made!, speech)).toBeGreaterThan(12);
  });

  it("is turned down alike in all channels, and by no more than was asked for", async () => {
    const rate = 48_000;
    const speech = mixed(speechLike(5, rate, 3), swinging(5 * rate, rate), 10);
    const [left, right] = await repaired([speech, speech.map((v) => 0.5 * v)], rate, { maxReductionDb: 12 });
    expect(siSdr(left!, right!)).toBeGreaterThan(100);
    const alone = steadyNoise("room", 4 * rate, rate, 3).map((v) => 0.01 * v);
    const [less] = await repaired([alone], rate, { maxReductionDb: 12, firmness: 3 });
    const power = (x: Float32Array) => x.subarray(rate, 3 * rate).reduce((sum, v) => sum + v * v, 0);
    expect(Math.abs(10 * Math.log10(power(alone) / power(less!)) - 12)).toBeLessThan(0.5);
  });

  it("joins without a step where one stretch of work ends and the next begins", async () => {
    const rate = 16_000;
    const spoilt = mixed(speechLike(20, rate, 5), swinging(20 * rate, rate), 10);
    const [made] = await repaired([spoilt], rate);
    const step = (at: number) => {
      let most = 0;
      // Second differences, so that the signal's own course counts little.
      for (let i = at - 2; i < at + 2; i++)
        most = Math.max(most, Math.abs(made![i + 1]! - 2 * made![i]! + made![i - 1]!));
      return most;
    };
    const usual = Array.from({ length: 40 }, (_, n) => step(8 * rate - 2000 + 100 * n + 7)).sort((a, b) => a - b);
    expect(step(8 * rate)).toBeLessThan(2 * usual[38]!);
  });
});
