/**
 * Half-band polyphase oversampling around a waveshaper: what it adds is made at a multiple of the rate, doubled step by
 * step (every second tap is 0, the middle one 0.5), and halved again. WebAssembly where there is one, else the reference
 * implementation: the same bits.
 */
import { type Addition, type Oversampler, referenceOversampler, type Steps } from "./reference";
import { wasmOversampler } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const oversampler = (steps: Steps, addition: Addition): Oversampler =>
  wasmOversampler(steps, addition) ?? referenceOversampler(steps, addition);
