/** The kernel's binding. */
import { latencyOf, type MovingAverage, PASSES } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** The most frames that are worked on at once. */
const CHUNK = 1024;

/** By WebAssembly; `undefined` where there is none. */
export function wasmMovingAverage(length: number): MovingAverage | undefined {
  const plan = new MemoryPlan();
  const [a, b] = [plan.floats(CHUNK), plan.floats(CHUNK)];
  const work = plan.doubles(2 * CHUNK);
  const [rings, sums] = [plan.doubles(2 * PASSES * length), plan.doubles(2 * PASSES)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats, doubles } = loaded;
  const channels = [floats(a), floats(b)];
  const place = new Float64Array(1);
  return {
    latency: latencyOf(length),
    remembered: [place, doubles(rings), doubles(sums)],
    process(block, low) {
      const frames = block[0]!.length;
      for (let at = 0; at < frames; at += CHUNK) {
        const count = Math.min(CHUNK, frames - at);
        block.forEach((x, c) => channels[c]!.set(x.subarray(at, at + count)));
        kernels.packPairs(a.at, b.at, count, work.at);
        place[0] = kernels.movingAverages(work.at, count, rings.at, sums.at, place[0]!, length, PASSES);
        kernels.unpackPairs(work.at, count, a.at, b.at);
        low.forEach((x, c) => x.set(channels[c]!.subarray(0, count), at));
      }
    },
  };
}
