/**
 * Attenuates isolated time-frequency bins, the cause of musical noise: noise leaves single bins now and then, wanted sound
 * fills several around. WebAssembly in float32 where there is one, else the reference implementation: the same bits.
 */
import { type MusicalNoiseFilter, referenceMusicalNoiseFilter } from "./reference";
import { wasmMusicalNoiseFilter } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const musicalNoiseFilter = (bins: number): MusicalNoiseFilter =>
  wasmMusicalNoiseFilter(bins) ?? referenceMusicalNoiseFilter(bins);
