/** The waveform at four points a sample: by WebAssembly where there is one, by its twin elsewhere, with the same bits. */
import { loadKernels } from "./wasm";

/** Pairs of taps of the 4× scan; so many samples less one are needed before, and so many after. */
export const GRID_PAIRS = 16;
/** Taps a phase of the fine filter. */
export const FINE_TAPS = 256;
/** The most samples in one scan. */
export const GRID_CHUNK = 72;
/** Valid samples needed on both sides of a scan. */
export const GRID_MARGIN = FINE_TAPS / 2 + 3;

export interface InterpolatorTaps {
  /**
   * Taps of the quarter phase split in its even and odd part, and of the half phase: the three-quarter phase mirrors
   * the quarter's.
   */
  even: Float32Array;
  odd: Float32Array;
  middle: Float32Array;
  /** The fine filter by phase, FINE_TAPS each. */
  fine: readonly Float32Array[];
}

/** An interpolator over one stretch of samples at a time. */
export interface Interpolator {
  /** |waveform| ¼, ½ and ¾ sample after each sample of the stretch. */
  readonly quarter: Float32Array;
  readonly half: Float32Array;
  readonly threeQuarter: Float32Array;
  /**
   * Fills the planes for `count` ≤ GRID_CHUNK samples of `x` from `from`, with GRID_MARGIN valid samples around.
   * @returns the largest magnitude in the planes; up to three samples past `count` take part
   */
  scan(x: Float32Array, from: number, count: number): number;
  /** |waveform| at a fine phase after sample `index` (−2 … count + 1) of the stretch last scanned. */
  at(index: number, phase: number): number;
}

/** Rounded up to whole vectors of four. */
const vectors = (count: number): number => (count + 3) & ~3;

export function plainInterpolator(taps: InterpolatorTaps): Interpolator {
  const quarter = new Float32Array(GRID_CHUNK);
  const half = new Float32Array(GRID_CHUNK);
  const threeQuarter = new Float32Array(GRID_CHUNK);
  const fround = Math.fround;
  let samples: Float32Array = new Float32Array(0);
  let start = 0;
  return {
    quarter,
    half,
    threeQuarter,
    scan(x, from, count) {
      samples = x;
      start = from;
      let most = 0;
      for (let i = 0; i < vectors(count); i++) {
        let even = 0;
        let odd = 0;
        let middle = 0;
        for (let t = 0; t < GRID_PAIRS; t++) {
          const a = x[from + i - GRID_PAIRS + 1 + t]!;
          const b = x[from + i + GRID_PAIRS - t]!;
          const sum = fround(a + b);
          even = fround(even + fround(taps.even[t]! * sum));
          odd = fround(odd + fround(taps.odd[t]! * fround(a - b)));
          middle = fround(middle + fround(taps.middle[t]! * sum));
        }
        quarter[i] = Math.abs(fround(even + odd));
        half[i] = Math.abs(middle);
        threeQuarter[i] = Math.abs(fround(even - odd));
        most = Math.max(most, quarter[i]!, half[i]!, threeQuarter[i]!);
      }
      return most;
    },
    at(index, phase) {
      const filter = taps.fine[phase]!;
      const first = start + index - FINE_TAPS / 2 + 1;
      const lanes = [0, 0, 0, 0];
      for (let t = 0; t < FINE_TAPS; t++) {
        lanes[t & 3] = fround(lanes[t & 3]! + fround(samples[first + t]! * filter[t]!));
      }
      return Math.abs(fround(fround(lanes[0]! + lanes[1]!) + fround(lanes[2]! + lanes[3]!)));
    },
  };
}

/** `undefined` where WebAssembly with SIMD is missing. */
export function wasmInterpolator(taps: InterpolatorTaps): Interpolator | undefined {
  const kernels = loadKernels();
  if (!kernels) return undefined;
  const tapsAt = 1024;
  const fineAt = tapsAt + GRID_PAIRS * 3 * 16;
  const inputAt = fineAt + taps.fine.length * FINE_TAPS * 4;
  const inputLength = GRID_CHUNK + 2 * GRID_MARGIN;
  const outAt = inputAt + vectors(inputLength + 4) * 4;
  const table = new Float32Array(kernels.memory, tapsAt, GRID_PAIRS * 12);
  for (let t = 0; t < GRID_PAIRS; t++) {
    table.fill(taps.even[t]!, t * 12, t * 12 + 4);
    table.fill(taps.odd[t]!, t * 12 + 4, t * 12 + 8);
    table.fill(taps.middle[t]!, t * 12 + 8, t * 12 + 12);
  }
  taps.fine.forEach((filter, phase) =>
    new Float32Array(kernels.memory, fineAt + phase * FINE_TAPS * 4, FINE_TAPS).set(filter),
  );
  const input = new Float32Array(kernels.memory, inputAt, inputLength);
  const plane = (index: number) => new Float32Array(kernels.memory, outAt + index * GRID_CHUNK * 4, GRID_CHUNK);
  const firstTap = inputAt + (GRID_MARGIN - FINE_TAPS / 2 + 1) * 4;
  return {
    quarter: plane(0),
    half: plane(1),
    threeQuarter: plane(2),
    scan(x, from, count) {
      input.set(x.subarray(from - GRID_MARGIN, from + count + GRID_MARGIN));
      return kernels.intersampleGrid(inputAt + GRID_MARGIN * 4, vectors(count), tapsAt, outAt, GRID_CHUNK);
    },
    at: (index, phase) => Math.abs(kernels.fineDot(firstTap + index * 4, fineAt + phase * FINE_TAPS * 4)),
  };
}
