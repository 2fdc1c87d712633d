/** Loads the WebAssembly kernels, at once and anywhere: Node, workers, worklets. */
import { WASM_BASE64 } from "./wasm-bytes.generated";

/** The little of WebAssembly that is needed here; the core knows no platform types. */
interface WebAssemblyLike {
  Memory: new (size: { initial: number }) => { buffer: ArrayBuffer };
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: object };
}

export interface Kernels {
  memory: ArrayBuffer;
  intersampleGrid(x: number, count: number, taps: number, out: number, stride: number): number;
  fineDot(x: number, filter: number): number;
}

const PAGES = 2; // 128 KiB: tables and one chunk

const ALPHABET = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

function fromBase64(text: string): Uint8Array {
  const digits = text.replace(/=+$/, "");
  const bytes = new Uint8Array(Math.floor((digits.length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (const digit of digits) {
    held = (held << 6) | ALPHABET.indexOf(digit);
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      bytes[at++] = (held >> bits) & 0xff;
    }
  }
  return bytes;
}

/** The kernels with a memory of their own; `undefined` where WebAssembly or its SIMD is missing. */
export function loadKernels(): Kernels | undefined {
  const wasm = (globalThis as { WebAssembly?: WebAssemblyLike }).WebAssembly;
  if (!wasm) return undefined;
  try {
    const memory = new wasm.Memory({ initial: PAGES });
    const instance = new wasm.Instance(new wasm.Module(fromBase64(WASM_BASE64)), { env: { memory } });
    return { ...(instance.exports as Omit<Kernels, "memory">), memory: memory.buffer };
  } catch {
    return undefined;
  }
}
