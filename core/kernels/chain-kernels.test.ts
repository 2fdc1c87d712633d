/** The kernels of the chain give the same bits as their reference implementations. */
import { describe, expect, it } from "vitest";
import { butterworth } from "../dsp/butterworth";
import { noise, sameBits } from "../testing/signals";
import { waveshaper } from "./waveshaper";
import { freshState, referenceGainSmoother, wasmGainSmoother, type StaticCurve } from "./gain-smoother";
import { referenceLimiterEnvelope, wasmLimiterEnvelope } from "./limiter-envelope";
import { referenceMovingAverage, wasmMovingAverage } from "./moving-average";
import { referenceOversampler, wasmOversampler } from "./oversampler";
import { referenceCascade, wasmCascade } from "./biquad-cascade";

const SIZES = [1, 3, 64, 1000, 2048, 2049, 5000];

describe("what is added at a multiple of the rate", () => {
  const steps = [
    [-0.01, 0.03, -0.09, 0.31],
    [0.02, -0.06, 0.29],
    [-0.04, 0.28],
  ].map((taps) => Float32Array.from(taps));
  it.each([1, 2, 3])("is the same to the bit in any blocks, %i times doubled", (count) => {
    const addition = waveshaper(1.2, 0.1, 0.8);
    const lines = [addition, { reference: addition.reference }].map((each) =>
      wasmOversampler(steps.slice(0, count), each)!,
    );
    const plain = referenceOversampler(steps.slice(0, count), addition);
    SIZES.forEach((size, n) => {
      const x = noise(size / 48000, 48000, 6, n + 1);
      const copies = lines.map(() => x.slice());
      plain.process(x);
      lines.forEach((line, i) => line.process(copies[i]!));
      for (const copy of copies) expect(sameBits([copy], [x])).toBe(true);
    });
  });
});

describe("cascades of sections", () => {
  const sections = [...butterworth("high", 40, 4, 48000), ...butterworth("low", 9000, 2, 48000)];
  it.each([[Float64Array.of(1)], [Float64Array.of(0.9, 0.2, -0.05, 0.01)]])(
    "give the same bits with taps %o",
    (fir) => {
      const [quick, plain] = [wasmCascade(sections, fir)!, referenceCascade(sections, fir)];
      SIZES.forEach((size, n) => {
        const x = noise(size / 48000, 48000, 0, n + 1);
        const y = noise(size / 48000, 48000, 0, n + 50);
        const [a, b, c, d] = [x.slice(), y.slice(), x.slice(), y.slice()];
        quick.process(a, b);
        plain.process(c, d);
        expect(sameBits([a, b], [c, d])).toBe(true);
      });
    },
  );
});

describe("a gain that follows levels", () => {
  const settings = { attack: 0.01, release: 0.001, slower: 3, sustainShare: 0.0001, steps: 4 };
  const above: StaticCurve = { direction: 1, thresholdDb: -20, slope: 0.6, kneeDb: 6, maxReductionDb: Infinity };
  const below: StaticCurve = { direction: -1, thresholdDb: -12, slope: 3, kneeDb: 0, maxReductionDb: 15 };
  it.each([
    ["above a threshold", above, 1],
    ["below one", below, 4],
  ])("gives the same bits %s", (_, curve, steps) => {
    const [a, b] = [freshState(), freshState()];
    const rest = { quiet: 1e-6, atRest: curve.direction < 0 ? 15 : 0, gainDb: 1.5 };
    SIZES.forEach((size, n) => {
      const powers = Float64Array.from(noise(size / 48000, 48000, 0, n + 1), (v) => v ** 6);
      const other = powers.slice();
      wasmGainSmoother()!(powers, size, { ...settings, steps }, curve, rest, a);
      referenceGainSmoother(other, size, { ...settings, steps }, curve, rest, b);
      expect(powers.every((v, i) => Object.is(v, other[i]))).toBe(true);
      expect(a).toEqual(b);
    });
    expect(a.largest).toBeGreaterThan(3);
  });
});

describe("the gain of a limiter", () => {
  it("holds what is steady, and keeps its blocks by what it was given, not by how much at a time", () => {
    const settings = {
      ceiling: 0.5,
      lookAhead: 33,
      peakRelease: 72,
      levelAttack: 1440,
      levelRelease: 28_800,
      levelShare: 0.2,
      levelShareSlope: 2.5,
      block: 1200,
    };
    // Half a second of silence, then half periods of 100 Hz, 6 dB over.
    const peaks = Float64Array.from({ length: 60_000 }, (_, i) =>
      i < 24_000 ? 0 : Math.abs(Math.sin((2 * Math.PI * 100 * i) / 48_000)),
    );
    const gains = [wasmLimiterEnvelope, referenceLimiterEnvelope].flatMap((make) =>
      [
        [480, 0],
        [2048, 480],
        [777, 480],
      ].map(([size, from]) => {
        const limiter = make(settings)!;
        const out = peaks.slice(from);
        for (let at = 0; at < out.length; at += size!) {
          const part = out.subarray(at, Math.min(out.length, at + size!));
          limiter.process(part, part.length);
        }
        return out.subarray(480 - from!);
      }),
    );
    for (const gain of gains.slice(1)) expect(gain).toEqual(gains[0]);
    const settled = gains[0]!.subarray(50_000);
    expect(Math.max(...settled) - Math.min(...settled)).toBeLessThan(1e-6);
    expect(settled[0]).toBeCloseTo(0.5, 4);
  });
  it("is the same to the bit, also before anything is limited, after it, and long after it", () => {
    const settings = {
      ceiling: 0.5,
      lookAhead: 40,
      peakRelease: 70,
      levelAttack: 60,
      levelRelease: 200,
      levelShare: 0.2,
      levelShareSlope: 2.5,
      block: 50,
    };
    const [quick, plain] = [wasmLimiterEnvelope(settings)!, referenceLimiterEnvelope(settings)];
    const levels = [0.4, 0.4, 1.5, 1.5, 0.3, 0.3, 0.3, 0.3, 0.3, 2];
    levels.forEach((level, n) => {
      const peaks = Float64Array.from(noise(0.06, 48000, 0, n + 1), (v) => level * Math.abs(v));
      const other = peaks.slice();
      for (let at = 0; at < peaks.length; at += 1000) {
        const rest = peaks.length - at;
        quick.process(peaks.subarray(at), Math.min(1000, rest));
        plain.process(other.subarray(at), Math.min(1000, rest));
      }
      const [a, b] = [new Float32Array(880), new Float32Array(880)];
      quick.apply(noise(0.02, 48000, 0, n), a);
      plain.apply(noise(0.02, 48000, 0, n), b);
      expect(sameBits([a], [b])).toBe(true);
      expect(peaks.every((v, i) => Object.is(v, other[i]))).toBe(true);
      expect(quick.takeMinimumGain()).toBe(plain.takeMinimumGain());
      if (n < 2 || n === 8) expect(peaks.every((v) => v === 1)).toBe(true);
    });
  });
});

describe("moving averages", () => {
  it.each([1, 2])("give the same bits, of %i channels", (channels) => {
    const [quick, plain] = [wasmMovingAverage(21)!, referenceMovingAverage(21)];
    SIZES.forEach((size, n) => {
      const block = Array.from({ length: channels }, (_, c) => noise(size / 48000, 48000, 0, n + 10 * c));
      const [a, b] = [block.map((x) => x.slice()), block.map((x) => x.slice())];
      quick.process(block, a);
      plain.process(block, b);
      expect(sameBits(a, b)).toBe(true);
    });
  });
});
