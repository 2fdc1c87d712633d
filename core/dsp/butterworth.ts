import type { Biquad } from "../kernels/biquad-cascade";
/** Butterworth filters as second-order sections, by the bilinear transform with the corner put in its place. */
import { sinCosTurns } from "../math/deterministic-math";
import type { Hertz, Planar } from "../audio/units";

/**
 * High- or low-pass of `order` (even), 6 dB an octave and order, −3 dB at the corner (Butterworth 1930).
 * @param corner below half the rate
 */
export function butterworth(kind: "high" | "low", corner: Hertz, order: number, sampleRate: Hertz): Biquad[] {
  const { sin, cos } = sinCosTurns(corner / sampleRate);
  return Array.from({ length: order / 2 }, (_, pair) => {
    // Q of the pole pair, by its angle.
    const q = 0.5 / sinCosTurns((2 * pair + 1) / (4 * order)).sin;
    const alpha = sin / (2 * q);
    const a0 = 1 + alpha;
    const b = kind === "low" ? (1 - cos) / 2 : (1 + cos) / 2;
    const middle = kind === "low" ? 2 * b : -2 * b;
    return [b / a0, middle / a0, b / a0, (-2 * cos) / a0, (1 - alpha) / a0];
  });
}

/** Sections in a row over any number of channels; state in float64. */
export class BiquadFilter {
  readonly #state: Float64Array[];

  constructor(
    readonly sections: readonly Biquad[],
    channels: number,
  ) {
    this.#state = Array.from({ length: channels }, () => new Float64Array(2 * sections.length));
  }

  /** Goes on from what another filter of as many sections remembers. */
  copyFrom(other: BiquadFilter): void {
    this.#state.forEach((state, c) => state.set(other.#state[c]!.subarray(0, state.length)));
  }

  /** In place; shape [channel][frame]. Hot: five multiplications a section and sample. */
  process(block: Planar): void {
    block.forEach((x, c) => {
      const state = this.#state[c]!;
      this.sections.forEach(([b0, b1, b2, a1, a2], section) => {
        let s1 = state[2 * section]!;
        let s2 = state[2 * section + 1]!;
        for (let i = 0; i < x.length; i++) {
          const v = x[i]!;
          const y = b0 * v + s1;
          s1 = b1 * v - a1 * y + s2;
          s2 = b2 * v - a2 * y;
          x[i] = y;
        }
        state[2 * section] = Math.abs(s1) < 1e-30 ? 0 : s1;
        state[2 * section + 1] = Math.abs(s2) < 1e-30 ? 0 : s2;
      });
    });
  }
}

/** A band between two frequencies. */
export interface Band {
  low: Hertz;
  high: Hertz;
}

const BAND_ORDER = 8;
/** Corners nearer to an end of the spectrum than this are left out. */
const LOWEST_CORNER: Hertz = 10;
const HIGHEST_SHARE = 0.49;

/** Only what lies in a band: 48 dB an octave on both sides. */
export function bandPass({ low, high }: Band, channels: number, sampleRate: Hertz): BiquadFilter {
  const top = HIGHEST_SHARE * sampleRate;
  return new BiquadFilter(
    [
      ...(low > LOWEST_CORNER ? butterworth("high", Math.min(low, top), BAND_ORDER, sampleRate) : []),
      ...(high < top ? butterworth("low", Math.max(high, LOWEST_CORNER), BAND_ORDER, sampleRate) : []),
    ],
    channels,
  );
}
