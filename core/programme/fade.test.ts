import { describe, expect, it } from "vitest";
import { FADE_SHAPES, fadeGain, fadeSchema, newFade, reshaped } from "./fade";

describe("fades, held against their closed forms", () => {
  it.each([
    ["linear", (t: number) => t],
    ["equal power", (t: number) => Math.sin((Math.PI * t) / 2)],
    ["S-curve", (t: number) => (1 - Math.cos(Math.PI * t)) / 2],
    ["logarithmic", (t: number) => Math.log10(1 + 9 * t)],
    ["exponential", (t: number) => (10 ** (3 * (t - 1)) - 1e-3) / (1 - 1e-3)],
  ] as const)("%s", (shape, closed) => {
    for (let t = 0; t <= 1; t += 1 / 64) expect(fadeGain({ shape }, t)).toBeCloseTo(closed(t), 10);
  });
  it("that cross keep their power, or their amplitude", () => {
    for (let t = 0; t <= 1; t += 0.05) {
      const power = fadeGain({ shape: "equal power" }, t) ** 2 + fadeGain({ shape: "equal power" }, 1 - t) ** 2;
      expect(power).toBeCloseTo(1, 12);
      for (const shape of ["linear", "S-curve"] as const)
        expect(fadeGain({ shape }, t) + fadeGain({ shape }, 1 - t)).toBeCloseTo(1, 12);
    }
  });
  it("rise all the way from silence to full level, and stay there", () => {
    for (const shape of FADE_SHAPES) {
      const fade = newFade(2, shape);
      let before = -1;
      for (let t = 0; t <= 1; t += 0.01) {
        const gain = fadeGain(fade, t);
        expect(gain).toBeGreaterThan(before);
        before = gain;
      }
      expect(fadeGain(fade, 0)).toBe(0);
      expect(fadeGain(fade, 1)).toBe(1);
      expect(fadeGain(fade, 7)).toBe(1);
      expect(fadeGain(fade, -7)).toBe(0);
    }
  });
  it("of an exponential one fall by the same number of decibels each second", () => {
    const db = (t: number) => 20 * Math.log10(fadeGain({ shape: "exponential" }, t));
    expect(db(0.9) - db(0.8)).toBeCloseTo(6, 0);
    expect(db(0.6) - db(0.5)).toBeCloseTo(6, 0);
  });
});

describe("a fade that is drawn", () => {
  it("follows its points", () => {
    const fade = fadeSchema.parse({
      seconds: 4,
      shape: "drawn",
      points: [
        [0, 0],
        [0.25, 0.8],
        [1, 1],
      ],
    });
    expect(fadeGain(fade, 0.125)).toBeCloseTo(0.4, 12);
    expect(fadeGain(fade, 0.25)).toBeCloseTo(0.8, 12);
  });
  it("needs them, in order, and others have none", () => {
    const parse = (points?: number[][], shape = "drawn") => fadeSchema.safeParse({ seconds: 1, shape, points }).success;
    expect(parse()).toBe(false);
    expect(
      parse([
        [0, 0],
        [0, 1],
      ]),
    ).toBe(false);
    expect(
      parse([
        [0, 0],
        [1, 1],
      ]),
    ).toBe(true);
    expect(
      parse(
        [
          [0, 0],
          [1, 1],
        ],
        "linear",
      ),
    ).toBe(false);
  });
  it("begins as a straight line, and loses its points with its shape", () => {
    const drawn = reshaped(newFade(3, "S-curve"), "drawn");
    expect(fadeGain(drawn, 0.3)).toBeCloseTo(0.3, 12);
    expect(reshaped({ ...drawn, insetSeconds: 1 }, "linear")).toEqual({ seconds: 3, shape: "linear", insetSeconds: 1 });
  });
});
