import { describe, expect, it } from "vitest";
import { noise } from "../../testing/signals";
import { GRID_MARGIN, referenceInterpolator, wasmInterpolator } from ".";
import { INTERPOLATOR_TAPS } from "../../dsp/intersample-peak";

describe("interpolator", () => {
  const plain = referenceInterpolator(INTERPOLATOR_TAPS);
  const wasm = wasmInterpolator(INTERPOLATOR_TAPS)!;
  const x = noise(0.02, 48000, 0, 11);

  it.each([1, 3, 4, 66, 72])(
    "gives the same bits by WebAssembly as by the reference implementation, %i samples",
    (count) => {
      for (const interpolator of [plain, wasm]) interpolator.take(x, GRID_MARGIN, count);
      expect(wasm.scan(0, count)).toBe(plain.scan(0, count));
      for (const plane of ["quarter", "half", "threeQuarter"] as const) {
        expect(Array.from(wasm[plane].subarray(0, count))).toEqual(Array.from(plain[plane].subarray(0, count)));
      }
      for (let phase = 0; phase < INTERPOLATOR_TAPS.fine.length; phase++) {
        for (const index of [-2, 0, count - 1, count + 1]) expect(wasm.at(index, phase)).toBe(plain.at(index, phase));
      }
    },
  );
});
