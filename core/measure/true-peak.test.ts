import { describe, expect, it } from "vitest";
import { format, measuredBy } from "../testing/measured";
import { exactTruePeakDb, joined, noise, sine } from "../testing/signals";
import { truePeak } from "./true-peak";

function truePeakDb(x: Float32Array, sampleRate: number): number {
  return measuredBy(truePeak, [x], format(sampleRate, "mono")).figures.truePeakDbtp!;
}

describe("true peak", () => {
  it.each([0.05, 0.13, 0.25, 0.31, 0.375, 0.42, 0.45])(
    "of a tone at %f fs is within 0.05 dB at any phase",
    (fraction) => {
      for (let phase = 0; phase < 1; phase += 0.0625) {
        const faded = sine(fraction * 48000, -6, 0.5, 48000, phase).map(
          (v, n) => v * Math.min(1, n / 4800, (24000 - n) / 4800),
        );
        expect(Math.abs(truePeakDb(faded, 48000) + 6)).toBeLessThanOrEqual(0.05);
      }
    },
  );
  it("meets EBU Tech 3341 cases 15 to 19 (+0.2/−0.4 dB)", () => {
    const cases = [
      [4, 0],
      [4, 45],
      [6, 60],
      [8, 67.5],
    ] as const;
    for (const [divisor, degrees] of cases) {
      const x = sine(48000 / divisor, -6, 1, 48000, degrees / 360).map(
        (v, n) => v * Math.min(1, n / 480, (48000 - n) / 480),
      );
      const read = truePeakDb(x, 48000);
      expect(read).toBeLessThanOrEqual(-5.8);
      expect(read).toBeGreaterThanOrEqual(-6.4);
    }
  });
  it("agrees with an exact interpolation of noise that is band-limited by oversampling", () => {
    const x = joined(new Float32Array(2000), noise(0.2, 48000, -3, 9), new Float32Array(2000));
    const smooth = x.map((v, i) => (v + 2 * (x[i - 1] ?? 0) + (x[i - 2] ?? 0)) / 4);
    expect(Math.abs(truePeakDb(smooth, 48000) - exactTruePeakDb(smooth))).toBeLessThan(0.05);
  });
  it("sees a peak in the very last sample", () => {
    const x = new Float32Array(5000);
    x[4999] = 0.5;
    expect(truePeakDb(x, 48000)).toBeCloseTo(-6.02, 1);
    const y = new Float32Array(4096 + 40);
    y[4096 + 39] = 0.5;
    expect(truePeakDb(y, 48000)).toBeCloseTo(-6.02, 1);
  });
});
