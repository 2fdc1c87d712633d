/** The kernel's binding. */
import { exp2 } from "../../math/deterministic-math";
import type { Random } from "../../math/random";
import type { ChannelQuantiser } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

const CHUNK = 8192;

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
  const scale = exp2(bits - 1);
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
export function interleaved(block: Planes, frames: number, bytes: 2 | 3 | 4): Uint8Array | undefined {
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
      kernels.encodePcm(x, count, bytes, stride, out + channel * bytes);
    });
    all.set(new Uint8Array(memory, out, count * stride), at * stride);
  }
  return all;
}
