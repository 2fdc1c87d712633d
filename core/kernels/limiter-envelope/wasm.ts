/** The kernel's binding. */
import {
  constantsOf,
  firstState,
  lengthsOf,
  type LimiterEnvelope,
  type LimiterEnvelopeSettings,
  MOST_FRAMES,
  SMALLEST,
  UNIT,
} from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** What the kernel remembers besides: of the hold and of both moving sums, and whether it is at rest. */
const SUMS = ["largest", "place", "first sum", "first next", "second sum", "second next", "at rest"];

/** Hot. */
function anyAbove(values: Float64Array, frames: number, ceiling: number): boolean {
  for (let i = 0; i < frames; i++) if (values[i]! > ceiling) return true;
  return false;
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmLimiterEnvelope(settings: LimiterEnvelopeSettings): LimiterEnvelope | undefined {
  const lengths = lengthsOf(settings);
  const full = UNIT * lengths.first * lengths.second;
  // In the kernel's order.
  const constants = [...Object.values(constantsOf(settings)), lengths.held, lengths.first, lengths.second, full];
  const begin = firstState();
  const plan = new MemoryPlan();
  const [values, given] = [plan.doubles(MOST_FRAMES), plan.doubles(constants.length)];
  const kept = plan.doubles(begin.length + SUMS.length);
  const [stretch, rest] = [plan.doubles(lengths.held), plan.doubles(lengths.held + 1)];
  const [first, second] = [plan.doubles(lengths.first), plan.doubles(lengths.second)];
  const samples = plan.floats(MOST_FRAMES);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats, doubles } = loaded;
  doubles(given).set(constants);
  doubles(first).fill(UNIT);
  doubles(second).fill(UNIT * lengths.first);
  const [gains, state, work] = [doubles(values), doubles(kept), floats(samples)];
  state.set([...begin, 0, 0, UNIT * lengths.first, 0, full, 0, 1]);
  const atRest = begin.length + SUMS.length - 1;
  let count = 0;
  return {
    memory: [state, ...[stretch, rest, first, second].map(doubles)],
    process(all, frames) {
      count = frames;
      if (state[atRest] === 1 && !anyAbove(all, frames, settings.ceiling)) {
        all.fill(1, 0, frames);
        gains.fill(1, 0, frames);
        return false;
      }
      gains.set(all.subarray(0, frames));
      kernels.limiterGains(values.at, frames, given.at, kept.at, stretch.at, rest.at, first.at, second.at);
      all.set(gains.subarray(0, frames));
      return true;
    },
    apply(x, out) {
      work.set(x.subarray(0, count));
      kernels.applyGains(samples.at, count, values.at);
      out.set(work.subarray(0, count));
    },
    takeMinimumGain() {
      const least = state[SMALLEST]!;
      state[SMALLEST] = 1;
      return least;
    },
  };
}
