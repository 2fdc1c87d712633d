/** Second-order sections in a row and a short FIR filter over two channels: by WebAssembly, or its plain twin. */
import type { Section } from "../signal/butterworth";
import { loadKernels, MemoryPlan } from "./wasm";

export interface PairCascade {
  /** Two channels of the same length, in place; `b` may be missing. */
  process(a: Float32Array, b: Float32Array | undefined): void;
}

/** The most frames that are worked on at once; states are looked at for what is too small at each of them. */
const CHUNK = 1024;
const SMALLEST = 1e-30;

const stateSpace = ([b0, b1, b2, a1, a2]: Section) => [b0, b1 - a1 * b0, b2 - a2 * b0, -a1, -a2] as const;

/** @param fir taps, first the newest */
export const pairCascade = (sections: readonly Section[], fir: Float64Array): PairCascade =>
  wasmCascade(sections, fir) ?? plainCascade(sections, fir);

export function plainCascade(list: readonly Section[], fir: Float64Array): PairCascade {
  const coefficients = list.map(stateSpace);
  const channels = [0, 1].map(() => ({
    states: new Float64Array(2 * list.length),
    past: new Float64Array(fir.length - 1),
  }));
  const run = (x: Float32Array, { states, past }: (typeof channels)[number]) => {
    const work = Float64Array.from(x);
    coefficients.forEach(([c0, c1, c2, c3, c4], n) => {
      let [s1, s2] = [states[2 * n]!, states[2 * n + 1]!];
      for (let i = 0; i < work.length; i++) {
        const v = work[i]!;
        work[i] = c0 * v + s1;
        const next = c3 * s1 + (s2 + c1 * v);
        s2 = c4 * s1 + c2 * v;
        s1 = next;
      }
      states[2 * n] = Math.abs(s1) >= SMALLEST ? s1 : 0;
      states[2 * n + 1] = Math.abs(s2) >= SMALLEST ? s2 : 0;
    });
    const line = new Float64Array(past.length + work.length);
    line.set(past);
    line.set(work, past.length);
    past.set(line.subarray(work.length));
    for (let i = 0; i < work.length; i++) {
      let sum = fir[0]! * work[i]!;
      for (let k = 1; k < fir.length; k++) sum += fir[k]! * line[past.length + i - k]!;
      x[i] = sum;
    }
  };
  return {
    process(a, b) {
      for (let at = 0; at < a.length; at += CHUNK) {
        run(a.subarray(at, at + CHUNK), channels[0]!);
        if (b) run(b.subarray(at, at + CHUNK), channels[1]!);
      }
    },
  };
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmCascade(list: readonly Section[], fir: Float64Array): PairCascade | undefined {
  const past = fir.length - 1;
  const plan = new MemoryPlan();
  const coefficients = plan.doubles(10 * list.length);
  const states = plan.doubles(4 * list.length);
  const taps = plan.doubles(2 * fir.length);
  const [aIn, bIn] = [plan.floats(CHUNK), plan.floats(CHUNK)];
  const line = plan.doubles(2 * (past + CHUNK));
  const kept = plan.doubles(2 * past);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats, doubles } = loaded;
  const splatted = (values: readonly number[]) => values.flatMap((value) => [value, value]);
  doubles(coefficients).set(list.flatMap((section) => splatted(stateSpace(section))));
  doubles(taps).set(splatted([...fir]));
  const [first, second] = [floats(aIn), floats(bIn)];
  const [work, held] = [doubles(line), doubles(kept)];
  const fresh = line.at + 16 * past;
  return {
    process(a, b) {
      for (let at = 0; at < a.length; at += CHUNK) {
        const count = Math.min(CHUNK, a.length - at);
        first.set(a.subarray(at, at + count));
        if (b) second.set(b.subarray(at, at + count));
        kernels.pair(aIn.at, bIn.at, count, fresh);
        kernels.sections(fresh, count, coefficients.at, states.at, list.length);
        if (fir.length > 1 || fir[0] !== 1) {
          // What the filter will need of this chunk, before it is overwritten.
          held.set(work.subarray(2 * count, 2 * (count + past)));
          kernels.shortFir(fresh, count, taps.at, fir.length);
        }
        kernels.unpair(fresh, count, aIn.at, bIn.at);
        work.set(held);
        a.set(first.subarray(0, count), at);
        if (b) b.set(second.subarray(0, count), at);
      }
    },
  };
}
