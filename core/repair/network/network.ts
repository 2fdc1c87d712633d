/**
 * A voice told from all else by a trained network: RNNoise (Valin 2018, BSD licence) as WebAssembly. It works at
 * 48 kHz, on one channel, in frames of 10 ms, and gives what it takes for the voice one frame late.
 */
import { instanceOf } from "../../kernels/wasm";
import { fromBase64 } from "../../math/base64";

export const NETWORK_RATE = 48_000;
const FRAME = 480;
/** Its samples are those of 16 bits. */
const FULL_SCALE = 32_768;

/** Named by a tool when it was compiled. */
interface Compiled {
  c: { buffer: ArrayBuffer };
  /** Sets up its statics. */
  d(): void;
  create(model: number): number;
  malloc(bytes: number): number;
  destroy(state: number): void;
  processFrame(state: number, from: number, to: number): number;
}

let network: Compiled | undefined;
/** Where frames are handed over, in its memory. */
let place: number | undefined;

/** Loads the network, once. @throws Error where there is no WebAssembly */
export async function loadNetwork(): Promise<void> {
  if (network) return;
  const { NETWORK_BASE64 } = await import("./network-bytes.generated");
  let made: Compiled | undefined = undefined;
  const imports = {
    a: () => 0, // no more memory: it needs none beyond what it begins with
    b: (to: number, from: number, count: number) => {
      new Uint8Array(made!.c.buffer).copyWithin(to, from, from + count);
      return to;
    },
  };
  const exports = instanceOf(fromBase64(NETWORK_BASE64), { a: imports }) as Record<string, unknown>;
  made = {
    c: exports["c"],
    d: exports["d"],
    create: exports["f"],
    malloc: exports["g"],
    destroy: exports["h"],
    processFrame: exports["j"],
  } as Compiled;
  made.d();
  network = made;
}

/** What the network takes for the voice in a signal at 48 kHz; as long, and in time with it. */
export function voiceIn(x: Float32Array): Float32Array {
  if (!network) throw new Error("The network has to be loaded first.");
  const { c: memory, create, malloc, destroy, processFrame } = network;
  const state = create(0);
  const at = (place ??= malloc(4 * FRAME));
  const out = new Float32Array(x.length);
  for (let from = 0; from < x.length + FRAME; from += FRAME) {
    const frame = new Float32Array(memory.buffer, at, FRAME);
    for (let i = 0; i < FRAME; i++) {
      const v = x[from + i] ?? 0;
      frame[i] = Number.isFinite(v) ? FULL_SCALE * v : 0;
    }
    processFrame(state, at, at);
    // One frame late.
    for (let i = 0, to = from - FRAME; i < FRAME; i++, to++)
      if (to >= 0 && to < out.length) out[to] = frame[i]! / FULL_SCALE;
  }
  destroy(state);
  return out;
}
