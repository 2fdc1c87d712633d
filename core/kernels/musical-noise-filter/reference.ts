/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
/** Frames around are those so far to each side … */
export const MUSICAL_NOISE_REACH = 3;

/** … which is so many with the one in the middle. */
export const FRAMES = 2 * MUSICAL_NOISE_REACH + 1;

/** Bins around are those so far to each side: three times three. */
export const BINS_REACH = 4;

/** Wanted sound fills this part of the bins around it, or more. */
const FILLED = 0.3;

export const SHARE = Math.fround(1 / (FILLED * FRAMES * (2 * BINS_REACH + 1)));

/** Rows have the shape [bins]. Frames join one after the other; those around the one in the middle are looked at. */
export interface MusicalNoiseFilter {
  /** Begins where there is nothing. */
  begin(): void;
  /** The next frame: each bin counts by its clean PSD against the noise there, at most 1. */
  push(clean: Float32Array, noise: Float32Array): void;
  /** After the last frame. */
  pushSilence(): void;
  /** Attenuates isolated bins in the clean PSD of the frame `MUSICAL_NOISE_REACH` before the last that joined. */
  attenuate(clean: Float32Array): void;
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
    push(row, floor) {
      const filled = slot();
      for (let k = 0; k < bins; k++) {
        const part = fround(row[k]! / floor[k]!);
        filled[k] = part < 1 ? part : 1;
      }
    },
    pushSilence() {
      slot().fill(0);
    },
    attenuate(row) {
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
