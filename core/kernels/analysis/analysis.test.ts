import { describe, expect, it } from "vitest";
import { stateSpaceWeighting } from "../../measure/k-weighting";
import { noise, sine } from "../../testing/signals";
import { referenceAnalysis, wasmAnalysis, type AnalysisKernels, type AnalysisShape } from ".";
import { HANN_ENERGY, spectrumPoints } from "../spectrum/tables";

const RATE = 44_100;
const shape = (channels: number, points = 512): AnalysisShape => ({
  channels,
  samples: 2048,
  points,
  weighting: stateSpaceWeighting(RATE),
});

/** The same noise in both. */
function both(channels: number, points?: number): [AnalysisKernels, AnalysisKernels] {
  const pair = [referenceAnalysis(shape(channels, points)), wasmAnalysis(shape(channels, points))!] as const;
  for (const kernels of pair)
    kernels.samples.forEach((samples, c) => samples.set(noise(1, RATE, -3, c + 1).subarray(0, samples.length)));
  return [...pair];
}

const numbers = (list: Float32Array | Float64Array) => Array.from(list);

describe("analysis kernels give the same bits by WebAssembly as by their reference implementations:", () => {
  it.each([1, 2, 3, 12])("weighting of %i channels, hop after hop", (channels) => {
    const [plain, wasm] = both(channels);
    for (let hop = 0; hop < 4; hop++) {
      for (let pair = 0; pair < Math.ceil(channels / 2); pair++) {
        for (const kernels of [plain, wasm]) kernels.kWeighting(0, pair, hop * 441, 441, channels === 2);
        expect(numbers(wasm.weightedPowers)).toEqual(numbers(plain.weightedPowers));
      }
    }
  });
  it("weighting at rest again after silence, and in the other bank", () => {
    const [plain, wasm] = both(2);
    for (const kernels of [plain, wasm]) {
      kernels.kWeighting(1, 0, 0, 441, true);
      kernels.rest(1);
      kernels.samples.forEach((samples) => samples.fill(0));
      kernels.kWeighting(1, 0, 0, 441, true);
      expect(numbers(kernels.weightedPowers)).toEqual([0, 0, 0, 0]);
    }
  });
  it.each([1, 4, 7, 64, 441, 1000])("levels and products of %i samples", (count) => {
    const [plain, wasm] = both(2);
    for (const kernels of [plain, wasm]) kernels.blockLevels(1, 3, count);
    expect(numbers(wasm.level)).toEqual(numbers(plain.level));
    expect(wasm.dotProduct(0, 1, 3, count)).toBe(plain.dotProduct(0, 1, 3, count));
  });
  it.each([128, 256, 512, 1024])("spectra of %i points, their sums and their bands", (points) => {
    const [plain, wasm] = both(1, points);
    for (const kernels of [plain, wasm]) {
      for (let i = 0; i < 10; i++) kernels.spectrum(0, i * 100);
      kernels.closeSpectrumSecond(true);
    }
    expect(numbers(wasm.power)).toEqual(numbers(plain.power));
    expect(numbers(wasm.sums[0]!)).toEqual(numbers(plain.sums[0]!));
    expect(numbers(wasm.largest[0]!)).toEqual(numbers(plain.largest[0]!));
    expect(numbers(wasm.floors[0]!)).toEqual(numbers(plain.floors[0]!));
    for (const count of [0, 1, 5, 32]) expect(wasm.band(3, count)).toBe(plain.band(3, count));
  });
  it("what is no number becomes 0 and is counted", () => {
    for (const kernels of both(1)) {
      kernels.samples[0]!.set([NaN, 1, Infinity, -Infinity, 2], 5);
      expect(kernels.replaceNonFinite(0, 0, 100)).toBe(3);
      expect(numbers(kernels.samples[0]!.subarray(5, 10))).toEqual([0, 1, 0, 0, 2]);
      expect(kernels.replaceNonFinite(0, 0, 100)).toBe(0);
    }
  });
});

describe("power spectrum", () => {
  it.each([8000, 11_025, 44_100, 48_000, 96_000, 384_000])("keeps the energy, at %i Hz (Parseval)", (rate) => {
    const points = spectrumPoints(rate);
    const kernels = wasmAnalysis({ channels: 1, samples: points, points, weighting: stateSpaceWeighting(rate) })!;
    kernels.samples[0]!.set(sine(rate / 50, 0, points / rate, rate));
    kernels.spectrum(0, 0);
    let sum = 0;
    for (let k = 1; k < points / 2; k++) sum += 2 * kernels.power[k]!;
    const meanSquare = (sum + kernels.power[0]! + kernels.power[points / 2]!) / (points * points * HANN_ENERGY);
    expect(10 * Math.log10(meanSquare)).toBeCloseTo(-3.01, 2);
    const peak = kernels.power.indexOf(Math.max(...kernels.power));
    expect(Math.abs((peak * rate) / points - rate / 50)).toBeLessThan(rate / points);
  });
});
