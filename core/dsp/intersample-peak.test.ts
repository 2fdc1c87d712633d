import { describe, expect, it } from "vitest";
import { Random } from "../math/random";
import { bandLimited, noise, sine } from "../testing/signals";
import { referencePrescanOf, prescannedSamples } from "../kernels/true-peak-prescan";
import { intersamplePeaks, PEAK_MARGIN, raiseToHighest, type Peak } from "./intersample-peak";

/** Every crest measured, none left out: the threshold is 0. */
function everyCrest(x: Float32Array, from: number, to: number): number {
  const out = new Float64Array(to - from);
  intersamplePeaks(x, from, to, 0, out);
  return out.reduce((most, level) => Math.max(most, level), 0);
}

/** The highest crest above `peak`, the quick way. */
function raise(x: Float32Array, peak: Peak): Peak {
  const { samples, prescan } = prescannedSamples(x.length);
  samples.set(x);
  raiseToHighest(samples, PEAK_MARGIN, x.length - PEAK_MARGIN, peak, prescan);
  return peak;
}

describe("the prescan", () => {
  it("misses no highest crest of short bursts, up to 0.47 of the rate, wherever they lie between samples", () => {
    const random = new Random(7);
    for (let burst = 0; burst < 400; burst++) {
      const x = new Float32Array(2000);
      const width = random.between(4, 60);
      // The narrower the burst, the wider its band: three standard deviations of it stay below half the rate.
      const fraction = random.between(0.02, Math.min(0.47, 0.5 - 0.7 / width));
      const phase = random.next();
      const centre = 700 + random.next() * 400;
      for (let n = 0; n < x.length; n++)
        x[n] = Math.cos(2 * Math.PI * (fraction * (n - centre) + phase)) * Math.exp(-(((n - centre) / width) ** 2));
      const peak = raise(x, { level: 0, frame: 0 });
      expect(20 * Math.log10(peak.level / everyCrest(x, PEAK_MARGIN, x.length - PEAK_MARGIN))).toBeGreaterThan(-0.01);
      expect(Math.abs(peak.frame - centre)).toBeLessThan(width + 3);
    }
  });
  it("misses none of noise, from any maximum that came before", () => {
    const x = bandLimited(noise(0.1, 48_000, -1, 12));
    const [from, to] = [PEAK_MARGIN, x.length - PEAK_MARGIN];
    const highest = everyCrest(x, from, to);
    for (const before of [0, 0.5 * highest, 0.95 * highest]) {
      expect(raise(x, { level: before, frame: 0 }).level).toBe(highest);
    }
  });
  it("leaves a higher maximum as it is", () => {
    expect(raise(sine(997, 0, 0.1, 48_000), { level: 1.1, frame: 42 })).toEqual({ level: 1.1, frame: 42 });
  });
  it.each([0, 0.01, 0.2, 2])(
    "tells the same by WebAssembly as by its reference implementation, what is above %f",
    (quiet) => {
      const { samples, prescan } = prescannedSamples(3200);
      samples.set(noise(1, 48_000, -12, 3).subarray(0, 1600));
      samples.set(sine(440, -30, 1, 48_000).subarray(0, 1600), 1600);
      expect(Array.from(prescan(16, 198, quiet))).toEqual(
        Array.from(referencePrescanOf(samples, 3200)(16, 198, quiet)),
      );
    },
  );
});
