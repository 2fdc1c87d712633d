/** The kernel's binding. */
import {
  blockOf,
  filterOf,
  leadOf,
  pastOf,
  Places,
  type SampleRateConverter,
  type SampleRateConverterPlan,
  sizesOf,
  tapsOf,
} from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";
import { fftTwiddles } from "../../math/fft";

/** By WebAssembly; `undefined` where there is none. */
export function wasmSampleRateConverter(plan: SampleRateConverterPlan): SampleRateConverter | undefined {
  const { size, lower, phases, up, down } = plan;
  const past = pastOf(plan);
  const block = blockOf(plan);
  const { points, left, old, fresh } = sizesOf(plan);
  const taps = tapsOf(plan);
  const most = Math.ceil(((fresh + taps) * up) / down) + 1;
  const room = fresh + taps + down + 2;
  const memory = new MemoryPlan();
  const [re, im] = [memory.doubles(size), memory.doubles(size)];
  const spare = memory.doubles(2 * points);
  const [filterRe, filterIm] = [memory.doubles(points), memory.doubles(points)];
  const [outRe, outIm] = [memory.doubles(points), memory.doubles(points)];
  const forwardTwiddles = fftTwiddles(size);
  const backwardTwiddles = left === size ? forwardTwiddles : fftTwiddles(left);
  const forwardRegion = memory.doubles(forwardTwiddles.length);
  const backwardRegion = memory.doubles(backwardTwiddles.length);
  const filters = memory.doubles(phases ? up * taps : 0);
  const lineRegions = [memory.doubles(room), memory.doubles(room)] as const;
  const outRegions = [memory.floats(most), memory.floats(most)] as const;
  const loaded = loadKernels(memory);
  if (!loaded) return undefined;
  const { kernels, doubles, floats } = loaded;
  const filter = filterOf(plan);
  doubles(filterRe).set(filter.re);
  doubles(filterIm).set(filter.im);
  doubles(forwardRegion).set(forwardTwiddles);
  doubles(backwardRegion).set(backwardTwiddles);
  phases?.forEach((phase, p) => doubles(filters).set(phase, p * taps));
  const transformed = [doubles(re), doubles(im)] as const;
  const made = [doubles(outRe).subarray(old, left), doubles(outIm).subarray(old, left)] as const;
  const lines = [doubles(lineRegions[0]), doubles(lineRegions[1])] as const;
  const out = [floats(outRegions[0]), floats(outRegions[1])] as const;
  const held = [new Float32Array(past), new Float32Array(past)] as const;
  const places = new Places(plan);
  let length = leadOf(plan);
  const point = (channel: 0 | 1, start: number, count: number): void => {
    const { at } = lineRegions[channel];
    if (phases) kernels.polyphaseInterpolate(at, start, up, down, filters.at, taps, count, outRegions[channel].at);
    else kernels.polyphaseTake(at + 8 * start, down, count, outRegions[channel].at);
  };
  return {
    blockFrames: block,
    next(a, b) {
      for (const [channel, x] of [a, b].entries()) {
        const kept = held[channel]!;
        transformed[channel]!.set(kept);
        transformed[channel]!.set(x, past);
        if (x.length >= past) kept.set(x.subarray(x.length - past));
        else {
          kept.copyWithin(0, x.length);
          kept.set(x, past - x.length);
        }
      }
      kernels.fourierTransform(re.at, im.at, size, spare.at, forwardRegion.at);
      kernels.filterSpectrum(re.at, im.at, size, filterRe.at, filterIm.at, points, outRe.at, outIm.at);
      if (lower > 1) kernels.foldSpectrum(outRe.at, outIm.at, points, lower);
      kernels.fourierTransform(outIm.at, outRe.at, left, spare.at, backwardRegion.at);
      for (const channel of [0, 1]) lines[channel]!.set(made[channel]!, length);
      length += fresh;
      const count = places.ready(length);
      const start = places.position;
      point(0, start, count);
      point(1, start, count);
      const forgotten = places.advance(count, length);
      for (const line of lines) line.copyWithin(0, forgotten, length);
      length -= forgotten;
      return [out[0].slice(0, count), out[1].slice(0, count)];
    },
  };
}
