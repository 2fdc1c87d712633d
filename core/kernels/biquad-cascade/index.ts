/**
 * Cascaded biquads (transposed direct form II, float64) and a short FIR filter over two channels at once. WebAssembly with
 * SIMD where there is one, else the reference implementation: the same bits.
 */
import { type Biquad, referenceCascade, type TwoChannelCascade } from "./reference";
import { wasmCascade } from "./wasm";
export * from "./reference";
export * from "./wasm";

/** @param fir taps, first the newest */
export const twoChannelCascade = (sections: readonly Biquad[], fir: Float64Array): TwoChannelCascade =>
  wasmCascade(sections, fir) ?? referenceCascade(sections, fir);
