/** The kernel's binding. */
import { type DecimatingFilter, type Decimator, tablesOf } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

const CHUNK_STEPS = 1024;

/** By WebAssembly; `undefined` where there is none. */
export function wasmDecimator(filter: DecimatingFilter): Decimator | undefined {
  const { factor } = filter;
  const { before, around, width, thinning, spreading } = tablesOf(filter);
  const plan = new MemoryPlan();
  const x = plan.floats(CHUNK_STEPS * factor + thinning.length + width);
  const y = plan.floats(CHUNK_STEPS + around + 1);
  const [down, up] = [plan.floats(thinning.length), plan.floats(spreading.length)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  floats(down).set(thinning);
  floats(up).set(spreading);
  const [sound, points] = [floats(x), floats(y)];
  return {
    before,
    around,
    decimate(from, out) {
      for (let at = 0; at < out.length; at += CHUNK_STEPS) {
        const count = Math.min(CHUNK_STEPS, out.length - at);
        const held = from.subarray(at * factor, (at + count) * factor + thinning.length);
        sound.set(held);
        sound.fill(0, held.length);
        kernels.decimate(x.at, count, factor, down.at, thinning.length, y.at);
        out.set(points.subarray(0, count), at);
      }
    },
    subtract(from, into) {
      const steps = into.length / factor;
      for (let at = 0; at < steps; at += CHUNK_STEPS) {
        const count = Math.min(CHUNK_STEPS, steps - at);
        points.set(from.subarray(at, at + count + around));
        const held = into.subarray(at * factor, (at + count) * factor);
        sound.set(held);
        kernels.subtractInterpolated(y.at, count, factor, up.at, around + 1, width, x.at);
        held.set(sound.subarray(0, held.length));
      }
    },
  };
}
