import { exp10 } from "../math/deterministic-math";
import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { DecimatingSeries } from "./decimating-series";
import { HOPS_PER_BLOCK, pairsOf, BLOCKS_PER_SECOND } from "./analysis-block";

export interface PairCorrelation {
  pair: [string, string];
  correlation: number | null;
  /** The same over the windows in which the weaker channel is within 20 dB of the stronger; `null` where there is none. */
  levelAware: number | null;
  /** Part of the time in which the pair was judged so. */
  judgedPercent: number;
}

export interface CorrelationFigures {
  /** Of a stereo pair; `null` for other layouts and where a side is silent. */
  correlation: number | null;
  /** Every pair of channels, LFE left out. */
  correlationPerPair: PairCorrelation[];
}

/** Ticks of a window: 400 ms. */
const WINDOW_TICKS = 4;
/** How far the weaker channel of a pair may be below the stronger one. */
export const LEVEL_AWARE_DB = 20;
/** Quieter windows of both channels are silence: −80 dBFS. */
const LEAST_MEAN_SQUARE = 1e-8;

/** Σlr / √(Σl²·Σr²); `null` where a side is silent. */
export const correlationOf = (cross: number, left: number, right: number): number | null =>
  left > 0 && right > 0 ? Math.max(-1, Math.min(1, cross / Math.sqrt(left * right))) : null;

/**
 * Correlation of every pair over the whole stream and over time. The curve holds the sums of each window, the powers of
 * all channels and then the products of all pairs: what correlates at which level is read from them at any threshold.
 */
export const correlation: MeasurementDefinition<CorrelationFigures, { channelProducts: TimeSeries }> = {
  id: "correlation",
  help: "Correlation of each pair of channels: whole, where both are at level, and over time",
  source: "Pearson's coefficient without removal of the mean; level-aware: Resonum, 400 ms windows within 20 dB",
  create({ sampleRate, layout }) {
    const { speakers } = layout;
    const pairs = pairsOf(speakers);
    const cross = new Float64Array(pairs.length);
    const power = new Float64Array(speakers.length);
    const nearRatio = exp10(-LEVEL_AWARE_DB / 10);
    const leastSum = (LEAST_MEAN_SQUARE * sampleRate * WINDOW_TICKS) / BLOCKS_PER_SECOND;
    const judged = pairs.map(() => ({ windows: 0, cross: 0, a: 0, b: 0 }));
    const table = new DecimatingSeries(speakers.length + pairs.length);
    const window = new Float64Array(speakers.length + pairs.length);
    let windows = 0;

    const closeWindow = () => {
      const row = table.next();
      for (let i = 0; i < window.length; i++) row[i]! += window[i]!;
      pairs.forEach(([a, b], p) => {
        const [strong, weak] = [Math.max(window[a]!, window[b]!), Math.min(window[a]!, window[b]!)];
        if (strong < leastSum || weak < strong * nearRatio) return;
        const sums = judged[p]!;
        sums.windows++;
        sums.cross += window[speakers.length + p]!;
        sums.a += window[a]!;
        sums.b += window[b]!;
      });
      window.fill(0);
      windows++;
    };

    return {
      block({ index, energy, products }) {
        for (let c = 0; c < speakers.length; c++) {
          let sum = 0;
          for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) sum += energy[c * HOPS_PER_BLOCK + hop]!;
          power[c]! += sum;
          window[c]! += sum;
        }
        for (let p = 0; p < pairs.length; p++) {
          cross[p]! += products[p]!;
          window[speakers.length + p]! += products[p]!;
        }
        if ((index + 1) % WINDOW_TICKS === 0) closeWindow();
      },
      result() {
        const correlationPerPair = pairs.map(([a, b], p): PairCorrelation => {
          const sums = judged[p]!;
          return {
            pair: [speakers[a]!.label, speakers[b]!.label],
            correlation: correlationOf(cross[p]!, power[a]!, power[b]!),
            levelAware: correlationOf(sums.cross, sums.a, sums.b),
            judgedPercent: windows === 0 ? 0 : (100 * sums.windows) / windows,
          };
        });
        return {
          figures: {
            correlation: speakers.length === 2 ? (correlationPerPair[0]?.correlation ?? null) : null,
            correlationPerPair,
          },
          curves: {
            channelProducts: {
              hopSeconds: (WINDOW_TICKS * table.fold) / BLOCKS_PER_SECOND,
              columns: window.length,
              values: table.values(),
            },
          },
        };
      },
    };
  },
};
