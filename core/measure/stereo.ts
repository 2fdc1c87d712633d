import { finiteOrNull, powerToDb } from "../audio/decibel";
import { integratedLoudness } from "./gating";
import type { MeasurementDefinition } from "./measurement";
import { GrowableArray, SlidingSum } from "./decimating-series";
import { HOPS_PER_BLOCK } from "./analysis-block";

export interface StereoFigures {
  /** Loudness of the left side over that of the right; `null` unless stereo, and where a side is silent. */
  balanceLu: number | null;
  /** How much loudness the fold to mono, (L + R)/2 on both sides, loses: 0 for equal sides, 3 for unrelated ones. */
  monoLossLu: number | null;
  /** Energy of the side, (L − R)/2, over that of the middle, (L + R)/2. */
  widthDb: number | null;
}

/** Ticks of the 400 ms blocks that are gated. */
const BLOCK_TICKS = 4;

/** Mean squares of 400 ms blocks, each 100 ms. */
class Blocks {
  readonly #sum = new SlidingSum(BLOCK_TICKS);
  readonly #series = new GrowableArray();

  push(meanSquare: number): void {
    this.#sum.push(meanSquare);
    if (this.#sum.full) this.#series.push(this.#sum.sum / BLOCK_TICKS);
  }

  get lufs(): number {
    return integratedLoudness(this.#series.values());
  }
}

/** What the two sides of a stereo recording are to each other. */
export const stereo: MeasurementDefinition<StereoFigures> = {
  id: "stereo",
  help: "Balance, loss in mono and width of a stereo recording",
  source: "Resonum: K-weighted energies of the sides; integrated loudness (BS.1770-5) of the fold against the stereo",
  create({ layout }) {
    if (layout.speakers.length !== 2)
      return { result: () => ({ figures: { balanceLu: null, monoLossLu: null, widthDb: null } }) };
    const sides = new Blocks();
    const mono = new Blocks();
    let [left, right] = [0, 0];
    let [power, product] = [0, 0];
    return {
      block({ frames, hops, weighted, weightedCross, energy, products }) {
        for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) power += energy[hop]! + energy[HOPS_PER_BLOCK + hop]!;
        product += products[0]!;
        if (hops < HOPS_PER_BLOCK) return;
        let [l, r, cross] = [0, 0, 0];
        for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) {
          l += weighted[hop]!;
          r += weighted[HOPS_PER_BLOCK + hop]!;
          cross += weightedCross[hop]!;
        }
        left += l;
        right += r;
        sides.push((l + r) / frames);
        // Twice the energy of the middle: it sounds from both sides.
        mono.push(Math.max(0, l + r + 2 * cross) / 2 / frames);
      },
      result() {
        return {
          figures: {
            balanceLu: left > 0 && right > 0 ? powerToDb(left / right) : null,
            monoLossLu: finiteOrNull(sides.lufs - mono.lufs),
            widthDb: finiteOrNull(powerToDb(Math.max(0, power - 2 * product) / Math.max(0, power + 2 * product))),
          },
        };
      },
    };
  },
};
