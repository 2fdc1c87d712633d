/** The kernel's binding. */
import {
  FINE_TAPS,
  GRID_CHUNK,
  GRID_MARGIN,
  GRID_PAIRS,
  type Interpolator,
  type InterpolatorTaps,
  STRETCH,
  STRETCHES_MOST,
  TAKEN_MOST,
  vectors,
} from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** `undefined` where WebAssembly with SIMD is missing. */
export function wasmInterpolator(taps: InterpolatorTaps): Interpolator | undefined {
  const plan = new MemoryPlan();
  const gridTaps = plan.floats(GRID_PAIRS * 12);
  const fineTaps = plan.floats(taps.fine.length * FINE_TAPS);
  const input = plan.floats(vectors(TAKEN_MOST + 2 * GRID_MARGIN));
  const planes = plan.floats(3 * GRID_CHUNK);
  const [largestAt, bendsAt] = [plan.floats(STRETCHES_MOST), plan.floats(STRETCHES_MOST)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const grid = floats(gridTaps);
  for (let t = 0; t < GRID_PAIRS; t++) {
    grid.fill(taps.even[t]!, t * 12, t * 12 + 4);
    grid.fill(taps.odd[t]!, t * 12 + 4, t * 12 + 8);
    grid.fill(taps.middle[t]!, t * 12 + 8, t * 12 + 12);
  }
  taps.fine.forEach((filter, phase) => floats(fineTaps).set(filter, phase * FINE_TAPS));
  const samples = floats(input);
  const plane = (index: number) => floats(planes).subarray(index * GRID_CHUNK, (index + 1) * GRID_CHUNK);
  const first = input.at + GRID_MARGIN * 4;
  const maxima = { largest: floats(largestAt), bends: floats(bendsAt) };
  let taken = 0;
  return {
    quarter: plane(0),
    half: plane(1),
    threeQuarter: plane(2),
    take(x, from, count) {
      taken = count;
      samples.set(x.subarray(from - GRID_MARGIN, from + count + GRID_MARGIN));
    },
    rangeMaxima() {
      kernels.rangeMaxima(input.at, taken + 2 * GRID_MARGIN, STRETCH, largestAt.at, bendsAt.at);
      return maxima;
    },
    scan: (from, count) =>
      kernels.intersampleGrid(first + from * 4, vectors(count), gridTaps.at, planes.at, GRID_CHUNK),
    at: (index, phase) =>
      Math.abs(kernels.interpolateFine(first + (index - FINE_TAPS / 2 + 1) * 4, fineTaps.at + phase * FINE_TAPS * 4)),
  };
}
