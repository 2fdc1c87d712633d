/** The kernel's binding. */
import { type GainSmoother, SETTINGS_SIZE, settingsInOrder, STATE_SIZE, stateInOrder, stateOf } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** The most frames that are worked on at once. */
const CHUNK = 2048;

/** By WebAssembly; `undefined` where there is none. All share one small memory: nothing is kept there between calls. */
export function wasmGainSmoother(): GainSmoother | undefined {
  const plan = new MemoryPlan();
  const [valuesAt, groupsAt] = [plan.doubles(CHUNK), plan.doubles(CHUNK + 1)];
  const [settingsAt, stateAt] = [plan.doubles(SETTINGS_SIZE), plan.doubles(STATE_SIZE)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, doubles } = loaded;
  const [chunk, given, kept] = [doubles(valuesAt), doubles(settingsAt), doubles(stateAt)];
  return (values, frames, settings, curve, rest, state) => {
    given.set(settingsInOrder(settings, curve, rest));
    kept.set(stateInOrder(state));
    for (let at = 0; at < frames; at += CHUNK) {
      const part = values.subarray(at, Math.min(frames, at + CHUNK));
      chunk.set(part);
      kernels.smoothGain(valuesAt.at, part.length, settingsAt.at, stateAt.at, groupsAt.at);
      part.set(chunk.subarray(0, part.length));
    }
    Object.assign(state, stateOf(kept));
  };
}
