import { describe, expect, it } from "vitest";
import fc from "fast-check";
import { acos, atan2, cos, exp, exp10, exp2, hypot, log, log10, log2, power, sin } from "./deterministic-math";

describe("elementary functions", () => {
  it("agree with the engine's: exponential, sine and cosine to 1e-13, logarithm to 1e-14", () => {
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
  it("agree with the engine's: angles to 4e-15", () => {
    const coordinate = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(coordinate, coordinate, (y, x) => {
        expect(Math.abs(atan2(y, x) - Math.atan2(y || 0, x || 0))).toBeLessThan(4e-15);
        expect(Math.abs(hypot(x, y) - Math.hypot(x, y))).toBeLessThanOrEqual(1e-15 * Math.hypot(x, y) + 1e-150);
      }),
    );
    fc.assert(
      fc.property(fc.double({ min: -1, max: 1, noNaN: true }), (x) => {
        expect(Math.abs(acos(x) - Math.acos(x))).toBeLessThan(4e-15);
      }),
    );
  });
  it("are exact for powers of two, both ways", () => {
    for (let k = -1000; k <= 1000; k++) {
      expect(exp2(k)).toBe(2 ** k);
      expect(log2(exp2(k))).toBe(k);
    }
  });
  it("raise to whole and to broken powers", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-3, max: 1e3, noNaN: true }),
        fc.oneof(fc.integer({ min: -20, max: 20 }), fc.double({ min: -20, max: 20, noNaN: true })),
        (base, exponent) => {
          expect(Math.abs(power(base, exponent) / base ** exponent - 1)).toBeLessThan(1e-12);
        },
      ),
    );
    expect(power(-2, 3)).toBe(-8);
    expect(power(0, 2)).toBe(0);
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
