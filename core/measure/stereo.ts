import { finiteOrNull, powerToDb } from "../signal/decibel";
import { integratedLoudness } from "./gating";
import { LoudnessWindows } from "./loudness-windows";
import type { MeasurementDefinition } from "./measurement";
import { HOPS_PER_TICK, hopStart } from "./tick";

export interface StereoFigures {
  /** Loudness of the left side over that of the right; `null` unless stereo, and where a side is silent. */
  balanceLu: number | null;
  /** How much loudness the fold to mono, (L + R)/2 on both sides, loses: 0 for equal sides, 3 for unrelated ones. */
  monoLossLu: number | null;
  /** Energy of the side, (L − R)/2, over that of the middle, (L + R)/2. */
  widthDb: number | null;
}

/** What the two sides of a stereo recording are to each other. */
export const stereo: MeasurementDefinition<StereoFigures> = {
  id: "stereo",
  help: "Balance, loss in mono and width of a stereo recording",
  source: "Resonum: K-weighted energies of the sides; integrated loudness (BS.1770-5) of the fold against the stereo",
  create({ sampleRate, layout }) {
    if (layout.speakers.length !== 2)
      return { tick() {}, result: () => ({ figures: { balanceLu: null, monoLossLu: null, widthDb: null } }) };
    const sides = new LoudnessWindows();
    const mono = new LoudnessWindows();
    let [left, right] = [0, 0];
    let [power, product] = [0, 0];
    return {
      tick({ index, hops, weighted, weightedCross, energy, products }) {
        for (let hop = 0; hop < HOPS_PER_TICK; hop++) power += energy[hop]! + energy[HOPS_PER_TICK + hop]!;
        product += products[0]!;
        for (let hop = 0; hop < hops; hop++) {
          const l = weighted[hop]!;
          const r = weighted[HOPS_PER_TICK + hop]!;
          left += l;
          right += r;
          const number = index * HOPS_PER_TICK + hop;
          const frames = hopStart(number + 1, sampleRate) - hopStart(number, sampleRate);
          sides.push((l + r) / frames);
          // Twice the energy of the middle: it sounds from both sides.
          mono.push(Math.max(0, l + r + 2 * weightedCross[hop]!) / 2 / frames);
        }
      },
      result() {
        const [stereoLufs, monoLufs] = [integratedLoudness(sides.momentary()), integratedLoudness(mono.momentary())];
        return {
          figures: {
            balanceLu: left > 0 && right > 0 ? powerToDb(left / right) : null,
            monoLossLu: finiteOrNull(stereoLufs - monoLufs),
            widthDb: finiteOrNull(powerToDb(Math.max(0, power - 2 * product) / Math.max(0, power + 2 * product))),
          },
        };
      },
    };
  },
};
