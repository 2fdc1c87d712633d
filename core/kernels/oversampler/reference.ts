/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import type { Kernels } from "../bindings.generated";

/** Makes what is to be added to a waveform of it, in its place: 0 where it is to stay as it is. */
export interface Addition {
  reference(x: Float32Array): void;
  /** The same in the kernels' memory; `frames` is a multiple of 4, what lies behind the last one is of no matter. */
  kernel?(kernels: Kernels, at: number, frames: number): void;
}

/** One channel: what is added to it, in its place and delayed by `latency` frames. */
export interface Oversampler {
  readonly latency: number;
  /** All samples that it remembers. */
  readonly remembered: readonly Float32Array[];
  process(x: Float32Array): void;
}

/** For each doubling, lowest first: taps of one side, from the outermost in, every second one. */
export type Steps = readonly Float32Array[];

/** Up and down delay by 2·pairs − 1 frames of the doubled rate each; one more makes whole frames where that is odd. */
export function delays(steps: Steps): { latency: number; pads: boolean[] } {
  const pads: boolean[] = [];
  let latency = 0;
  for (const taps of [...steps].reverse()) {
    const doubled = 2 * (2 * taps.length - 1) + latency;
    pads.unshift(doubled % 2 === 1);
    latency = Math.ceil(doubled / 2);
  }
  return { latency, pads };
}

export function referenceOversampler(steps: Steps, addition: Addition): Oversampler {
  const { latency, pads } = delays(steps);
  const filters = steps.map(plainHalfBand);
  const held = new Float32Array(steps.length);
  const at = (step: number, x: Float32Array): void => {
    if (step === steps.length) return addition.reference(x);
    const doubled = new Float32Array(2 * x.length);
    filters[step]!.raise(x, doubled);
    at(step + 1, doubled);
    if (pads[step]) {
      const last = doubled.at(-1)!;
      doubled.copyWithin(1, 0);
      doubled[0] = held[step]!;
      held[step] = last;
    }
    filters[step]!.lower(doubled, x);
  };
  return {
    latency,
    remembered: [held, ...filters.flatMap(({ lines }) => Object.values(lines))],
    process: (x) => void (x.length > 0 && at(0, x)),
  };
}

function plainHalfBand(taps: Float32Array) {
  const { fround } = Math;
  const pairs = taps.length;
  const past = 2 * pairs - 1;
  const lines = { up: new Float32Array(past), even: new Float32Array(past), odd: new Float32Array(past) };
  /** The last samples of a line with new ones behind them. */
  const extended = (name: keyof typeof lines, fresh: Float32Array): Float32Array => {
    const line = new Float32Array(past + fresh.length);
    line.set(lines[name]);
    line.set(fresh, past);
    lines[name].set(line.subarray(fresh.length));
    return line;
  };
  const folded = (line: Float32Array, at: number): number => {
    let sum = 0;
    for (let n = 0, last = at + past; n < pairs; n++, last--)
      sum = fround(sum + fround(taps[n]! * fround(line[at + n]! + line[last]!)));
    return sum;
  };
  return {
    lines,
    /** Twice as many samples as `x`, into `doubled`. */
    raise(x: Float32Array, doubled: Float32Array): void {
      const line = extended("up", x);
      for (let i = 0; i < x.length; i++) {
        doubled[2 * i] = 2 * folded(line, i);
        doubled[2 * i + 1] = line[i + pairs]!;
      }
    },
    /** Half as many samples as `doubled`, into `out`. */
    lower(doubled: Float32Array, out: Float32Array): void {
      const every = (first: number) => Float32Array.from(out, (_, i) => doubled[2 * i + first]!);
      const [even, odd] = [extended("even", every(0)), extended("odd", every(1))];
      for (let i = 0; i < out.length; i++) out[i] = folded(even, i) + fround(0.5 * odd[i + pairs - 1]!);
    },
  };
}
