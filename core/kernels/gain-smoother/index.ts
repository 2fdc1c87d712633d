/**
 * A gain computer with static curve, attack and release, sample by sample (Giannoulis, Massberg & Reiss 2012: the smooth
 * decoupled peak detector). WebAssembly where there is one, else the reference implementation: the same bits.
 */
import { type GainSmoother, referenceGainSmoother } from "./reference";
import { wasmGainSmoother } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const gainSmoother: GainSmoother = wasmGainSmoother() ?? referenceGainSmoother;
