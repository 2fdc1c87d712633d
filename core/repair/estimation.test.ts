import { describe, expect, it } from "vitest";
import { speechLike, steadyNoise } from "../testing/degraded";
import { roomed } from "../testing/room";
import { learnNoiseProfile, noiseFrames, profileDb, profilePowers, withLevel } from "./noise-profile";
import { estimateReverb } from "./reverb-estimation";

const RATE = 8000;

/** Speech in a room. */
function inRoom(x: Float32Array, seconds: number, level: number): Float32Array {
  const { near, far } = roomed(x, RATE, seconds, level);
  return near.map((v, i) => v + far[i]!);
}

describe("the room's tail", () => {
  const speech = speechLike(20, RATE, 12);
  // Level by its power altogether: the square of the first one's, for as long as it falls by 4.3 dB.
  for (const [seconds, level, levelDb] of [
    [0.4, 0.058, -1.1],
    [0.6, 0.035, -3.7],
  ] as const)
    it(`of ${seconds} s at ${levelDb} dB is learned from speech: its time within a third, its level within 5 dB`, () => {
      const { tail, quality } = estimateReverb([inRoom(speech, seconds, level)], RATE);
      expect(quality.standing).toBe("fit");
      expect(tail!.rt60Seconds / seconds).toBeGreaterThan(2 / 3);
      expect(tail!.rt60Seconds / seconds).toBeLessThan(4 / 3);
      expect(Math.abs(tail!.reverberantToDirectDb - levelDb)).toBeLessThan(5);
    });
  it("is not made up where nothing falls", () => {
    const { tail, quality } = estimateReverb([steadyNoise("hiss", 4 * RATE, RATE, 1)], RATE);
    expect(tail).toBeNull();
    expect(quality.remarks[0]).toMatch(/select a longer stretch/);
  });
});

describe("a profile that is edited", () => {
  const profile = learnNoiseProfile([steadyNoise("hiss", 2 * RATE, RATE, 3).map((v) => 0.01 * v)], RATE);
  it("has another level in a band, and is as it was beside it", () => {
    const edited = withLevel(profile, 900, 1100, -70);
    const width = RATE / 2 / (profileDb(profile, 0).length - 1);
    expect(profileDb(edited, 0)[Math.round(1000 / width)]).toBeCloseTo(-70, 0);
    expect(profileDb(edited, 0)[Math.round(3000 / width)]).toBe(profileDb(profile, 0)[Math.round(3000 / width)]);
  });
});

describe("a noise profile in frames of another length", () => {
  const profile = learnNoiseProfile([steadyNoise("hiss", 4 * RATE, RATE, 5)], RATE);
  const level = (size: number) => {
    const powers = profilePowers(profile, 0, RATE, size);
    return 10 * Math.log10(powers.reduce((sum, power) => sum + power, 0) / powers.length / size);
  };
  it("tells the same level in short frames as in long ones, and at half their lengths", () => {
    const [short, long] = noiseFrames(RATE);
    for (const size of [short, short / 2]) expect(Math.abs(level(size) - level(long))).toBeLessThan(0.3);
  });
});
