import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noise } from "../testing/signals";
import { SKETCH_PARTS, sketchedPeaks, WaveformSketch } from "./waveform-sketch";

const x = noise(1, 48_000, -3, 1);

describe("the outline of a recording that is being read", () => {
  it("is as long as was read, and as high as the highest sample of each part", () => {
    const sketch = new WaveformSketch(48_000);
    sketch.process([x.subarray(0, 24_000)], 24_000);
    const peaks = sketchedPeaks(sketch.text());
    expect(peaks).toHaveLength(SKETCH_PARTS / 2);
    peaks.forEach((peak, part) => {
      const highest = x.subarray(part * 100, (part + 1) * 100).reduce((most, v) => Math.max(most, Math.abs(v)), 0);
      expect(peak).toBeGreaterThanOrEqual(highest - 1e-9);
      expect(peak).toBeLessThan(highest + 1 / 255);
    });
  });
  it("is the same however it is read, and fits into a notification", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 20_000 }), { minLength: 1, maxLength: 12 }), (sizes) => {
        const [whole, parts] = [new WaveformSketch(40_000), new WaveformSketch(40_000)];
        whole.process([x, x], 48_000);
        for (let at = 0, turn = 0; at < 48_000; turn++) {
          const count = Math.min(48_000 - at, sizes[turn % sizes.length]!);
          parts.process([x.subarray(at, at + count), x.subarray(at, at + count)], count);
          at += count;
        }
        return parts.text() === whole.text() && parts.text().length < 800;
      }),
    );
  });
  it("holds what is longer than was expected, and nothing of nothing", () => {
    const longer = new WaveformSketch(100);
    longer.process([x], 48_000);
    expect(sketchedPeaks(longer.text())).toHaveLength(SKETCH_PARTS);
    expect(sketchedPeaks(new WaveformSketch(0).text())).toEqual([]);
    const loud = new WaveformSketch(SKETCH_PARTS);
    loud.process([new Float32Array(SKETCH_PARTS).fill(4)], SKETCH_PARTS);
    expect(Math.max(...sketchedPeaks(loud.text()))).toBe(1);
  });
});
