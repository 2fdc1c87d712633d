/**
 * Two channels at another rate: raised by whole numbers and filtered by overlap-save in float64, then points between
 * those samples by a short polyphase filter. By WebAssembly, or its plain twin; the same bits.
 */
import { Fft, fftTwiddles } from "../math/fft";
import { loadKernels, MemoryPlan } from "./wasm";

export interface RatePlan {
  /** Points of a transform of the input. */
  size: number;
  /** The rate is raised by this: 1 or 2. */
  raise: number;
  /** Filter at the raised rate; an odd number of taps, at most as many as leave room for new samples. */
  filter: Float64Array;
  /** From the raised rate to the last one: `up` phases, their taps a multiple of 4, every `down`-th is taken. */
  phases: readonly Float64Array[];
  up: number;
  down: number;
  /** Of the filter, in samples of the raised rate: taken back. */
  delay: number;
}

/** A running conversion. Blocks have a fixed length, so that results do not depend on how sound comes in. */
export interface RateLine {
  /** Frames of the input that a block has. */
  readonly blockFrames: number;
  /** Takes the next block of both channels and gives what is ready. */
  next(a: Float32Array, b: Float32Array): readonly [Float32Array, Float32Array];
}

export const rateLine = (plan: RatePlan): RateLine => wasmRateLine(plan) ?? plainRateLine(plan);

/** Input samples of the past that each transform takes again. */
const pastOf = ({ filter, raise }: RatePlan): number => Math.ceil((filter.length - 1) / raise);
const blockOf = (plan: RatePlan): number => plan.size - pastOf(plan);
const tapsOf = ({ phases }: RatePlan): number => phases[0]!.length;
/** Points that a block can give at most. */
const mostPoints = (plan: RatePlan): number => Math.ceil((blockOf(plan) * plan.raise * plan.up) / plan.down) + 1;

/** Spectrum of the filter with all scales in it. */
function filterOf({ size, raise, filter }: RatePlan) {
  const points = size * raise;
  const [re, im] = [new Float64Array(points), new Float64Array(points)];
  filter.forEach((tap, i) => (re[i] = (tap * raise) / points));
  new Fft(points).forward(re, im);
  return { re, im };
}

/** Counts which points can be told once `held` raised samples are there, and what of the line is needed further on. */
class Places {
  /** Place of the next point in the line, in parts of `up` a sample. */
  position: number;

  constructor(readonly plan: RatePlan) {
    this.position = plan.delay * plan.up;
  }

  ready(held: number): number {
    const { up, down } = this.plan;
    const last = held - tapsOf(this.plan);
    return last < 0 ? 0 : Math.max(0, Math.floor((last * up + up - 1 - this.position) / down) + 1);
  }

  /** Moves on by `count` points; tells how many of the `held` samples may be forgotten. */
  advance(count: number, held: number): number {
    const { up, down } = this.plan;
    this.position += count * down;
    const forgotten = Math.min(held, Math.floor(this.position / up));
    this.position -= forgotten * up;
    return forgotten;
  }
}

export function plainRateLine(plan: RatePlan): RateLine {
  const { size, raise, phases, up, down } = plan;
  const past = pastOf(plan);
  const block = blockOf(plan);
  const points = size * raise;
  const filter = filterOf(plan);
  const forward = new Fft(size);
  const backward = new Fft(points);
  const input = [new Float32Array(size), new Float32Array(size)] as const;
  // A point lies between the two samples in the middle of the taps.
  let lines = [new Float64Array(tapsOf(plan) / 2 - 1), new Float64Array(tapsOf(plan) / 2 - 1)] as const;
  const places = new Places(plan);
  const taps = tapsOf(plan);
  const raised = (): readonly [Float64Array, Float64Array] => {
    const [re, im] = [Float64Array.from(input[0]), Float64Array.from(input[1])];
    forward.forward(re, im);
    const [outRe, outIm] = [new Float64Array(points), new Float64Array(points)];
    for (let k = 0; k < points; k++) {
      const [a, b] = [re[k & (size - 1)]!, im[k & (size - 1)]!];
      const [c, d] = [filter.re[k]!, filter.im[k]!];
      outRe[k] = a * c - b * d;
      outIm[k] = a * d + b * c;
    }
    backward.forward(outIm, outRe);
    return [outRe.subarray(past * raise), outIm.subarray(past * raise)];
  };
  const point = (line: Float64Array, at: number): number => {
    const filter = phases[at % up]!;
    const from = Math.floor(at / up);
    const sums = [0, 0, 0, 0];
    for (let t = 0; t < taps; t++) sums[t & 3]! += filter[t]! * line[from + t]!;
    return sums[0]! + sums[2]! + (sums[1]! + sums[3]!);
  };
  return {
    blockFrames: block,
    next(a, b) {
      for (const [channel, x] of [a, b].entries()) {
        input[channel]!.copyWithin(0, block);
        input[channel]!.set(x, past);
      }
      const fresh = raised();
      lines = [extended(lines[0], fresh[0]), extended(lines[1], fresh[1])];
      const count = places.ready(lines[0].length);
      const start = places.position;
      const made = lines.map((line) => Float32Array.from({ length: count }, (_, i) => point(line, start + i * down)));
      const forgotten = places.advance(count, lines[0].length);
      lines = [lines[0].slice(forgotten), lines[1].slice(forgotten)];
      return [made[0]!, made[1]!];
    },
  };
}

function extended(line: Float64Array, fresh: Float64Array): Float64Array<ArrayBuffer> {
  const all = new Float64Array(line.length + fresh.length);
  all.set(line);
  all.set(fresh, line.length);
  return all;
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmRateLine(plan: RatePlan): RateLine | undefined {
  const { size, raise, phases, up, down } = plan;
  const past = pastOf(plan);
  const block = blockOf(plan);
  const points = size * raise;
  const taps = tapsOf(plan);
  const most = mostPoints(plan);
  const room = block * raise + taps + down + 2;
  const memory = new MemoryPlan();
  const [re, im] = [memory.doubles(size), memory.doubles(size)];
  const spare = memory.doubles(2 * points);
  const [filterRe, filterIm] = [memory.doubles(points), memory.doubles(points)];
  const [outRe, outIm] = [memory.doubles(points), memory.doubles(points)];
  const forwardTwiddles = fftTwiddles(size);
  const backwardTwiddles = raise === 1 ? forwardTwiddles : fftTwiddles(points);
  const forwardRegion = memory.doubles(forwardTwiddles.length);
  const backwardRegion = memory.doubles(backwardTwiddles.length);
  const filters = memory.doubles(up * taps);
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
  phases.forEach((phase, p) => doubles(filters).set(phase, p * taps));
  const points2 = [doubles(re), doubles(im)] as const;
  const raised = [doubles(outRe).subarray(past * raise), doubles(outIm).subarray(past * raise)] as const;
  const lines = [doubles(lineRegions[0]), doubles(lineRegions[1])] as const;
  const out = [floats(outRegions[0]), floats(outRegions[1])] as const;
  const input = [new Float32Array(size), new Float32Array(size)] as const;
  const places = new Places(plan);
  let held = taps / 2 - 1;
  return {
    blockFrames: block,
    next(a, b) {
      for (const [channel, x] of [a, b].entries()) {
        input[channel]!.copyWithin(0, block);
        input[channel]!.set(x, past);
        points2[channel]!.set(input[channel]!);
      }
      kernels.fourier(re.at, im.at, size, spare.at, forwardRegion.at);
      kernels.filterSpectrum(re.at, im.at, size, filterRe.at, filterIm.at, points, outRe.at, outIm.at);
      // Real and imaginary part exchanged: the transform back.
      kernels.fourier(outIm.at, outRe.at, points, spare.at, backwardRegion.at);
      for (const channel of [0, 1]) lines[channel]!.set(raised[channel]!, held);
      held += block * raise;
      const count = places.ready(held);
      const start = places.position;
      lineRegions.forEach(({ at }, channel) =>
        kernels.between(at, start, up, down, filters.at, taps, count, outRegions[channel]!.at),
      );
      const forgotten = places.advance(count, held);
      for (const line of lines) line.copyWithin(0, forgotten, held);
      held -= forgotten;
      return [out[0].slice(0, count), out[1].slice(0, count)];
    },
  };
}
