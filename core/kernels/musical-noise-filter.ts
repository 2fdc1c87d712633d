/**
 * Turns down what stands alone: noise leaves single bins now and then, which would sing (musical noise), wanted sound
 * fills several around. In float32, by WebAssembly, or its plain twin; the same bits.
 */
import { loadKernels, MemoryPlan, type MemoryRegion } from "./wasm";

/** Frames around are those so far to each side … */
export const MUSICAL_NOISE_REACH = 3;
/** … which is so many with the one in the middle. */
const FRAMES = 2 * MUSICAL_NOISE_REACH + 1;
/** Bins around are those so far to each side: three times three. */
const BINS_REACH = 4;
/** Wanted sound fills this part of the bins around it, or more. */
const FILLED = 0.3;
const SHARE = Math.fround(1 / (FILLED * FRAMES * (2 * BINS_REACH + 1)));
/** Room after a row: what lies around its last bins, and whole vectors. */
const AFTER = 12;

/** Rows have the shape [bins]. Frames join one after the other; those around the one in the middle are looked at. */
export interface MusicalNoiseFilter {
  /** Begins where there is nothing. */
  begin(): void;
  /** The next frame: each bin counts for as much as its pilot has of what is not wanted there, at most 1. */
  join(pilot: Float32Array, noise: Float32Array): void;
  /** After the last frame. */
  joinNothing(): void;
  /** Turns down what stands alone in the pilot of the frame `COMPANY_REACH` before the last that joined. */
  weaken(pilot: Float32Array): void;
}

export const musicalNoiseFilter = (bins: number): MusicalNoiseFilter =>
  wasmMusicalNoiseFilter(bins) ?? referenceMusicalNoiseFilter(bins);

/** By WebAssembly; `undefined` where there is none. */
export function wasmMusicalNoiseFilter(bins: number): MusicalNoiseFilter | undefined {
  const plan = new MemoryPlan();
  const width = BINS_REACH + bins + AFTER;
  const [pilot, noise] = [0, 1].map(() => plan.floats(bins + 3)) as [MemoryRegion, MemoryRegion];
  const [sums, threes] = [0, 1].map(() => plan.floats(width)) as [MemoryRegion, MemoryRegion];
  const ring = plan.floats(FRAMES * width + 3 * FRAMES);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const [pilotAt, noiseAt, ringAt] = [floats(pilot), floats(noise), floats(ring)];
  /** Rows begin at whole vectors. */
  const stride = (width + 3) & ~3;
  let next = 0;
  let steady: Float32Array | undefined;
  const slot = () => {
    const at = next * stride;
    next = (next + 1) % FRAMES;
    return at;
  };
  return {
    begin() {
      ringAt.fill(0);
      next = 0;
    },
    join(row, floor) {
      pilotAt.set(row);
      // A steady noise has one row for all frames.
      if (steady !== floor) noiseAt.set(floor);
      steady = floor;
      kernels.companyFilled(pilot.at, noise.at, bins, ring.at + 4 * (slot() + BINS_REACH));
    },
    joinNothing() {
      const at = slot();
      ringAt.fill(0, at, at + width);
    },
    weaken(row) {
      pilotAt.set(row);
      kernels.companyWeaken(pilot.at, bins, ring.at, FRAMES, 4 * stride, SHARE, sums.at, threes.at);
      row.set(pilotAt.subarray(0, bins));
    },
  };
}

export function referenceMusicalNoiseFilter(bins: number): MusicalNoiseFilter {
  const { fround } = Math;
  const ring = Array.from({ length: FRAMES }, () => new Float32Array(bins));
  let next = 0;
  const slot = () => {
    const row = ring[next]!;
    next = (next + 1) % FRAMES;
    return row;
  };
  /** Sums of the bin and those `step` before and after it, from `reach` before the first to `reach` after the last. */
  const threes = (of: (k: number) => number, step: number, reach: number) => {
    const sums = new Float32Array(bins + 2 * reach);
    for (let i = 0; i < sums.length; i++) {
      const k = i - reach;
      sums[i] = fround(of(k - step) + of(k)) + of(k + step);
    }
    return (k: number) => sums[k + reach] ?? 0;
  };
  return {
    begin() {
      for (const row of ring) row.fill(0);
      next = 0;
    },
    join(row, floor) {
      const filled = slot();
      for (let k = 0; k < bins; k++) {
        const part = fround(row[k]! / floor[k]!);
        filled[k] = part < 1 ? part : 1;
      }
    },
    joinNothing() {
      slot().fill(0);
    },
    weaken(row) {
      const sums = ring[0]!.slice();
      for (const filled of ring.slice(1)) for (let k = 0; k < bins; k++) sums[k]! += filled[k]!;
      const around = threes(
        threes((k) => sums[k] ?? 0, 1, 3),
        3,
        0,
      );
      for (let k = 0; k < bins; k++) {
        const part = Math.min(fround(around(k) * SHARE), 1);
        row[k] = fround(part * part) * row[k]!;
      }
    },
  };
}
