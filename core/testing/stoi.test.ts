import { describe, expect, it } from "vitest";
import { mixed, speechLike, steadyNoise } from "./degraded";
import { stoi } from "./stoi";

const RATE = 16_000;
const speech = speechLike(6, RATE, 3);
const at = (snrDb: number) => stoi(speech, mixed(speech, steadyNoise("hiss", speech.length, RATE, 5), snrDb), RATE);

describe("intelligibility", () => {
  it("is whole for the speech itself, at any level", () => {
    expect(stoi(speech, speech, RATE)).toBeCloseTo(1, 6);
    expect(
      stoi(
        speech,
        speech.map((v) => 0.1 * v),
        RATE,
      ),
    ).toBeCloseTo(1, 6);
  });
  it("falls with noise, steadily, and is next to nothing for something else", () => {
    const falling = [20, 10, 0, -10].map(at);
    for (let i = 1; i < falling.length; i++) expect(falling[i]).toBeLessThan(falling[i - 1]! - 0.02);
    expect(at(20)).toBeGreaterThan(0.7);
    expect(Math.abs(stoi(speech, steadyNoise("hiss", speech.length, RATE, 5), RATE))).toBeLessThan(0.35);
  });
  it("is none of next to no speech", () => {
    expect(stoi(speech.subarray(0, 2000), speech.subarray(0, 2000), RATE)).toBeNaN();
  });
});
