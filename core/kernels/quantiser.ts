/**
 * The two steps from floating point to the bytes of whole numbers: by WebAssembly, or their plain twins; the same bits.
 */
import type { Random } from "../math/random";
import { loadKernels, MemoryPlan } from "./wasm";

/** One channel: its generator goes on from block to block. */
export interface ChannelQuantiser {
  next(x: Float32Array): Int32Array;
}

const CHUNK = 8192;

/** @param bits of the whole numbers; `generator` is drawn from twice a sample where it is given, for TPDF dither */
export const channelQuantiser = (bits: 16 | 24 | 32, generator: Random | null): ChannelQuantiser =>
  wasmChannelQuantiser(bits, generator) ?? referenceChannelQuantiser(bits, generator);

export function referenceChannelQuantiser(bits: number, generator: Random | null): ChannelQuantiser {
  const scale = 2 ** (bits - 1);
  const highest = scale - 1;
  return {
    next(x) {
      const out = new Int32Array(x.length);
      for (let i = 0; i < x.length; i++) {
        let value = x[i]! * scale;
        if (generator) {
          value += generator.next();
          value -= generator.next();
        }
        const rounded = Math.floor(value + 0.5);
        out[i] = rounded > highest ? highest : rounded < -scale ? -scale : rounded;
      }
      return out;
    },
  };
}

/** By WebAssembly; `undefined` where there is none. */
export function wasmChannelQuantiser(bits: number, generator: Random | null): ChannelQuantiser | undefined {
  const plan = new MemoryPlan();
  const [input, output, state] = [plan.floats(CHUNK), plan.floats(CHUNK), plan.take(16)];
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, memory, floats } = loaded;
  const x = floats(input);
  const y = new Int32Array(memory, output.at, CHUNK);
  if (generator) new Uint32Array(memory, state.at, 4).set(generator.state);
  const scale = 2 ** (bits - 1);
  return {
    next(given) {
      const out = new Int32Array(given.length);
      for (let at = 0; at < given.length; at += CHUNK) {
        const count = Math.min(CHUNK, given.length - at);
        x.set(given.subarray(at, at + count));
        kernels.quantise(input.at, count, scale, generator ? 1 : 0, state.at, output.at);
        out.set(y.subarray(0, count), at);
      }
      return out;
    },
  };
}

const BYTES = 1 << 18;
let encoder:
  | { kernels: NonNullable<ReturnType<typeof loadKernels>>["kernels"]; memory: ArrayBuffer; x: number; out: number }
  | undefined;

/** Loaded when it is first needed, and kept. */
function encodingKernel() {
  if (encoder) return encoder;
  const plan = new MemoryPlan();
  const [x, out] = [plan.take(BYTES), plan.take(BYTES)];
  const loaded = loadKernels(plan);
  return loaded && (encoder = { kernels: loaded.kernels, memory: loaded.memory, x: x.at, out: out.at });
}

type Planes = readonly (Int32Array | Float32Array)[];

/** Words of 32 bits, of which the lowest `bytes` are kept, interleaved; `undefined` where there is no WebAssembly. */
function interleaved(block: Planes, frames: number, bytes: 2 | 3 | 4): Uint8Array | undefined {
  const ready = encodingKernel();
  if (!ready) return undefined;
  const { kernels, memory, x, out } = ready;
  const stride = block.length * bytes;
  const all = new Uint8Array(frames * stride);
  const most = Math.floor(BYTES / Math.max(stride, 4));
  const words = new Int32Array(memory, x, most);
  for (let at = 0; at < frames; at += most) {
    const count = Math.min(most, frames - at);
    block.forEach((plane, channel) => {
      words.set(new Int32Array(plane.buffer, plane.byteOffset + 4 * at, count));
      kernels.encode(x, count, bytes, stride, out + channel * bytes);
    });
    all.set(new Uint8Array(memory, out, count * stride), at * stride);
  }
  return all;
}

/** Planes of whole numbers in range to interleaved little-endian integers of 2, 3 or 4 bytes. */
export const encodedIntegers = (block: readonly Int32Array[], frames: number, bytes: 2 | 3 | 4): Uint8Array =>
  interleaved(block, frames, bytes) ?? referenceEncoded(block, frames, bytes);

/** Planar float to interleaved little-endian float32, as it is. */
export function encodedFloats(block: readonly Float32Array[], frames: number): Uint8Array {
  const words = () => block.map(({ buffer, byteOffset, length }) => new Int32Array(buffer, byteOffset, length));
  return interleaved(block, frames, 4) ?? referenceEncoded(words(), frames, 4);
}

/** The plain twin. */
export function referenceEncoded(block: readonly Int32Array[], frames: number, bytes: 2 | 3 | 4): Uint8Array {
  const channels = block.length;
  const out = new Uint8Array(frames * channels * bytes);
  for (let c = 0; c < channels; c++) {
    const x = block[c]!;
    for (let i = 0, at = c * bytes; i < frames; i++, at += channels * bytes) {
      const v = x[i]!;
      for (let b = 0; b < bytes; b++) out[at + b] = v >> (8 * b);
    }
  }
  return out;
}
