/** Loads the WebAssembly kernels, at once and anywhere: Node, workers, worklets. */
import { fromBase64 } from "../math/base64";
import { WASM_BASE64 } from "./wasm-bytes.generated";

/** The little of WebAssembly that is needed here; the core knows no platform types. */
interface WebAssemblyLike {
  Memory: new (size: { initial: number }) => { buffer: ArrayBuffer };
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: object };
}

/** The exports of `assembly/`, where each is described. Addresses and strides are in bytes. */
export interface Kernels {
  scout(x: number, groups: number, taps: number, quiet: number, out: number): void;
  intersampleGrid(x: number, count: number, taps: number, out: number, stride: number): number;
  fineDot(x: number, filter: number): number;
  weigh(a: number, b: number, count: number, coefficients: number, state: number, crossed: number, out: number): void;
  levels(x: number, count: number, out: number): void;
  dot(a: number, b: number, count: number): number;
  clean(x: number, count: number): number;
  powerSpectrum(x: number, window: number, m: number, work: number, twiddles: number, power: number): void;
  transform(x: number, window: number, m: number, work: number, twiddles: number): number;
  gather(power: number, count: number, second: number, largest: number): void;
  closeSecond(second: number, count: number, whole: number, sum: number, floor: number): void;
  bandSum(power: number, count: number): number;
  raise(x: number, frames: number, taps: number, pairs: number, out: number): void;
  part(x: number, frames: number, even: number, odd: number): void;
  lower(even: number, odd: number, frames: number, taps: number, pairs: number, out: number): void;
  pair(a: number, b: number, frames: number, work: number): void;
  unpair(work: number, frames: number, a: number, b: number): void;
  sections(work: number, frames: number, coefficients: number, states: number, history: number, count: number): void;
  shortFir(work: number, frames: number, fir: number, taps: number): void;
  follow(values: number, frames: number, settings: number, state: number, groups: number): void;
  copyPairs(from: number, frames: number, to: number): void;
  round(work: number, frames: number): void;
  louderPowers(work: number, frames: number, powers: number): void;
  meanPowers(powers: number, frames: number, share: number, state: number): void;
  addGained(sum: number, work: number, gains: number, frames: number): void;
  bend(x: number, frames: number, drive: number, bias: number, offset: number, scale: number): void;
  limitGains(
    values: number,
    frames: number,
    settings: number,
    state: number,
    stretch: number,
    rest: number,
    first: number,
    second: number,
  ): void;
  applyGains(x: number, frames: number, gains: number): void;
  stretchMaxima(x: number, frames: number, length: number, largest: number, bends: number): void;
  movingMeans(
    work: number,
    frames: number,
    rings: number,
    sums: number,
    next: number,
    length: number,
    passes: number,
  ): number;
  interleave(a: number, b: number, n: number, out: number): void;
  pairPowers(re: number, im: number, n: number, a: number, b: number): void;
  pairGains(re: number, im: number, n: number, a: number, b: number): void;
  addWindowed(a: number, b: number, n: number, window: number, sumA: number, sumB: number): void;
  wantedLeft(
    power: number,
    noise: number,
    bins: number,
    memory: number,
    fresh: number,
    leastRatio: number,
    before: number,
    pilot: number,
    joined: boolean,
  ): void;
  wantedGains(
    earlier: number,
    pilot: number,
    later: number,
    bins: number,
    noise: number,
    least: number,
    sums: number,
    gains: number,
  ): void;
  companyFilled(pilot: number, noise: number, bins: number, filled: number): void;
  companyWeaken(
    pilot: number,
    bins: number,
    ring: number,
    frames: number,
    stride: number,
    share: number,
    sums: number,
    threes: number,
  ): void;
  thin(x: number, count: number, factor: number, taps: number, length: number, out: number): void;
  takeAway(y: number, count: number, factor: number, taps: number, points: number, width: number, x: number): void;
  fourier(re: number, im: number, n: number, spare: number, twiddles: number): void;
  filterSpectrum(
    re: number,
    im: number,
    n: number,
    filterRe: number,
    filterIm: number,
    count: number,
    outRe: number,
    outIm: number,
  ): void;
  foldSpectrum(re: number, im: number, n: number, parts: number): void;
  take(x: number, step: number, count: number, out: number): void;
  between(
    x: number,
    position: number,
    up: number,
    down: number,
    filters: number,
    taps: number,
    count: number,
    out: number,
  ): void;
  quantise(x: number, frames: number, scale: number, dithered: number, state: number, out: number): void;
  encode(x: number, frames: number, bytes: number, stride: number, out: number): void;
  decode(bytes: number, size: number, stride: number, frames: number, out: number): void;
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
    return undefined; // no addresses left: the twins work without
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
