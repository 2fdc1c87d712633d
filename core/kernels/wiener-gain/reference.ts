/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
/** Rows have the shape [bins]. */
export interface WienerGain {
  /** Begins a pass: the frame before counts for as much as the first one itself. */
  begin(power: Float32Array, noise: Float32Array): void;
  /** Estimates the clean PSD of the next frame into `clean`; where `joined`, its geometric mean with what was there. */
  cleanPsd(power: Float32Array, noise: Float32Array, clean: Float32Array, joined: boolean): void;
  /** Gains, at least `least`, by the clean PSDs of three frames. */
  gains(cleanPsds: CleanPsdRows, noise: Float32Array, least: Float32Array, out: Float32Array): void;
}

export interface CleanPsdRows {
  earlier: Float32Array;
  clean: Float32Array;
  later: Float32Array;
}

/** Weight of the frame before in the a-priori ratio, for hops of a quarter frame of 43 ms. */
export const MEMORY = Math.fround(0.92);

export const FRESH = Math.fround(1 - 0.92);

/** The a-priori ratio is not taken for lower: −30 dB. */
export const LEAST_RATIO = Math.fround(1e-3);

export function referenceWienerGain(bins: number): WienerGain {
  const { fround } = Math;
  const before = new Float32Array(bins);
  return {
    begin(first, floor) {
      for (let k = 0; k < bins; k++) before[k] = Math.max(0, first[k]! - floor[k]!);
    },
    cleanPsd(row, floor, into, joined) {
      for (let k = 0; k < bins; k++) {
        const instant = Math.max(fround(row[k]! - floor[k]!), 0);
        const mixed = fround(fround(MEMORY * before[k]!) + fround(FRESH * instant));
        const wanted = Math.max(mixed, fround(LEAST_RATIO * floor[k]!));
        const sum = fround(wanted + floor[k]!);
        const gain = sum > 0 ? fround(wanted / sum) : 1;
        const left = fround(fround(gain * gain) * row[k]!);
        before[k] = left;
        into[k] = joined ? Math.sqrt(fround(left * into[k]!)) : left;
      }
    },
    gains({ earlier, clean, later }, floor, lowest, into) {
      const sums = clean.map((v, k) => fround(fround(2 * v) + earlier[k]!) + later[k]!);
      for (let k = 0; k < bins; k++) {
        const inner = fround(fround(2 * sums[k]!) + sums[Math.max(0, k - 1)]!);
        const power = fround(fround(inner + sums[Math.min(bins - 1, k + 1)]!) * 0.0625);
        const gain = fround(power / fround(power + floor[k]!));
        into[k] = gain > lowest[k]! ? gain : lowest[k]!;
      }
    },
  };
}
