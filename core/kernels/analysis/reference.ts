/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { referencePrescanOf, type TruePeakPrescan } from "../true-peak-prescan";
import { hannWindow, spectrumTwiddles } from "../spectrum/tables";
import { referenceClean, referenceDot, referenceKWeighting, referenceLevels } from "../k-weighting/reference";
import { referenceBandSum, referencePowerSpectrum } from "../spectrum/reference";

export interface AnalysisShape {
  channels: number;
  /** Samples held of each channel. */
  samples: number;
  /** Real points of a spectrum, a power of two ≥ 128. */
  points: number;
  /** Ten coefficients of the weighting in state-space form: see `k-weighting/assembly.ts`. */
  weighting: Float64Array;
}

/** Two sets of filter states, so that one can be warmed up while the other is in use. */
export type Bank = 0 | 1;

export interface AnalysisKernels {
  readonly samples: readonly Float32Array[];
  /** Prescans the samples of each channel. */
  readonly prescans: readonly TruePeakPrescan[];
  /** After `kWeighting`: Σz² of the two channels, Σz·z′. */
  readonly weightedPowers: Float64Array;
  /** After `blockLevels`: Σx², Σx, smallest, largest. */
  readonly level: Float64Array;
  /** After `spectrum`: |X|² of its points / 2 + 1 bins. */
  readonly power: Float32Array;
  /** Σ|X|² of each channel over the seconds that were closed since they were last cleared. */
  readonly sums: readonly Float32Array[];
  /** Largest |X|² of each channel since they were last cleared. */
  readonly largest: readonly Float32Array[];
  /** Smallest sum over a second of each channel. */
  readonly floors: readonly Float32Array[];
  /**
   * Interleaved little-endian samples into `frames` samples of each channel from `at`.
   * @param size bytes a sample: 2, 3, 4 (whole numbers) or −4 (float32)
   * @returns false where there is no kernel for it: nothing was done
   */
  decodePcm(bytes: Uint8Array, size: number, at: number, frames: number): boolean;
  /** NaN and infinities become 0. @returns how many there were */
  replaceNonFinite(channel: number, from: number, count: number): number;
  /** Weighs channels 2·pair and 2·pair + 1, or the last one alone. */
  kWeighting(bank: Bank, pair: number, from: number, count: number, crossed: boolean): void;
  /** Puts the filters of a bank at rest. */
  rest(bank: Bank): void;
  blockLevels(channel: number, from: number, count: number): void;
  dotProduct(a: number, b: number, from: number, count: number): number;
  /** Power spectrum of the samples from `from`, added to the channel's second. */
  spectrum(channel: number, from: number): void;
  /** Sum of bins of `power`. */
  band(first: number, count: number): number;
  /** Ends a second of spectra: they go into the sums, and a whole one may become the floor. */
  closeSpectrumSecond(whole: boolean): void;
  clearSpectra(): void;
}

export const each = <Made>(count: number, make: (index: number) => Made): Made[] =>
  Array.from({ length: count }, (_, index) => make(index));

export function referenceAnalysis({ channels, samples: length, points, weighting }: AnalysisShape): AnalysisKernels {
  const samples = each(channels, () => new Float32Array(length));
  const bins = points / 2 + 1;
  const table = () => each(channels, () => new Float32Array(bins));
  const [sums, largest, floors, seconds] = [table(), table(), table(), table()];
  for (const floor of floors) floor.fill(Infinity);
  const window = hannWindow(points);
  const twiddles = spectrumTwiddles(points);
  const states = each(2, () => each(channels, () => new Float64Array(4)));
  const outputs = each(2, () => new Float64Array(length));
  const weightedPowers = new Float64Array(4);
  const level = new Float64Array(4);
  const power = new Float32Array(bins);
  return {
    samples,
    prescans: samples.map((one) => referencePrescanOf(one, length)),
    decodePcm: () => false,
    weightedPowers,
    level,
    power,
    sums,
    largest,
    floors,
    replaceNonFinite: (channel, from, count) => referenceClean(samples[channel]!, from, count),
    kWeighting(bank, pair, from, count, crossed) {
      weightedPowers.fill(0);
      const lanes = [2 * pair, 2 * pair + 1].filter((channel) => channel < channels);
      lanes.forEach((channel, lane) => {
        const z = outputs[lane]!;
        referenceKWeighting(samples[channel]!, from, count, weighting, states[bank]![channel]!, z);
        for (let i = 0; i < count; i++) weightedPowers[lane]! += z[i]! * z[i]!;
      });
      if (crossed) for (let i = 0; i < count; i++) weightedPowers[2]! += outputs[0]![i]! * outputs[1]![i]!;
    },
    rest: (bank) => states[bank]!.forEach((state) => state.fill(0)),
    blockLevels: (channel, from, count) => referenceLevels(samples[channel]!, from, count, level),
    dotProduct: (a, b, from, count) => referenceDot(samples[a]!, samples[b]!, from, count),
    spectrum(channel, from) {
      referencePowerSpectrum(samples[channel]!, from, window, twiddles, power);
      for (let k = 0; k < bins; k++) {
        const p = power[k]!;
        seconds[channel]![k]! += p;
        if (p > largest[channel]![k]!) largest[channel]![k] = p;
      }
    },
    band: (first, count) => referenceBandSum(power, first, count),
    closeSpectrumSecond(whole) {
      seconds.forEach((second, c) => {
        for (let k = 0; k < bins; k++) {
          sums[c]![k]! += second[k]!;
          if (whole) floors[c]![k] = Math.min(floors[c]![k]!, second[k]!);
        }
        second.fill(0);
      });
    },
    clearSpectra() {
      for (const one of [...sums, ...largest, ...seconds]) one.fill(0);
      for (const floor of floors) floor.fill(Infinity);
    },
  };
}
