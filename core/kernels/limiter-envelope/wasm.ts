/** The kernel's binding. */
import {
  AT_REST,
  lengthsOf,
  type LimiterEnvelope,
  type LimiterEnvelopeSettings,
  MOST_FRAMES,
  SMALLEST,
  UNIT,
} from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** Hot. */
function anyAbove(values: Float64Array, frames: number, ceiling: number): boolean {
  for (let i = 0; i < frames; i++) if (values[i]! > ceiling) return true;
  return false;
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmLimiterEnvelope(settings: LimiterEnvelopeSettings): LimiterEnvelope | undefined {
  const { ceiling, releaseFrames, slower, sustainStep } = settings;
  const lengths = lengthsOf(settings);
  const plan = new MemoryPlan();
  const [values, given, kept] = [plan.doubles(MOST_FRAMES), plan.doubles(8), plan.doubles(11)];
  const [stretch, rest] = [plan.doubles(lengths.held), plan.doubles(lengths.held + 1)];
  const [first, second] = [plan.doubles(lengths.first), plan.doubles(lengths.second)];
  const samples = plan.floats(MOST_FRAMES);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats, doubles } = loaded;
  const full = UNIT * lengths.first * lengths.second;
  doubles(given).set([ceiling, releaseFrames, slower, sustainStep]);
  doubles(given).set([lengths.held, lengths.first, lengths.second, full], 4);
  doubles(first).fill(UNIT);
  doubles(second).fill(UNIT * lengths.first);
  const [gains, state, work] = [doubles(values), doubles(kept), floats(samples)];
  state.set([0, 1, 0, 1, 0, 0, UNIT * lengths.first, 0, full, 0, 1]);
  let count = 0;
  return {
    memory: [state, ...[stretch, rest, first, second].map(doubles)],
    process(all, frames) {
      count = frames;
      if (state[AT_REST] === 1 && !anyAbove(all, frames, ceiling)) {
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
