import { describe, expect, it } from "vitest";
import { loadKernels, MemoryPlan } from "./wasm";

const planned = (count: number) => {
  const plan = new MemoryPlan();
  const region = plan.doubles(count);
  const loaded = loadKernels(plan)!;
  return { ...loaded, view: loaded.doubles(region) };
};

describe("the kernels' memory", () => {
  it("is shared by many plans, which do not touch one another", () => {
    const plans = Array.from({ length: 200 }, () => planned(512));
    expect(new Set(plans.map(({ memory }) => memory)).size).toBeLessThanOrEqual(2);
    plans.forEach(({ view }, i) => view.fill(i + 1));
    plans.forEach(({ view }, i) => expect(view.every((v) => v === i + 1)).toBe(true));
  });
  it("is all zeros for each plan, and aligned to vectors", () => {
    for (const count of [1, 3, 511]) {
      const { view } = planned(count);
      expect(view.every((v) => v === 0)).toBe(true);
      expect(view.byteOffset % 16).toBe(0);
      view.fill(NaN);
    }
  });
  it("is one of its own for what is large", () => {
    const [large, small] = [planned(1 << 18), planned(8)];
    expect(large.memory).not.toBe(small.memory);
    expect(large.memory.byteLength).toBeGreaterThanOrEqual(8 << 18);
  });
});
