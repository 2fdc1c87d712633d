import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { PROCESSORS } from "@core/processors";
import type { NumberParameter } from "@core/parameters/parameter";
import { formatParameter, fromTrack, nudge, parseTyped, toTrack } from "./parameter-scale";

const NUMBERS = PROCESSORS.flatMap(({ parameters }) => Object.values(parameters)).filter(
  (parameter): parameter is NumberParameter => parameter.kind === "number",
);
const gain = NUMBERS.find(({ label }) => label === "Gain")!;
const release = NUMBERS.find(({ label }) => label === "Release")!;

describe("number fields", () => {
  it("stay in range and on the step, wherever the slider is", () => {
    fc.assert(
      fc.property(fc.constantFrom(...NUMBERS), fc.double({ min: 0, max: 1, noNaN: true }), (parameter, position) => {
        const setting = fromTrack(position, parameter);
        expect(setting).toBeGreaterThanOrEqual(parameter.min);
        expect(setting).toBeLessThanOrEqual(parameter.max);
        expect(Math.abs(toTrack(setting, parameter) - position)).toBeLessThan(0.36); // a coarse step of a log scale
      }),
    );
  });
  it("read what people type", () => {
    expect(parseTyped("-1dB", gain)).toBe(-1);
    expect(parseTyped("−1,5", gain)).toBe(-1.5);
    expect(parseTyped("0.2 s", release)).toBe(200);
    expect(parseTyped("1k", release)).toBe(1000);
    expect(parseTyped("9999", release)).toBe(release.max);
    expect(parseTyped("loud", gain)).toBeNull();
  });
  it("nudge by a step, ten, or a tenth", () => {
    expect(nudge(1, gain, 1, "step")).toBe(1.1);
    expect(nudge(1, gain, -1, "coarse")).toBe(0);
    expect(nudge(1, gain, 1, "fine")).toBe(1.01);
  });
  it("show a true minus and the digits of the step", () => {
    expect(formatParameter(-3, gain)).toBe("−3.0");
    expect(formatParameter(-3.25, gain)).toBe("−3.25");
    expect(formatParameter(120, release)).toBe("120");
  });
});
