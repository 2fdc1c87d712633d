import { describe, expect, it } from "vitest";
import { noise, sine } from "../testing/signals";
import { Quantiser } from "./quantise";

describe("quantiser", () => {
  it("rounds to the nearest step without dither, and clips at full scale", () => {
    const [out] = new Quantiser(1, 16, false).next([Float32Array.of(0.5, -1, 1, 1.5, -2, 0.4 / 32768, 0.6 / 32768)]);
    expect(Array.from(out!)).toEqual([16384, -32768, 32767, 32767, -32768, 0, 1]);
  });
  it("dithers by a triangle of ±1 step: its error has the variance of theory, a quarter of a step squared", () => {
    const x = sine(997, -12, 2, 48000);
    const [out] = new Quantiser(1, 16, true).next([x]);
    let square = 0;
    let mean = 0;
    out!.forEach((v, i) => {
      const error = v - x[i]! * 32768;
      square += error * error;
      mean += error;
    });
    expect(square / x.length).toBeCloseTo(1 / 4, 1);
    expect(Math.abs(mean / x.length)).toBeLessThan(0.01);
  });
  it("gives the error of one channel no likeness to that of another", () => {
    const x = noise(1, 48000, -20, 1);
    const [left, right] = new Quantiser(2, 16, true).next([x, x]);
    let cross = 0;
    left!.forEach((v, i) => (cross += (v - x[i]! * 32768) * (right![i]! - x[i]! * 32768)));
    expect(Math.abs(cross / x.length)).toBeLessThan(0.01);
  });
  it("does not depend on block sizes, and is the same each time", () => {
    const x = noise(0.1, 48000, -6, 2);
    const whole = new Quantiser(1, 24, true).next([x])[0]!;
    const parts = new Quantiser(1, 24, true);
    const joined = [...parts.next([x.subarray(0, 1000)])[0]!, ...parts.next([x.subarray(1000)])[0]!];
    expect(joined).toEqual(Array.from(whole));
  });
});
