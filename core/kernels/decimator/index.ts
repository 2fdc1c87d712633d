/**
 * Polyphase FIR decimation to every n-th sample, and interpolation back. WebAssembly with SIMD where there is one, else
 * the reference implementation: the same bits.
 */
import { type DecimatingFilter, type Decimator, referenceDecimator } from "./reference";
import { wasmDecimator } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const decimator = (filter: DecimatingFilter): Decimator => wasmDecimator(filter) ?? referenceDecimator(filter);
