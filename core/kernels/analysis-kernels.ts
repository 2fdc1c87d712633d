/**
 * The arithmetic of an analysis, over samples that lie in its own memory: by WebAssembly where there is one, by its
 * plain twin elsewhere, with the same bits.
 */
import { referenceClean, referenceDot, referenceLevels, referenceKWeighting } from "./reference-levels";
import { referenceBandSum, referencePowerSpectrum } from "./reference-spectrum";
import { referencePrescanOf, TruePeakPrescanPlan, type TruePeakPrescan } from "./true-peak-prescan";
import { hannWindow, spectrumTwiddles } from "./spectrum-tables";
import { loadKernels, MemoryPlan } from "./wasm";

export interface AnalysisShape {
  channels: number;
  /** Samples held of each channel. */
  samples: number;
  /** Real points of a spectrum, a power of two ≥ 128. */
  points: number;
  /** Ten coefficients of the weighting in state-space form: see `assembly/weigh.ts`. */
  weighting: Float64Array;
}

/** Two sets of filter states, so that one can be warmed up while the other is in use. */
export type Bank = 0 | 1;

export interface AnalysisKernels {
  readonly samples: readonly Float32Array[];
  /** Scouts the samples of each channel. */
  readonly scouts: readonly TruePeakPrescan[];
  /** After `weigh`: Σz² of the two channels, Σz·z′. */
  readonly weighed: Float64Array;
  /** After `levels`: Σx², Σx, smallest, largest. */
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
  decode(bytes: Uint8Array, size: number, at: number, frames: number): boolean;
  /** NaN and infinities become 0. @returns how many there were */
  clean(channel: number, from: number, count: number): number;
  /** Weighs channels 2·pair and 2·pair + 1, or the last one alone. */
  weigh(bank: Bank, pair: number, from: number, count: number, crossed: boolean): void;
  /** Puts the filters of a bank at rest. */
  rest(bank: Bank): void;
  levels(channel: number, from: number, count: number): void;
  dot(a: number, b: number, from: number, count: number): number;
  /** Power spectrum of the samples from `from`, added to the channel's second. */
  spectrum(channel: number, from: number): void;
  /** Sum of bins of `power`. */
  band(first: number, count: number): number;
  /** Ends a second of spectra: they go into the sums, and a whole one may become the floor. */
  closeSecond(whole: boolean): void;
  clearSpectra(): void;
}

export const analysisKernels = (shape: AnalysisShape): AnalysisKernels =>
  wasmAnalysis(shape) ?? referenceAnalysis(shape);

/** Room for interleaved samples. */
const ENCODED_BYTES = 1 << 16;

const pairsOf = (channels: number): number => Math.ceil(channels / 2);
const each = <Made>(count: number, make: (index: number) => Made): Made[] =>
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
  const weighed = new Float64Array(4);
  const level = new Float64Array(4);
  const power = new Float32Array(bins);
  return {
    samples,
    scouts: samples.map((one) => referencePrescanOf(one, length)),
    decode: () => false,
    weighed,
    level,
    power,
    sums,
    largest,
    floors,
    clean: (channel, from, count) => referenceClean(samples[channel]!, from, count),
    weigh(bank, pair, from, count, crossed) {
      weighed.fill(0);
      const lanes = [2 * pair, 2 * pair + 1].filter((channel) => channel < channels);
      lanes.forEach((channel, lane) => {
        const z = outputs[lane]!;
        referenceKWeighting(samples[channel]!, from, count, weighting, states[bank]![channel]!, z);
        for (let i = 0; i < count; i++) weighed[lane]! += z[i]! * z[i]!;
      });
      if (crossed) for (let i = 0; i < count; i++) weighed[2]! += outputs[0]![i]! * outputs[1]![i]!;
    },
    rest: (bank) => states[bank]!.forEach((state) => state.fill(0)),
    levels: (channel, from, count) => referenceLevels(samples[channel]!, from, count, level),
    dot: (a, b, from, count) => referenceDot(samples[a]!, samples[b]!, from, count),
    spectrum(channel, from) {
      referencePowerSpectrum(samples[channel]!, from, window, twiddles, power);
      for (let k = 0; k < bins; k++) {
        const p = power[k]!;
        seconds[channel]![k]! += p;
        if (p > largest[channel]![k]!) largest[channel]![k] = p;
      }
    },
    band: (first, count) => referenceBandSum(power, first, count),
    closeSecond(whole) {
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

/** `undefined` where WebAssembly with SIMD is missing. */
export function wasmAnalysis({
  channels,
  samples: length,
  points,
  weighting,
}: AnalysisShape): AnalysisKernels | undefined {
  const bins = points / 2 + 1;
  const plan = new MemoryPlan();
  const samplesAt = each(channels, () => plan.floats(length));
  const encodedAt = plan.take(ENCODED_BYTES);
  const scoutPlan = new TruePeakPrescanPlan(plan, length);
  const table = () => each(channels, () => plan.floats(bins));
  const tables = { sums: table(), largest: table(), floors: table(), seconds: table() };
  const weightingAt = plan.doubles(2 * weighting.length);
  const statesAt = each(2, () => each(pairsOf(channels), () => plan.doubles(8)));
  const outAt = plan.doubles(4);
  const levelAt = plan.doubles(4);
  const windowAt = plan.floats(points);
  const twiddles = spectrumTwiddles(points);
  const twiddlesAt = plan.floats(twiddles.length);
  const workAt = plan.floats(2 * points);
  const powerAt = plan.floats(bins);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, memory, floats, doubles } = loaded;
  const scoutAt = scoutPlan.load(kernels, floats);
  weighting.forEach((coefficient, i) => doubles(weightingAt).fill(coefficient, 2 * i, 2 * i + 2));
  floats(windowAt).set(hannWindow(points));
  floats(twiddlesAt).set(twiddles);
  const floors = tables.floors.map(floats);
  for (const floor of floors) floor.fill(Infinity);
  const out = doubles(outAt);
  const encoded = new Uint8Array(memory, encodedAt.at, ENCODED_BYTES);
  const weighed = new Float64Array(4);
  const at = (channel: number, from: number) => samplesAt[channel]!.at + from * 4;
  return {
    samples: samplesAt.map(floats),
    scouts: samplesAt.map((region) => scoutAt(region.at)),
    weighed,
    level: doubles(levelAt),
    power: floats(powerAt),
    sums: tables.sums.map(floats),
    largest: tables.largest.map(floats),
    floors,
    decode(bytes, size, to, frames) {
      const stride = channels * Math.abs(size);
      const most = Math.floor(ENCODED_BYTES / stride);
      for (let frame = 0; frame < frames; frame += most) {
        const count = Math.min(most, frames - frame);
        encoded.set(bytes.subarray(frame * stride, (frame + count) * stride));
        for (let c = 0; c < channels; c++)
          kernels.decode(encodedAt.at + c * Math.abs(size), size, stride, count, at(c, to + frame));
      }
      return true;
    },
    clean: (channel, from, count) => kernels.clean(at(channel, from), count),
    weigh(bank, pair, from, count, crossed) {
      const second = Math.min(2 * pair + 1, channels - 1);
      const state = statesAt[bank]![pair]!.at;
      kernels.weigh(at(2 * pair, from), at(second, from), count, weightingAt.at, state, crossed ? 1 : 0, outAt.at);
      weighed[0] = out[0]!;
      weighed[1] = second === 2 * pair ? 0 : out[1]!;
      weighed[2] = out[2]!;
    },
    rest: (bank) => statesAt[bank]!.forEach((state) => doubles(state).fill(0)),
    levels: (channel, from, count) => kernels.levels(at(channel, from), count, levelAt.at),
    dot: (a, b, from, count) => kernels.dot(at(a, from), at(b, from), count),
    spectrum(channel, from) {
      kernels.powerSpectrum(at(channel, from), windowAt.at, points / 2, workAt.at, twiddlesAt.at, powerAt.at);
      kernels.gather(powerAt.at, bins, tables.seconds[channel]!.at, tables.largest[channel]!.at);
    },
    band: (first, count) => kernels.bandSum(powerAt.at + first * 4, count),
    closeSecond: (whole) =>
      tables.seconds.forEach((second, c) =>
        kernels.closeSecond(second.at, bins, whole ? 1 : 0, tables.sums[c]!.at, tables.floors[c]!.at),
      ),
    clearSpectra() {
      for (const one of [...tables.sums, ...tables.largest, ...tables.seconds]) floats(one).fill(0);
      for (const floor of floors) floor.fill(Infinity);
    },
  };
}
