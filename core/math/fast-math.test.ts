import { describe, expect, it } from "vitest";
import { fastDbToGain, fastPowerToDb } from "./fast-math";

describe("quick logarithms", () => {
  it("are within a millionth of a decibel from −290 to +100 dB", () => {
    for (let db = -290; db <= 100; db += 0.37) expect(fastPowerToDb(10 ** (db / 10))).toBeCloseTo(db, 6);
  });
  it("give gains within a part in 10⁷, and exactly 1 at 0 dB", () => {
    for (let db = -200; db <= 100; db += 0.23) expect(fastDbToGain(db) / 10 ** (db / 20)).toBeCloseTo(1, 7);
    expect(fastDbToGain(0)).toBe(1);
  });
  it("take nothing for −300 dB", () => {
    expect(fastPowerToDb(0)).toBeCloseTo(-300, 6);
  });
});
