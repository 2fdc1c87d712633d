import { kaiser, kaiserBeta, sinc } from "../math/kaiser";

const HALF_TAPS = 24;
const ATTENUATION_DB = 90;
/** Phases of the interpolator that are kept; between them it is linear. */
const PHASES = 512;

/** Values of a band-limited signal between its samples, to 90 dB; for analysis and listening, not for masters. */
export class SincInterpolation {
  /** Samples to each side that a value is made of. */
  readonly reach: number;
  readonly #table: Float64Array[];

  /** Values will be taken `ratio` samples apart: above 1 the filter is wider, and cuts above half of the lower rate. */
  constructor(readonly ratio: number) {
    const stretch = Math.max(1, ratio);
    const reach = Math.ceil(HALF_TAPS * stretch);
    const beta = kaiserBeta(ATTENUATION_DB);
    this.reach = reach;
    this.#table = Array.from({ length: PHASES + 1 }, (_, phase) =>
      Float64Array.from({ length: 2 * reach }, (_, tap) => {
        const distance = (tap - reach + 1 - phase / PHASES) / stretch;
        return (sinc(distance) * kaiser(distance / HALF_TAPS, beta)) / stretch;
      }),
    );
  }

  /** The value at `position`, in samples of `x`; silence lies around it. Hot. */
  valueAt(x: Float32Array, position: number): number {
    const whole = Math.floor(position);
    const phase = (position - whole) * PHASES;
    const low = this.#table[Math.floor(phase)]!;
    const high = this.#table[Math.floor(phase) + 1]!;
    const part = phase - Math.floor(phase);
    const offset = whole - this.reach + 1;
    const end = Math.min(2 * this.reach, x.length - offset);
    let sum = 0;
    for (let tap = Math.max(0, -offset); tap < end; tap++)
      sum += x[offset + tap]! * (low[tap]! + part * (high[tap]! - low[tap]!));
    return sum;
  }

  /** A whole signal, its values `ratio` samples apart. */
  all(x: Float32Array): Float32Array {
    return Float32Array.from({ length: Math.floor(x.length / this.ratio) }, (_, i) => this.valueAt(x, i * this.ratio));
  }
}
