import { describe, expect, it } from "vitest";
import { noise, sine } from "../testing/signals";
import { FadeStage } from "./fade-stage";
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

describe("fades at a cut", () => {
  it("rise and fall in the given frames, and leave the rest alone", () => {
    const stage = new FadeStage(100, 10, 20);
    const ones = [new Float32Array(100).fill(1)];
    const parts = [stage.push([ones[0]!.subarray(0, 33)]), stage.push([ones[0]!.subarray(33)])];
    const out = [...parts[0]![0]!, ...parts[1]![0]!];
    expect(out[0]).toBeCloseTo(1 / 11, 6);
    expect(out.slice(10, 80)).toEqual(new Array(70).fill(1));
    expect(out[99]).toBeCloseTo(1 / 21, 6);
    for (let i = 1; i < 10; i++) expect(out[i]!).toBeGreaterThan(out[i - 1]!);
    for (let i = 81; i < 100; i++) expect(out[i]!).toBeLessThan(out[i - 1]!);
  });
});
