/**
 * What is added to a waveform at a multiple of its rate: doubled step by step by half-band filters (every second tap is
 * 0, and the middle one 0.5), added to, and halved again. By WebAssembly, or its plain twin.
 */
import { loadKernels, MemoryPlan, type Kernels } from "./wasm";

/** Makes what is to be added to a waveform of it, in its place: 0 where it is to stay as it is. */
export interface Addition {
  plain(x: Float32Array): void;
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

export const oversampler = (steps: Steps, addition: Addition): Oversampler =>
  wasmOversampler(steps, addition) ?? referenceOversampler(steps, addition);

/** Up and down delay by 2·pairs − 1 frames of the doubled rate each; one more makes whole frames where that is odd. */
function delays(steps: Steps): { latency: number; pads: boolean[] } {
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
    if (step === steps.length) return addition.plain(x);
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

/** The most frames that are worked on at once. */
const CHUNK = 1024;
/** Worked on together by the kernels. */
const LANES = 8;
const FLOAT = 4;

const whole = (count: number): number => Math.ceil(count / LANES) * LANES;

/** By WebAssembly; `undefined` where there is none. */
export function wasmOversampler(steps: Steps, addition: Addition): Oversampler | undefined {
  const { latency, pads } = delays(steps);
  const plan = new MemoryPlan();
  const places = steps.map((taps, step) => {
    const line = 2 * taps.length - 1 + CHUNK * 2 ** step;
    return { taps: plan.floats(taps.length), up: plan.floats(line), even: plan.floats(line), odd: plan.floats(line) };
  });
  const wide = plan.floats(CHUNK * 2 ** steps.length + 1);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const top = floats(wide);
  const held = new Float32Array(steps.length);
  const filters = steps.map((taps, step) => {
    const { taps: tapsAt, up, even, odd } = places[step]!;
    floats(tapsAt).set(taps);
    const past = 2 * taps.length - 1;
    return {
      ...{ past, pad: pads[step]!, taps: tapsAt.at, pairs: taps.length },
      ...{ up: up.at, even: even.at, odd: odd.at, fresh: past * FLOAT },
      lines: { up: floats(up), even: floats(even), odd: floats(odd) },
    };
  });

  const raise = (count: number, step: number) => {
    const { up, lines, taps, pairs, past } = filters[step]!;
    const next = filters[step + 1];
    kernels.raise(up, whole(count), taps, pairs, next ? next.up + next.fresh : wide.at);
    lines.up.copyWithin(0, count, count + past);
  };
  /** From `wide` to `wide`; what comes out leaves room in front for what the next step down has held back. */
  const lower = (count: number, step: number) => {
    const { even, odd, fresh, lines, taps, pairs, past, pad } = filters[step]!;
    if (pad) {
      top[0] = held[step]!;
      held[step] = top[2 * count]!;
    }
    kernels.part(wide.at, whole(count), even + fresh, odd + fresh);
    kernels.lower(even, odd, whole(count), taps, pairs, wide.at + (filters[step - 1]?.pad ? FLOAT : 0));
    lines.even.copyWithin(0, count, count + past);
    lines.odd.copyWithin(0, count, count + past);
  };
  return {
    latency,
    remembered: [held, ...filters.flatMap(({ lines, past }) => Object.values(lines).map((x) => x.subarray(0, past)))],
    process(x) {
      for (let at = 0; at < x.length; at += CHUNK) {
        const count = Math.min(CHUNK, x.length - at);
        const { lines, past } = filters[0]!;
        lines.up.set(x.subarray(at, at + count), past);
        for (let step = 0; step < steps.length; step++) raise(count << step, step);
        const raised = count << steps.length;
        if (addition.kernel) addition.kernel(kernels, wide.at, whole(raised));
        else addition.plain(top.subarray(0, raised));
        for (let step = steps.length - 1; step >= 0; step--) lower(count << step, step);
        x.set(top.subarray(0, count), at);
      }
    },
  };
}
