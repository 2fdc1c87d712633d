import { describe, expect, it } from "vitest";
import { layoutNamed } from "../signal/layout";
import type { Planar } from "../signal/units";
import { measured, measuredBy } from "../testing/measured";
import { joined, noise, sine } from "../testing/signals";
import { kWeighting } from "./k-weighting";
import { loudness } from "./loudness";

const stereo = layoutNamed("stereo")!;
const RATES = [44100, 48000, 88200, 96000, 176400, 192000];

const measure = (block: Planar, sampleRate: number, layout = stereo, blockSize = 4096) =>
  measured(block, { sampleRate, layout }, blockSize);
/** Loudness alone, for the long signals at high rates. */
const measureLoudness = (block: Planar, sampleRate: number, layout = stereo) =>
  measuredBy(loudness, block, { sampleRate, layout }).figures;
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

describe.each(RATES)("EBU Tech 3341 at %i Hz", (rate) => {
  const tone = (db: number, seconds: number) => sine(1000, db, seconds, rate);
  const expectAll = (block: Planar, lufs: number) => {
    const figures = measureLoudness(block, rate);
    expect(Math.abs(figures.integratedLufs! - lufs)).toBeLessThanOrEqual(0.1);
    return figures;
  };

  it("case 1: a −23 dBFS tone reads −23.0 ±0.1 on M, S and I", () => {
    const figures = expectAll(both(tone(-23, 20)), -23);
    expect(Math.abs(figures.momentaryMaxLufs! + 23)).toBeLessThanOrEqual(0.1);
    expect(Math.abs(figures.shortTermMaxLufs! + 23)).toBeLessThanOrEqual(0.1);
  });
  it("case 2: a −33 dBFS tone reads −33.0 ±0.1", () => void expectAll(both(tone(-33, 20)), -33));
  it("case 3: the relative gate leaves out −36 around −23", () =>
    void expectAll(both(joined(tone(-36, 10), tone(-23, 60), tone(-36, 10))), -23));
  it("case 4: the absolute gate leaves out −72", () =>
    void expectAll(both(joined(tone(-72, 10), tone(-36, 10), tone(-23, 60), tone(-36, 10), tone(-72, 10))), -23));
  it("case 5: −26, −20, −26 averages to −23", () =>
    void expectAll(both(joined(tone(-26, 20), tone(-20, 20.1), tone(-26, 20))), -23));
  it("case 6: 5.0 with its channel weights reads −23", () => {
    const block = [-28, -28, -24, -30, -30].map((db) => tone(db, 20));
    const figures = measureLoudness(block, rate, layoutNamed("5.0")!);
    expect(Math.abs(figures.integratedLufs! + 23)).toBeLessThanOrEqual(0.1);
  });
});

describe("EBU Tech 3342, loudness range", () => {
  const steps = (...levels: number[]) => both(joined(...levels.map((db) => sine(1000, db, 20, 48000))));
  it.each([
    ["case 1", [-20, -30], 10],
    ["case 2", [-20, -15], 5],
    ["case 3", [-40, -20], 20],
    ["case 4", [-50, -35, -20, -35, -50], 15],
  ])("%s", (_, levels, range) => {
    expect(Math.abs(measureLoudness(steps(...levels), 48000).loudnessRangeLu! - range)).toBeLessThanOrEqual(1);
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
