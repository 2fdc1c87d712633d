import { describe, expect, it } from "vitest";
import { noise } from "../../testing/signals";
import { referenceDecimator, wasmDecimator } from ".";

describe("decimators", () => {
  it.each([
    { factor: 1, reach: 0 },
    { factor: 3, reach: 18 },
    { factor: 8, reach: 48 },
    { factor: 19, reach: 114 },
  ])("give the same bits by WebAssembly and without (every $factor)", ({ factor, reach }) => {
    const taps = noise((2 * reach + 1) / 48_000, 48_000, -6, 3);
    const [fast, plain] = [wasmDecimator({ factor, taps })!, referenceDecimator({ factor, taps })];
    const x = noise(0.9, 48_000, -6, 1);
    const steps = Math.floor((x.length - taps.length) / factor) + 1;
    const [a, b] = [new Float32Array(steps), new Float32Array(steps)];
    fast.decimate(x, a);
    plain.decimate(x, b);
    expect(a).toEqual(b);

    const whole = steps - fast.around;
    const [c, d] = [x.slice(0, whole * factor), x.slice(0, whole * factor)];
    fast.subtract(a, c);
    plain.subtract(a, d);
    expect(c).toEqual(d);
    expect(c).not.toEqual(x.subarray(0, c.length));
  });
});
