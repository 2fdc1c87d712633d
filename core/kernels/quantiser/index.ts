/**
 * Quantisation with TPDF dither, and packing of integers to little-endian bytes. WebAssembly where there is one, else the
 * reference implementation: the same bits.
 */
import type { Random } from "../../math/random";
import { type ChannelQuantiser, referenceChannelQuantiser, referenceEncoded } from "./reference";
import { interleaved, wasmChannelQuantiser } from "./wasm";
export * from "./reference";
export * from "./wasm";

/** @param bits of the whole numbers; `generator` is drawn from twice a sample where it is given, for TPDF dither */
export const channelQuantiser = (bits: 16 | 24 | 32, generator: Random | null): ChannelQuantiser =>
  wasmChannelQuantiser(bits, generator) ?? referenceChannelQuantiser(bits, generator);

/** Planes of whole numbers in range to interleaved little-endian integers of 2, 3 or 4 bytes. */
export const encodedIntegers = (block: readonly Int32Array[], frames: number, bytes: 2 | 3 | 4): Uint8Array =>
  interleaved(block, frames, bytes) ?? referenceEncoded(block, frames, bytes);

/** Planar float to interleaved little-endian float32, as it is. */
export function encodedFloats(block: readonly Float32Array[], frames: number): Uint8Array {
  const words = () => block.map(({ buffer, byteOffset, length }) => new Int32Array(buffer, byteOffset, length));
  return interleaved(block, frames, 4) ?? referenceEncoded(words(), frames, 4);
}
