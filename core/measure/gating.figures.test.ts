import { describe, expect, it } from "vitest";
import { ResampleStage } from "../dsp/resampling";
import { format, measuredBy } from "../testing/measured";
import { joined, noise, sine } from "../testing/signals";
import { integratedLoudness, loudnessRange, lufsOf } from "./gating";
import { kWeighting } from "./k-weighting";
import { loudness } from "./loudness";
import { noiseFloor } from "./noise-floor";

const energy = (lufs: number) => 10 ** ((lufs + 0.691) / 10);
const blocks = (...runs: [lufs: number, count: number][]) =>
  Float64Array.from(runs.flatMap(([lufs, count]) => new Array<number>(count).fill(energy(lufs))));

describe("gating (BS.1770-5 Annex 1)", () => {
  it("leaves out what is below −70 LUFS and 10 LU below the rest", () => {
    expect(integratedLoudness(blocks([-23, 100]))).toBeCloseTo(-23, 9);
    expect(integratedLoudness(blocks([-23, 100], [-71, 1000]))).toBeCloseTo(-23, 9);
    expect(integratedLoudness(blocks([-23, 100], [-40, 1000]))).toBeCloseTo(-32.62, 2);
    expect(integratedLoudness(blocks([-20, 100], [-60, 100]))).toBeCloseTo(-20, 9);
  });
  it("has nothing to say of silence", () => {
    expect(integratedLoudness(new Float64Array(10))).toBe(-Infinity);
    expect(integratedLoudness(new Float64Array(0))).toBe(-Infinity);
    expect(lufsOf(0)).toBe(-Infinity);
    expect(loudnessRange(new Float64Array(10))).toBeNull();
  });
  it("takes the range by nearest rank, 10th to 95th percentile (EBU Tech 3342)", () => {
    expect(loudnessRange(blocks([-30, 50], [-20, 50]))).toBeCloseTo(10, 9);
    expect(loudnessRange(blocks([-30, 4], [-20, 96]))).toBeCloseTo(0, 9);
    expect(loudnessRange(blocks([-60, 50], [-20, 50]))).toBeCloseTo(0, 9);
  });
});

describe("K-weighting at other rates", () => {
  const integrated = (x: Float32Array, sampleRate: number) =>
    measuredBy(loudness, [x], format(sampleRate, "mono")).figures.integratedLufs!;
  it.each([8000, 11025, 16000, 22050, 32000, 44100, 88200, 96000, 192000, 384000])(
    "at %i Hz reads the same sound as at 48 kHz, within 0.02 LU",
    (rate) => {
      for (const hertz of [60, 400, 1000, 4000].filter((one) => one < rate / 2)) {
        const there = integrated(sine(hertz, -20, 3, rate), rate);
        const here = integrated(sine(hertz, -20, 3, 48000), 48000);
        expect(Math.abs(there - here)).toBeLessThanOrEqual(0.02);
      }
    },
  );
  it("of noise resampled to 44.1 kHz agrees within 0.02 LU", () => {
    const x = noise(4, 48000, -10, 1).map((v, i, all) => (v + (all[i - 1] ?? 0)) / 2);
    const convert = new ResampleStage(48000, 44100, 1);
    const y = joined(convert.push([x])[0]!, convert.finish()[0]!);
    expect(Math.abs(integrated(y, 44100) - integrated(x, 48000))).toBeLessThanOrEqual(0.02);
  });
  it("has a stable filter at every rate", () => {
    for (const rate of [8000, 11025, 44100, 384000]) {
      const { shelf, highPass } = kWeighting(rate);
      for (const { a1, a2 } of [shelf, highPass]) {
        expect(Math.abs(a2)).toBeLessThan(1);
        expect(Math.abs(a1)).toBeLessThan(1 + a2);
      }
    }
  });
});

describe("noise floor", () => {
  const floor = (x: Float32Array) => measuredBy(noiseFloor, [x], format(48000, "mono")).figures;
  it("is there for half a second of sound, and not for less, nor where all is digital silence", () => {
    expect(floor(noise(0.5, 48000, -40, 1)).noiseFloorDbfs).toBeCloseTo(-40 - 4.77, 1);
    expect(floor(noise(0.4, 48000, -40, 1)).noiseFloorDbfs).toBeNull();
    expect(floor(new Float32Array(96_000)).noiseFloorDbfs).toBeNull();
  });
  it("is none where gated pauses are digital silence: what is left is programme", () => {
    const burst = (seconds: number, seed: number) => noise(seconds, 48000, -20, seed);
    const pause = new Float32Array(36_000);
    const gated = joined(burst(1, 1), pause, burst(2, 2), pause, burst(1, 3));
    expect(floor(gated)).toEqual({ noiseFloorDbfs: null, noiseFloorSeconds: null });
    // A room that goes on beside such a pause is told none the less.
    const room = noise(0.75, 48000, -60, 4);
    expect(floor(joined(burst(1, 1), pause, burst(2, 2), room, burst(1, 3))).noiseFloorDbfs).toBeCloseTo(-64.8, 0);
    // Without digital silence loud sound has its floor, however near.
    expect(floor(burst(3, 5)).noiseFloorDbfs).toBeCloseTo(-24.8, 0);
  });
  it("passes over a window with 10 ms of zeros, and not over one with 5 ms", () => {
    const withZeros = (seconds: number) => {
      const x = joined(noise(1, 48000, -20, 2), noise(0.6, 48000, -60, 3), noise(1, 48000, -20, 4));
      x.fill(0, 1.3 * 48000, (1.3 + seconds) * 48000);
      return floor(x).noiseFloorDbfs!;
    };
    expect(withZeros(0.005)).toBeLessThan(-60);
    expect(withZeros(0.012)).toBeGreaterThan(-60);
  });
});
