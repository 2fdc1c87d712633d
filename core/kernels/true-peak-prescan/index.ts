/**
 * A prescan for true peaks: samples and the points halfway between them, a group at a time, tell where the waveform may
 * rise above a threshold. WebAssembly in the memory of the analysis where there is one, else the reference implementation:
 * the same bits.
 */
import { referencePrescanOf, type TruePeakPrescan } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";
import { TruePeakPrescanPlan } from "./wasm";
export * from "./reference";
export * from "./wasm";

/** Room for `length` samples that can be prescanned. */
export function prescannedSamples(length: number): { samples: Float32Array; prescan: TruePeakPrescan } {
  const plan = new MemoryPlan();
  const region = plan.floats(length);
  const prescanPlan = new TruePeakPrescanPlan(plan, length);
  const loaded = loadKernels(plan);
  if (loaded) {
    const { kernels, floats } = loaded;
    return { samples: floats(region), prescan: prescanPlan.load(kernels, floats)(region.at) };
  }
  const samples = new Float32Array(length);
  return { samples, prescan: referencePrescanOf(samples, length) };
}
