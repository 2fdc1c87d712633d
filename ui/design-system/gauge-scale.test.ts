import { describe, expect, it } from "vitest";
import { LIMITED_FIGURES, type LimitedFigure } from "@core/delivery/spec";
import { SPECS } from "@core/delivery/specs";
import { gaugeScale } from "./gauge-scale";

describe("margin gauges", () => {
  it("reach beyond every limit of every spec, on both of its sides", () => {
    for (const spec of SPECS) {
      for (const limit of spec.limits) {
        const { low, high } = gaugeScale(limit.figure, limit);
        if (limit.max !== undefined) expect(high).toBeGreaterThan(limit.max);
        if (limit.min !== undefined) expect(low).toBeLessThan(limit.min);
        expect(high).toBeGreaterThan(low);
      }
    }
  });
  it("have a range for every figure without a limit", () => {
    for (const figure of Object.keys(LIMITED_FIGURES) as LimitedFigure[]) {
      const { low, high } = gaugeScale(figure, undefined);
      expect(high - low).toBeGreaterThan(1);
    }
  });
});
