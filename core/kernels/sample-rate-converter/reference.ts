/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { Fft } from "../../math/fft";

export interface SampleRateConverterPlan {
  /** Points of a transform of the input. */
  size: number;
  /** The filter works at this many times the input's rate: 1 or 2. */
  raise: number;
  /** Of what it gives, every so many samples are left: a power of two, 1 where the rate was raised. */
  lower: number;
  /** Taps of the filter, an odd number of them. */
  filter: Float64Array;
  /** Its delay in samples of the middle rate, taken back. */
  delay: number;
  /**
   * From the middle rate to the last one: `up` phases, their taps a multiple of 4, of which every `down`-th is taken;
   * `null` where samples of the middle rate are taken as they are.
   */
  phases: readonly Float64Array[] | null;
  up: number;
  down: number;
}

/** A running conversion. Blocks have a fixed length, so that results do not depend on how sound comes in. */
export interface SampleRateConverter {
  /** Frames of the input that a block has. */
  readonly blockFrames: number;
  /** Takes the next block of both channels and gives what is ready. */
  next(a: Float32Array, b: Float32Array): readonly [Float32Array, Float32Array];
}

/** Input samples of the past that each transform takes again: whole steps of the middle rate. */
export const pastOf = ({ filter, raise, lower }: SampleRateConverterPlan): number =>
  Math.ceil((filter.length - 1) / (raise * lower)) * lower;

export const blockOf = (plan: SampleRateConverterPlan): number => plan.size - pastOf(plan);

export const tapsOf = ({ phases }: SampleRateConverterPlan): number => phases?.[0]!.length ?? 1;

/** Zeros before the first sample, so that the first point has all its taps. */
export const leadOf = (plan: SampleRateConverterPlan): number => (plan.phases ? tapsOf(plan) / 2 - 1 : 0);

/** Lengths along the way of a block. */
export function sizesOf(plan: SampleRateConverterPlan) {
  const { size, raise, lower } = plan;
  const points = size * raise;
  return {
    points,
    left: points / lower,
    /** Samples of the middle rate that the past takes up, and those that are new. */
    old: (pastOf(plan) * raise) / lower,
    fresh: (blockOf(plan) * raise) / lower,
  };
}

/** Spectrum of the filter with all scales in it. */
export function filterOf({ size, raise, filter }: SampleRateConverterPlan) {
  const points = size * raise;
  const [re, im] = [new Float64Array(points), new Float64Array(points)];
  filter.forEach((tap, i) => (re[i] = (tap * raise) / points));
  new Fft(points).forward(re, im);
  return { re, im };
}

/** Counts which points can be told once `held` samples are there, and what of the line is needed further on. */
export class Places {
  /** Place of the next point in the line, in parts of `up` a sample. */
  position: number;

  constructor(readonly plan: SampleRateConverterPlan) {
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

export function referenceSampleRateConverter(plan: SampleRateConverterPlan): SampleRateConverter {
  const { size, lower, phases, up, down } = plan;
  const past = pastOf(plan);
  const block = blockOf(plan);
  const { points, left, old } = sizesOf(plan);
  const filter = filterOf(plan);
  const forward = new Fft(size);
  const backward = new Fft(left);
  const input = [new Float32Array(size), new Float32Array(size)] as const;
  let lines = [new Float64Array(leadOf(plan)), new Float64Array(leadOf(plan))] as const;
  const places = new Places(plan);

  const filtered = (): readonly [Float64Array, Float64Array] => {
    const [re, im] = [Float64Array.from(input[0]), Float64Array.from(input[1])];
    forward.forward(re, im);
    const [outRe, outIm] = [new Float64Array(points), new Float64Array(points)];
    for (let k = 0; k < points; k++) {
      const [a, b] = [re[k & (size - 1)]!, im[k & (size - 1)]!];
      const [c, d] = [filter.re[k]!, filter.im[k]!];
      outRe[k] = a * c - b * d;
      outIm[k] = a * d + b * c;
    }
    const [lowRe, lowIm] = [outRe.slice(0, left), outIm.slice(0, left)];
    for (let part = 1; part < lower; part++)
      for (let k = 0; k < left; k++) {
        lowRe[k] = lowRe[k]! + outRe[k + part * left]!;
        lowIm[k] = lowIm[k]! + outIm[k + part * left]!;
      }
    // Real and imaginary part exchanged: the transform back.
    backward.forward(lowIm, lowRe);
    return [lowRe.subarray(old), lowIm.subarray(old)];
  };
  const point = (line: Float64Array, at: number): number => {
    const from = Math.floor(at / up);
    if (!phases) return line[from]!;
    const sums = [0, 0, 0, 0];
    phases[at % up]!.forEach((tap, t) => (sums[t & 3]! += tap * line[from + t]!));
    return sums[0]! + sums[2]! + (sums[1]! + sums[3]!);
  };
  return {
    blockFrames: block,
    next(a, b) {
      for (const [channel, x] of [a, b].entries()) {
        input[channel]!.copyWithin(0, block);
        input[channel]!.set(x, past);
      }
      const fresh = filtered();
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
