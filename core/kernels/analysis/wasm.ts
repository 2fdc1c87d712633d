/** The kernel's binding. */
import { type AnalysisKernels, type AnalysisShape, each } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";
import { TruePeakPrescanPlan } from "../true-peak-prescan";
import { hannWindow, spectrumTwiddles } from "../spectrum/tables";

/** Room for interleaved samples. */
const ENCODED_BYTES = 1 << 16;

const pairsOf = (channels: number): number => Math.ceil(channels / 2);

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
  const prescanPlan = new TruePeakPrescanPlan(plan, length);
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
  const prescanAt = prescanPlan.load(kernels, floats);
  weighting.forEach((coefficient, i) => doubles(weightingAt).fill(coefficient, 2 * i, 2 * i + 2));
  floats(windowAt).set(hannWindow(points));
  floats(twiddlesAt).set(twiddles);
  const floors = tables.floors.map(floats);
  for (const floor of floors) floor.fill(Infinity);
  const out = doubles(outAt);
  const encoded = new Uint8Array(memory, encodedAt.at, ENCODED_BYTES);
  const weightedPowers = new Float64Array(4);
  const at = (channel: number, from: number) => samplesAt[channel]!.at + from * 4;
  return {
    samples: samplesAt.map(floats),
    prescans: samplesAt.map((region) => prescanAt(region.at)),
    weightedPowers,
    level: doubles(levelAt),
    power: floats(powerAt),
    sums: tables.sums.map(floats),
    largest: tables.largest.map(floats),
    floors,
    decodePcm(bytes, size, to, frames) {
      const stride = channels * Math.abs(size);
      const most = Math.floor(ENCODED_BYTES / stride);
      for (let frame = 0; frame < frames; frame += most) {
        const count = Math.min(most, frames - frame);
        encoded.set(bytes.subarray(frame * stride, (frame + count) * stride));
        for (let c = 0; c < channels; c++)
          kernels.decodePcm(encodedAt.at + c * Math.abs(size), size, stride, count, at(c, to + frame));
      }
      return true;
    },
    replaceNonFinite: (channel, from, count) => kernels.replaceNonFinite(at(channel, from), count),
    kWeighting(bank, pair, from, count, crossed) {
      const second = Math.min(2 * pair + 1, channels - 1);
      const state = statesAt[bank]![pair]!.at;
      kernels.kWeighting(at(2 * pair, from), at(second, from), count, weightingAt.at, state, crossed, outAt.at);
      weightedPowers[0] = out[0]!;
      weightedPowers[1] = second === 2 * pair ? 0 : out[1]!;
      weightedPowers[2] = out[2]!;
    },
    rest: (bank) => statesAt[bank]!.forEach((state) => doubles(state).fill(0)),
    blockLevels: (channel, from, count) => kernels.blockLevels(at(channel, from), count, levelAt.at),
    dotProduct: (a, b, from, count) => kernels.dotProduct(at(a, from), at(b, from), count),
    spectrum(channel, from) {
      kernels.powerSpectrum(at(channel, from), windowAt.at, points / 2, workAt.at, twiddlesAt.at, powerAt.at);
      kernels.accumulateSpectrum(powerAt.at, bins, tables.seconds[channel]!.at, tables.largest[channel]!.at);
    },
    band: (first, count) => kernels.bandSum(powerAt.at + first * 4, count),
    closeSpectrumSecond: (whole) =>
      tables.seconds.forEach((second, c) =>
        kernels.closeSpectrumSecond(second.at, bins, whole, tables.sums[c]!.at, tables.floors[c]!.at),
      ),
    clearSpectra() {
      for (const one of [...tables.sums, ...tables.largest, ...tables.seconds]) floats(one).fill(0);
      for (const floor of floors) floor.fill(Infinity);
    },
  };
}
