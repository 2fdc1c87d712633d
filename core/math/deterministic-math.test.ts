import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { cos, exp, exp10, log, log10, sin } from "./deterministic-math";

describe("elementary functions", () => {
  it("agree with the engine's to 1e-14 relative", () => {
    fc.assert(
      fc.property(fc.double({ min: -300, max: 300, noNaN: true }), (x) => {
        expect(Math.abs(exp(x) / Math.exp(x) - 1)).toBeLessThan(1e-13);
        expect(Math.abs(sin(x) - Math.sin(x))).toBeLessThan(1e-13);
        expect(Math.abs(cos(x) - Math.cos(x))).toBeLessThan(1e-13);
      }),
    );
    fc.assert(
      fc.property(fc.double({ min: 1e-12, max: 1e12, noNaN: true }), (x) => {
        expect(Math.abs(log(x) - Math.log(x))).toBeLessThan(1e-14 * Math.max(1, Math.abs(Math.log(x))));
      }),
    );
  });
  it("hold at the edges", () => {
    expect(exp10(0)).toBe(1);
    expect(exp(0)).toBe(1);
    expect(log(0)).toBe(-Infinity);
    expect(log(-1)).toBeNaN();
    expect(exp(-1000)).toBe(0);
    expect(exp(1000)).toBe(Infinity);
    expect(log10(1000)).toBeCloseTo(3, 14);
  });
});
