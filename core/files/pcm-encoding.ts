import type { PcmEncoding } from "../audio/frame-source";
import { loadKernels, MemoryPlan, type LoadedKernels, type MemoryRegion } from "../kernels/wasm";
import { emptyPlanar, slicePlanar, type Planar } from "../audio/units";

/** Interleaved bytes to planar float, full scale ±1: by the kernel where it knows the encoding. */
export function decodePcm(bytes: Uint8Array, channels: number, encoding: PcmEncoding, into?: Planar): Planar {
  const frames = Math.floor(bytes.length / (channels * encoding.bytes));
  const block = into ? slicePlanar(into, 0, frames) : emptyPlanar(channels, frames);
  if (!decodeByKernel(bytes, encoding, block, frames)) decodePlainly(bytes, encoding, block, frames);
  return block;
}

/** How the kernel names an encoding; `undefined` for those that are rare. */
export function kernelSize({ kind, bytes, bigEndian }: PcmEncoding): number | undefined {
  if (bigEndian || bytes === 1 || bytes === 8) return undefined;
  return kind === "float" ? -bytes : bytes;
}

const KERNEL_BYTES = 1 << 18;
let kernel: { loaded: LoadedKernels; input: MemoryRegion; output: MemoryRegion } | undefined;

/** Loaded when first needed, and kept: pages that only draw have no use for it. */
function decodingKernel() {
  if (kernel) return kernel;
  const plan = new MemoryPlan();
  const input = plan.take(KERNEL_BYTES);
  const output = plan.floats(KERNEL_BYTES / 2);
  const loaded = loadKernels(plan);
  return loaded && (kernel = { loaded, input, output });
}

/** @returns false for encodings that are rare, and where there is no WebAssembly */
function decodeByKernel(bytes: Uint8Array, encoding: PcmEncoding, block: Planar, frames: number): boolean {
  const size = kernelSize(encoding);
  const ready = size === undefined ? undefined : decodingKernel();
  if (size === undefined || !ready) return false;
  const { loaded, input, output } = ready;
  const channels = block.length;
  const stride = channels * encoding.bytes;
  const memory = new Uint8Array(loaded.memory, input.at, KERNEL_BYTES);
  const decoded = loaded.floats(output);
  const most = Math.floor(KERNEL_BYTES / stride);
  for (let frame = 0; frame < frames; frame += most) {
    const count = Math.min(most, frames - frame);
    memory.set(bytes.subarray(frame * stride, (frame + count) * stride));
    for (let c = 0; c < channels; c++) {
      loaded.kernels.decodePcm(input.at + c * encoding.bytes, size, stride, count, output.at);
      block[c]!.set(decoded.subarray(0, count), frame);
    }
  }
  return true;
}

/** The kernel's reference implementation, and what it does not know. */
export function decodePlainly(bytes: Uint8Array, encoding: PcmEncoding, block: Planar, frames: number): void {
  const channels = block.length;
  const stride = channels * encoding.bytes;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = !encoding.bigEndian;
  for (let c = 0; c < channels; c++) {
    const out = block[c]!;
    let at = c * encoding.bytes;
    if (encoding.kind === "float") {
      if (encoding.bytes === 4) for (let i = 0; i < frames; i++, at += stride) out[i] = view.getFloat32(at, little);
      else for (let i = 0; i < frames; i++, at += stride) out[i] = view.getFloat64(at, little);
    } else if (encoding.bytes === 1) {
      const offset = encoding.kind === "unsigned" ? 128 : 0;
      for (let i = 0; i < frames; i++, at += stride) {
        out[i] = (offset ? bytes[at]! - offset : (bytes[at]! << 24) >> 24) / 128;
      }
    } else if (encoding.bytes === 2) {
      for (let i = 0; i < frames; i++, at += stride) out[i] = view.getInt16(at, little) / 32768;
    } else if (encoding.bytes === 3) {
      const [high, low] = little ? [2, 0] : [0, 2];
      for (let i = 0; i < frames; i++, at += stride) {
        out[i] = ((bytes[at + high]! << 24) | (bytes[at + 1]! << 16) | (bytes[at + low]! << 8)) / 2147483648;
      }
    } else {
      for (let i = 0; i < frames; i++, at += stride) out[i] = view.getInt32(at, little) / 2147483648;
    }
  }
}
