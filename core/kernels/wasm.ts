/** Loads the WebAssembly kernels, at once and anywhere: Node, workers, worklets. */
import { fromBase64 } from "../math/base64";
import type { Kernels } from "./bindings.generated";
import { WASM_BASE64 } from "./wasm-bytes.generated";

/** The little of WebAssembly that is needed here; the core knows no platform types. */
interface WebAssemblyLike {
  Memory: new (size: { initial: number }) => { buffer: ArrayBuffer };
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: object };
}

const PAGE_BYTES = 65_536;
/** The module's own statics lie below. */
const FIRST_FREE = 1024;
const VECTOR_BYTES = 16;
/** Kernels may read a vector past the end of what they are given. */
const SLACK_BYTES = 64;

const webAssembly = (globalThis as { WebAssembly?: WebAssemblyLike }).WebAssembly;

/** The exports of other compiled code than the kernels. @throws Error where there is no WebAssembly */
export function instanceOf(bytes: Uint8Array, imports: object): object {
  if (!webAssembly) throw new Error("There is no WebAssembly here, which a network needs.");
  return new webAssembly.Instance(new webAssembly.Module(bytes), imports).exports;
}

function compiled(): object | undefined {
  try {
    return webAssembly && new webAssembly.Module(fromBase64(WASM_BASE64));
  } catch {
    return undefined; // no SIMD here
  }
}
const module = compiled();

/** Where a table lies in the kernels' memory. */
export interface MemoryRegion {
  at: number;
  bytes: number;
}

/** Plans room in a memory: takes one region after the other, each aligned. Where they lie is known once it is loaded. */
export class MemoryPlan {
  readonly regions: MemoryRegion[] = [];
  bytes = 0;

  take(bytes: number): MemoryRegion {
    const region = { at: this.bytes, bytes };
    this.regions.push(region);
    this.bytes = Math.ceil((this.bytes + bytes + SLACK_BYTES) / VECTOR_BYTES) * VECTOR_BYTES;
    return region;
  }

  floats(count: number): MemoryRegion {
    return this.take(count * 4);
  }

  doubles(count: number): MemoryRegion {
    return this.take(count * 8);
  }
}

export interface LoadedKernels {
  kernels: Kernels;
  memory: ArrayBuffer;
  floats(region: MemoryRegion): Float32Array;
  doubles(region: MemoryRegion): Float64Array;
}

/**
 * A memory for many plans, filled from the bottom and never used again: a browser reserves gigabytes of addresses for
 * each, and gives a page little more than a hundred of them, all its workers included. It goes when the last of those
 * that work in it has gone.
 */
interface Chunk {
  kernels: Kernels;
  buffer: ArrayBuffer;
  end: number;
}

const CHUNK_BYTES = 4 << 20;
let current: Chunk | undefined;

function chunkOf(wasm: WebAssemblyLike, bytes: number): Chunk {
  const memory = new wasm.Memory({ initial: Math.ceil((FIRST_FREE + bytes) / PAGE_BYTES) });
  const { exports } = new wasm.Instance(module!, { env: { memory } });
  return { kernels: exports as Kernels, buffer: memory.buffer, end: FIRST_FREE };
}

/** Room for a plan, all zeros; what is large gets a memory of its own. */
function roomFor(bytes: number): Chunk | undefined {
  if (!module || !webAssembly) return undefined;
  try {
    if (bytes > CHUNK_BYTES / 4) return chunkOf(webAssembly, bytes);
    if (!current || current.end + bytes > current.buffer.byteLength) current = chunkOf(webAssembly, CHUNK_BYTES);
    return current;
  } catch {
    return undefined; // no addresses left: the reference implementations work without
  }
}

/** The kernels with room of their own, as planned; `undefined` where WebAssembly, its SIMD or memory is missing. */
export function loadKernels(plan: MemoryPlan): LoadedKernels | undefined {
  const chunk = roomFor(plan.bytes);
  if (!chunk) return undefined;
  for (const region of plan.regions) region.at += chunk.end;
  chunk.end += plan.bytes;
  const { kernels, buffer } = chunk;
  return {
    kernels,
    memory: buffer,
    floats: ({ at, bytes }) => new Float32Array(buffer, at, bytes / 4),
    doubles: ({ at, bytes }) => new Float64Array(buffer, at, bytes / 8),
  };
}
