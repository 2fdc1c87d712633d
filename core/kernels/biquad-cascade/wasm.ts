/** The kernel's binding. */
import {
  alignedPast,
  type Biquad,
  CHUNK,
  splatted,
  splattedBiquads,
  statesAfter,
  type TwoChannelCascade,
} from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** By WebAssembly; `undefined` where there is none. */
export function wasmCascade(list: readonly Biquad[], fir: Float64Array): TwoChannelCascade | undefined {
  const past = fir.length - 1;
  const plan = new MemoryPlan();
  const coefficients = plan.doubles(10 * list.length);
  const states = plan.doubles(4 * list.length);
  const history = plan.doubles(8 * list.length);
  const taps = plan.doubles(2 * fir.length);
  const [aIn, bIn] = [plan.floats(CHUNK), plan.floats(CHUNK)];
  const line = plan.doubles(2 * (past + CHUNK));
  const kept = plan.doubles(2 * past);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats, doubles } = loaded;
  doubles(coefficients).set(splattedBiquads(list));
  doubles(taps).set(splatted([...fir]));
  const [first, second] = [floats(aIn), floats(bIn)];
  const [work, held] = [doubles(line), doubles(kept)];
  const fresh = line.at + 16 * past;
  return {
    passed: { sections: list, states: doubles(states), history: doubles(history), past: work.subarray(0, 2 * past) },
    goOnFrom(other) {
      doubles(states).set(statesAfter(list, other));
      doubles(history).set(other.history.subarray(0, 8 * list.length));
      work.set(alignedPast(other.past, 2 * past));
    },
    process(a, b) {
      for (let at = 0; at < a.length; at += CHUNK) {
        const count = Math.min(CHUNK, a.length - at);
        first.set(a.subarray(at, at + count));
        if (b) second.set(b.subarray(at, at + count));
        kernels.packPairs(aIn.at, bIn.at, count, fresh);
        kernels.biquadSections(fresh, count, coefficients.at, states.at, history.at, list.length);
        if (fir.length > 1 || fir[0] !== 1) {
          // What the filter will need of this chunk, before it is overwritten.
          held.set(work.subarray(2 * count, 2 * (count + past)));
          kernels.firPairs(fresh, count, taps.at, fir.length);
        }
        kernels.unpackPairs(fresh, count, aIn.at, bIn.at);
        work.set(held);
        a.set(first.subarray(0, count), at);
        if (b) b.set(second.subarray(0, count), at);
      }
    },
  };
}
