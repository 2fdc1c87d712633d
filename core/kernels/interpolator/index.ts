/**
 * Windowed-sinc interpolation between samples, at 4× over a scan and at 16× at single points. WebAssembly with SIMD where
 * there is one, else the reference implementation: the same bits.
 */
import { referenceInterpolator, type Interpolator, type InterpolatorTaps } from "./reference";
import { wasmInterpolator } from "./wasm";

export * from "./reference";
export * from "./wasm";

export const interpolator = (taps: InterpolatorTaps): Interpolator =>
  wasmInterpolator(taps) ?? referenceInterpolator(taps);
