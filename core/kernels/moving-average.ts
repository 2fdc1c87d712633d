/**
 * Several moving averages one after another, which together weigh like a bell: a low-pass that does not ring. Samples
 * are rounded to whole multiples of 2⁻³⁰, so that the running sums are exact and depend on nothing but the last samples.
 */
import { loadKernels, MemoryPlan } from "./wasm";

export interface MovingAverage {
  /** How far what comes out lies behind what goes in, in frames. */
  readonly latency: number;
  /** All that it remembers. */
  readonly remembered: readonly Float64Array[];
  /** One or two channels of the same length; what comes out is written to `low`. */
  process(block: readonly Float32Array[], low: readonly Float32Array[]): void;
}

const PASSES = 4;
const UNIT = 2 ** 30;
/** The most frames that are worked on at once. */
const CHUNK = 1024;

const latencyOf = (length: number): number => (PASSES * (length - 1)) / 2;

/** @param length of each average, odd */
export const movingAverage = (length: number): MovingAverage =>
  wasmMovingAverage(length) ?? referenceMovingAverage(length);

export function referenceMovingAverage(length: number): MovingAverage {
  const share = 1 / length;
  const channels = [0, 1].map(() => ({
    rings: Array.from({ length: PASSES }, () => new Float64Array(length)),
    sums: new Float64Array(PASSES),
  }));
  const place = new Float64Array(1);
  return {
    latency: latencyOf(length),
    remembered: [place, ...channels.flatMap(({ rings, sums }) => [...rings, sums])],
    process(block, low) {
      const next = place[0]!;
      block.forEach((x, c) => {
        const { rings, sums } = channels[c]!;
        x.forEach((v, i) => {
          let value = Math.floor(v * UNIT);
          rings.forEach((ring, pass) => {
            const at = (next + i) % length;
            if (pass > 0) value = Math.floor(value * share);
            sums[pass] = sums[pass]! + (value - ring[at]!);
            ring[at] = value;
            value = sums[pass]!;
          });
          low[c]![i] = value * (share * (1 / UNIT));
        });
      });
      place[0] = (next + block[0]!.length) % length;
    },
  };
}

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
        kernels.pair(a.at, b.at, count, work.at);
        place[0] = kernels.movingMeans(work.at, count, rings.at, sums.at, place[0]!, length, PASSES);
        kernels.unpair(work.at, count, a.at, b.at);
        low.forEach((x, c) => x.set(channels[c]!.subarray(0, count), at));
      }
    },
  };
}
