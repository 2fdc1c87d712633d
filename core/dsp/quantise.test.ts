import { describe, expect, it } from "vitest";
import { noise, sine } from "../testing/signals";
import { Quantiser, type QuantiserOptions } from "./quantise";

const FLAT: QuantiserOptions = { dither: "flat", sampleRate: 48000 };
const PLAIN: QuantiserOptions = { dither: "none", sampleRate: 48000 };

describe("quantiser", () => {
  it("rounds to the nearest step without dither, and clips at full scale", () => {
    const [out] = new Quantiser(1, 16, PLAIN).next([Float32Array.of(0.5, -1, 1, 1.5, -2, 0.4 / 32768, 0.6 / 32768)]);
    expect(Array.from(out!)).toEqual([16384, -32768, 32767, 32767, -32768, 0, 1]);
  });
  it("dithers by a triangle of ±1 step: its error has the variance of theory, a quarter of a step squared", () => {
    const x = sine(997, -12, 2, 48000);
    const [out] = new Quantiser(1, 16, FLAT).next([x]);
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
    const [left, right] = new Quantiser(2, 16, FLAT).next([x, x]);
    let cross = 0;
    left!.forEach((v, i) => (cross += (v - x[i]! * 32768) * (right![i]! - x[i]! * 32768)));
    expect(Math.abs(cross / x.length)).toBeLessThan(0.01);
  });
  it("moves the error away from where ears are keenest when it is shaped", () => {
    const x = sine(997, -12, 1, 44100);
    const powerAt = (dither: "flat" | "shaped", hertz: number) => {
      const [out] = new Quantiser(1, 16, { dither, sampleRate: 44100 }).next([x]);
      let [re, im] = [0, 0];
      let power = 0;
      const stretch = 441;
      out!.forEach((v, i) => {
        const error = v - x[i]! * 32768;
        re += error * Math.cos((2 * Math.PI * hertz * i) / 44100);
        im += error * Math.sin((2 * Math.PI * hertz * i) / 44100);
        if ((i + 1) % stretch > 0) return;
        power += re * re + im * im;
        [re, im] = [0, 0];
      });
      return 10 * Math.log10(power);
    };
    expect(powerAt("flat", 3500) - powerAt("shaped", 3500)).toBeGreaterThan(12);
    expect(powerAt("shaped", 19_000) - powerAt("flat", 19_000)).toBeGreaterThan(10);
  });
  it("leaves digital silence silent on request, and dithers what is not", () => {
    const x = new Float32Array(2000);
    x.set(noise(0.01, 48000, -20, 3), 0);
    const [out] = new Quantiser(1, 16, { ...FLAT, keepSilence: true }).next([x]);
    expect(out!.subarray(600).every((v) => v === 0)).toBe(true);
    const [dithered] = new Quantiser(1, 16, FLAT).next([x]);
    expect(dithered!.subarray(600).some((v) => v !== 0)).toBe(true);
  });
  it("does not depend on block sizes, and is the same each time", () => {
    const x = noise(0.1, 48000, -6, 2);
    const whole = new Quantiser(1, 24, FLAT).next([x])[0]!;
    const parts = new Quantiser(1, 24, FLAT);
    const joined = [...parts.next([x.subarray(0, 1000)])[0]!, ...parts.next([x.subarray(1000)])[0]!];
    expect(joined).toEqual(Array.from(whole));
  });
});
