/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
/** Pairs of taps of the 4× scan; so many samples less one are needed before, and so many after. */
export const GRID_PAIRS = 16;

/** Taps a phase of the fine filter. */
export const FINE_TAPS = 256;

/** The most samples in one scan. */
export const GRID_CHUNK = 72;

/** The most samples that can be taken up at once. */
export const TAKEN_MOST = 1056;

/** Valid samples needed on both sides of what is taken up. */
export const GRID_MARGIN = FINE_TAPS / 2 + 4;

/** Samples whose largest magnitude is taken together. */
export const STRETCH = GRID_MARGIN / 2;

/** So many stretches are looked at before what was taken up, and as many behind it. */
const AROUND = GRID_MARGIN / STRETCH;

export const STRETCHES_MOST = Math.ceil(TAKEN_MOST / STRETCH) + 2 * AROUND;

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
  /** |waveform| ¼, ½ and ¾ sample after each sample of the scan. */
  readonly quarter: Float32Array;
  readonly half: Float32Array;
  readonly threeQuarter: Float32Array;
  /** Takes up `count` ≤ TAKEN_MOST samples of `x` from `from`, with GRID_MARGIN valid samples around. */
  take(x: Float32Array, from: number, count: number): void;
  /** Of stretches, from two before what was taken up to two behind it: the largest magnitude and second difference. */
  rangeMaxima(): { largest: Float32Array; bends: Float32Array };
  /**
   * Fills the planes for `count` ≤ GRID_CHUNK samples from sample `from` of those taken up.
   * @returns the largest magnitude in the planes; up to three samples past `count` take part
   */
  scan(from: number, count: number): number;
  /** |waveform| at a fine phase after sample `index` of those taken up. */
  at(index: number, phase: number): number;
}

/** Rounded up to whole vectors of four. */
export const vectors = (count: number): number => (count + 3) & ~3;

export function referenceInterpolator(taps: InterpolatorTaps): Interpolator {
  const quarter = new Float32Array(GRID_CHUNK);
  const half = new Float32Array(GRID_CHUNK);
  const threeQuarter = new Float32Array(GRID_CHUNK);
  const fround = Math.fround;
  let x: Float32Array = new Float32Array(0);
  let [start, taken] = [0, 0];
  return {
    quarter,
    half,
    threeQuarter,
    take(samples, from, count) {
      x = samples;
      [start, taken] = [from, count];
    },
    rangeMaxima() {
      const [first, end] = [start - GRID_MARGIN, start + taken + GRID_MARGIN];
      const [largest, bends] = [new Float32Array(STRETCHES_MOST), new Float32Array(STRETCHES_MOST)];
      for (let i = first; i < end; i++) {
        const s = Math.floor((i - first) / STRETCH);
        const bend = i > first && i + 1 < end ? Math.abs(x[i - 1]! - 2 * x[i]! + x[i + 1]!) : 0;
        largest[s] = Math.max(largest[s]!, Math.abs(x[i]!));
        bends[s] = Math.max(bends[s]!, bend);
      }
      return { largest, bends };
    },
    scan(first, count) {
      const from = start + first;
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
        lanes[t & 3] = fround(lanes[t & 3]! + fround(x[first + t]! * filter[t]!));
      }
      return Math.abs(fround(fround(lanes[0]! + lanes[1]!) + fround(lanes[2]! + lanes[3]!)));
    },
  };
}
