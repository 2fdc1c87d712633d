/** Half-band filters that double and halve the rate of one channel: every second tap is 0, and the middle one 0.5. */
import { loadKernels, MemoryPlan } from "./wasm";

/** Raises and lowers, each with a memory of its own. */
export interface HalfBand {
  /** Twice as many samples as `x`, into `doubled`. */
  raise(x: Float32Array, doubled: Float32Array): void;
  /** Half as many samples as `doubled`, into `out`. */
  lower(doubled: Float32Array, out: Float32Array): void;
}

/** The most frames at the lower rate that are worked on at once. */
const CHUNK = 2048;
/** Worked on together by the kernel. */
const LANES = 8;

/** @param taps of one side, from the outermost in, every second one (the others are 0) */
export const halfBand = (taps: Float32Array): HalfBand => wasmHalfBand(taps) ?? plainHalfBand(taps);

export function plainHalfBand(taps: Float32Array): HalfBand {
  const { fround } = Math;
  const pairs = taps.length;
  const past = 2 * pairs - 1;
  const lines = { up: new Float32Array(past), even: new Float32Array(past), odd: new Float32Array(past) };
  /** The last samples of a line with new ones behind them. */
  const extended = (name: keyof typeof lines, fresh: Float32Array): Float32Array => {
    const line = new Float32Array(past + fresh.length);
    line.set(lines[name]);
    line.set(fresh, past);
    lines[name] = line.slice(fresh.length);
    return line;
  };
  const folded = (line: Float32Array, at: number): number => {
    let sum = 0;
    for (let n = 0, last = at + past; n < pairs; n++, last--)
      sum = fround(sum + fround(taps[n]! * fround(line[at + n]! + line[last]!)));
    return sum;
  };
  return {
    raise(x, doubled) {
      const line = extended("up", x);
      for (let i = 0; i < x.length; i++) {
        doubled[2 * i] = 2 * folded(line, i);
        doubled[2 * i + 1] = line[i + pairs]!;
      }
    },
    lower(doubled, out) {
      const even = extended(
        "even",
        Float32Array.from(out, (_, i) => doubled[2 * i]!),
      );
      const odd = extended(
        "odd",
        Float32Array.from(out, (_, i) => doubled[2 * i + 1]!),
      );
      for (let i = 0; i < out.length; i++) out[i] = folded(even, i) + fround(0.5 * odd[i + pairs - 1]!);
    },
  };
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmHalfBand(taps: Float32Array): HalfBand | undefined {
  const pairs = taps.length;
  const past = 2 * pairs - 1;
  const plan = new MemoryPlan();
  const tapsAt = plan.floats(pairs);
  const [up, even, odd] = [0, 1, 2].map(() => plan.floats(past + CHUNK)) as [Place, Place, Place];
  const wide = plan.floats(2 * CHUNK);
  const narrow = plan.floats(CHUNK);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  floats(tapsAt).set(taps);
  const [upLine, evenLine, oddLine] = [up, even, odd].map(floats) as [Float32Array, Float32Array, Float32Array];
  const [wideOut, narrowOut] = [floats(wide), floats(narrow)];
  const fresh = past * 4;
  const whole = (count: number) => Math.ceil(count / LANES) * LANES;
  return {
    raise(x, doubled) {
      for (let at = 0; at < x.length; at += CHUNK) {
        const count = Math.min(CHUNK, x.length - at);
        upLine.set(x.subarray(at, at + count), past);
        kernels.raise(up.at, whole(count), tapsAt.at, pairs, wide.at);
        doubled.set(wideOut.subarray(0, 2 * count), 2 * at);
        upLine.copyWithin(0, count, count + past);
      }
    },
    lower(doubled, out) {
      for (let at = 0; at < out.length; at += CHUNK) {
        const count = Math.min(CHUNK, out.length - at);
        wideOut.set(doubled.subarray(2 * at, 2 * (at + count)));
        kernels.part(wide.at, whole(count), even.at + fresh, odd.at + fresh);
        kernels.lower(even.at, odd.at, whole(count), tapsAt.at, pairs, narrow.at);
        out.set(narrowOut.subarray(0, count), at);
        evenLine.copyWithin(0, count, count + past);
        oddLine.copyWithin(0, count, count + past);
      }
    },
  };
}

type Place = ReturnType<MemoryPlan["floats"]>;
