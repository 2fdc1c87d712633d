import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import type { Planar } from "../audio/units";
import { measured } from "../testing/measured";
import { joined, noise, sine } from "../testing/signals";
import { kWeighting } from "./k-weighting";

const stereo = layoutNamed("stereo")!;

const measure = (block: Planar, sampleRate: number, layout = stereo, blockSize = 4096) =>
  measured(block, { sampleRate, layout }, blockSize);
const both = (x: Float32Array): Planar => [x, x];

describe("K-weighting", () => {
  it("is the standard's table at 48 kHz (BS.1770-5 Annex 1, tables 1 and 2)", () => {
    const { shelf, highPass } = kWeighting(48000);
    const expected = [1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585];
    [shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2].forEach((c, i) =>
      expect(Math.abs(c - expected[i]!)).toBeLessThan(1e-9),
    );
    expect([highPass.b0, highPass.b1, highPass.b2]).toEqual([1, -2, 1]);
    expect(Math.abs(highPass.a1 + 1.99004745483398)).toBeLessThan(1e-9);
    expect(Math.abs(highPass.a2 - 0.99007225036621)).toBeLessThan(1e-9);
  });
});

/** BS.1770-5 Annex 1, written down once more as the standard does: no hops, no kernels, float64 throughout. */
function loudnessByTheBook(block: Planar, weights: number[]): number {
  const filtered = block.map((x) => {
    const { shelf, highPass } = kWeighting(48_000);
    let y = Float64Array.from(x);
    for (const { b0, b1, b2, a1, a2 } of [shelf, highPass]) {
      const z = new Float64Array(y.length);
      for (let n = 0; n < y.length; n++)
        z[n] = b0 * y[n]! + b1 * (y[n - 1] ?? 0) + b2 * (y[n - 2] ?? 0) - a1 * (z[n - 1] ?? 0) - a2 * (z[n - 2] ?? 0);
      y = z;
    }
    return y;
  });
  const blocks: number[] = [];
  for (let start = 0; start + 19_200 <= filtered[0]!.length; start += 4800)
    blocks.push(
      filtered.reduce((sum, y, c) => {
        let square = 0;
        for (let n = start; n < start + 19_200; n++) square += y[n]! ** 2;
        return sum + (weights[c]! * square) / 19_200;
      }, 0),
    );
  const lufs = (power: number) => -0.691 + 10 * Math.log10(power);
  const mean = (list: number[]) => list.reduce((sum, power) => sum + power, 0) / list.length;
  const above = blocks.filter((power) => lufs(power) > -70);
  const gate = lufs(mean(above)) - 10;
  return lufs(mean(above.filter((power) => lufs(power) > gate)));
}

describe("loudness against an independent calculation", () => {
  it("agrees within 0.001 LU, with gates at work, in stereo and in 5.1", () => {
    const swell = (seed: number) => noise(14, 48_000, -8, seed).map((v, n) => v * (0.02 + Math.sin(n / 90_000) ** 4));
    const two = [swell(1), swell(2)];
    expect(Math.abs(measure(two, 48_000).integratedLufs! - loudnessByTheBook(two, [1, 1]))).toBeLessThan(0.001);
    const layout = layoutNamed("5.1")!;
    const six = layout.speakers.map((_, c) => swell(c + 3));
    const expected = loudnessByTheBook(six, [1, 1, 1, 0, 1.41, 1.41]);
    expect(Math.abs(measure(six, 48_000, layout).integratedLufs! - expected)).toBeLessThan(0.001);
  });
});

describe("all measurements", () => {
  const block = [noise(7.3, 44100, -8, 1), noise(7.3, 44100, -14, 2)];

  it("do not depend on block sizes, to the bit", () => {
    const whole = measure(block, 44100, stereo, 1e9);
    for (const size of [1, 64, 1000, 4096]) {
      const part = size === 1 ? block.map((c) => c.subarray(0, 44100)) : block;
      expect(measure(part, 44100, stereo, size)).toEqual(size === 1 ? measure(part, 44100, stereo, 1e9) : whole);
    }
  });
  it("shift by the gain", () => {
    const a = measure(block, 44100);
    const b = measure(
      block.map((c) => c.map((v) => v / 2)),
      44100,
    );
    for (const figure of [
      "integratedLufs",
      "momentaryMaxLufs",
      "truePeakDbtp",
      "samplePeakDbfs",
      "rmsDbfs",
      "noiseFloorDbfs",
    ] as const) {
      expect(b[figure]! - a[figure]!).toBeCloseTo(-6.0206, 3);
    }
    expect(b.loudnessRangeLu).toBeCloseTo(a.loudnessRangeLu!, 6);
  });
  it("read silence as null and count what is no number", () => {
    const silent = measure(both(new Float32Array(48000)), 48000);
    expect(silent).toMatchObject({
      integratedLufs: null,
      truePeakDbtp: null,
      rmsDbfs: null,
      correlation: null,
      noiseFloorDbfs: null,
    });
    const broken = sine(1000, -20, 2, 48000);
    const clean = measure(both(broken.slice()), 48000);
    broken[500] = NaN;
    broken[501] = Infinity;
    const figures = measure(both(broken), 48000);
    expect(figures.nonFiniteSamples).toBe(4);
    expect(Math.abs(figures.integratedLufs! - clean.integratedLufs!)).toBeLessThan(0.01);
  });
  it("give what can be given for less than a block", () => {
    const figures = measure(both(Float32Array.of(0.5)), 48000);
    expect(figures.integratedLufs).toBeNull();
    expect(figures.samplePeakDbfs).toBeCloseTo(-6.02, 2);
    expect(figures.truePeakDbtp).toBeCloseTo(-6.02, 1);
  });
  it("tell correlation and its sign", () => {
    const x = noise(1, 48000, -6, 3);
    expect(measure([x, x], 48000).correlation).toBeCloseTo(1, 6);
    expect(measure([x, x.map((v) => -v)], 48000).correlation).toBeCloseTo(-1, 6);
    expect(Math.abs(measure([x, noise(1, 48000, -6, 4)], 48000).correlation!)).toBeLessThan(0.02);
  });
  it("find the quietest half second and leave out digital silence", () => {
    const x = joined(
      noise(2, 48000, -20, 5),
      noise(1, 48000, -60, 6),
      new Float32Array(48000),
      noise(2, 48000, -20, 7),
    );
    const figures = measure(both(x), 48000);
    expect(figures.noiseFloorDbfs!).toBeCloseTo(-60 - 4.77, 1);
    expect(figures.noiseFloorSeconds!).toBeGreaterThanOrEqual(2);
    expect(figures.noiseFloorSeconds!).toBeLessThanOrEqual(2.5);
  });
});
