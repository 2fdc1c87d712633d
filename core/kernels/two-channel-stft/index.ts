/**
 * Short-time Fourier transform of two channels at once, one in the real and one in the imaginary parts, gains on them, and
 * weighted overlap-add. WebAssembly in float32 where there is one, else the reference implementation: the same bits.
 */
import { referenceTwoChannelStft, type TwoChannelStft } from "./reference";
import { wasmTwoChannelStft } from "./wasm";
export * from "./reference";
export * from "./wasm";

/** @param window before and after, the second with `scale`; a power of two of at least 64 */
export const twoChannelStft = (window: Float32Array, scale: number): TwoChannelStft =>
  wasmTwoChannelStft(window, scale) ?? referenceTwoChannelStft(window, scale);
