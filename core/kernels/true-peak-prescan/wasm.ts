/** The kernel's binding. */
import { MemoryPlan, type MemoryRegion } from "../wasm";
import type { Kernels } from "../bindings.generated";
import { PRESCAN_GROUP, PRESCAN_PAIRS, PRESCAN_TAPS, type TruePeakPrescan } from "./reference";

/** Where the kernel finds its taps and puts what it tells. */
export class TruePeakPrescanPlan {
  readonly #taps: MemoryRegion;
  readonly #groups: MemoryRegion;

  constructor(plan: MemoryPlan, mostSamples: number) {
    this.#taps = plan.floats(PRESCAN_PAIRS * 4);
    this.#groups = plan.floats(Math.ceil(mostSamples / PRESCAN_GROUP));
  }

  /** @returns prescans whose samples lie at `at` of the kernels' memory */
  load(kernels: Kernels, floats: (region: MemoryRegion) => Float32Array): (at: number) => TruePeakPrescan {
    const taps = floats(this.#taps);
    PRESCAN_TAPS.forEach((tap, t) => taps.fill(tap, t * 4, t * 4 + 4));
    const told = floats(this.#groups);
    return (at) => (from, groups, quiet) => {
      kernels.prescanTruePeak(at + from * 4, groups, this.#taps.at, quiet, this.#groups.at);
      return told;
    };
  }
}
