/** Loads the WebAssembly kernels, at once and anywhere: Node, workers, worklets. */
import { fromBase64 } from "../signal/base64";
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

function compiled(): object | undefined {
  try {
    return webAssembly && new webAssembly.Module(fromBase64(WASM_BASE64));
  } catch {
    return undefined; // no SIMD here
  }
}
const module = compiled();

/** Where a table lies in the kernels' memory. */
export interface Region {
  at: number;
  bytes: number;
}

/** Plans a memory: takes one region after the other, each aligned. */
export class MemoryPlan {
  #end = FIRST_FREE;

  take(bytes: number): Region {
    const at = this.#end;
    this.#end = Math.ceil((at + bytes + SLACK_BYTES) / VECTOR_BYTES) * VECTOR_BYTES;
    return { at, bytes };
  }

  floats(count: number): Region {
    return this.take(count * 4);
  }

  doubles(count: number): Region {
    return this.take(count * 8);
  }

  get pages(): number {
    return Math.ceil(this.#end / PAGE_BYTES);
  }
}

export interface LoadedKernels {
  kernels: Kernels;
  memory: ArrayBuffer;
  floats(region: Region): Float32Array;
  doubles(region: Region): Float64Array;
}

/** The kernels with a memory of their own, as planned; `undefined` where WebAssembly or its SIMD is missing. */
export function loadKernels(plan: MemoryPlan): LoadedKernels | undefined {
  if (!module || !webAssembly) return undefined;
  const memory = new webAssembly.Memory({ initial: plan.pages });
  const { exports } = new webAssembly.Instance(module, { env: { memory } });
  return {
    kernels: exports as Kernels,
    memory: memory.buffer,
    floats: ({ at, bytes }) => new Float32Array(memory.buffer, at, bytes / 4),
    doubles: ({ at, bytes }) => new Float64Array(memory.buffer, at, bytes / 8),
  };
}
