/**
 * Wiener gain with a decision-directed a-priori ratio (Ephraim & Malah 1984), in two passes: the first estimates the clean
 * power spectral density, the second makes gains of it. WebAssembly in float32 where there is one, else the reference
 * implementation: the same bits.
 */
import { referenceWienerGain, type WienerGain } from "./reference";
import { wasmWienerGain } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const wienerGain = (bins: number): WienerGain => wasmWienerGain(bins) ?? referenceWienerGain(bins);
