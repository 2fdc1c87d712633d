import { HOPS_PER_BLOCK, BAND_COUNT, type AnalysisBlock } from "./analysis-block";

/** Tables of a tick that hold a number of float64 each. */
const TABLES = [
  "weighted",
  "weightedCross",
  "energy",
  "sum",
  "smallest",
  "largest",
  "truePeak",
  "truePeakFrame",
  "products",
] as const;

type Tables = Record<(typeof TABLES)[number], Float64Array>;
type Heads = Pick<AnalysisBlock, "index" | "start" | "frames" | "hops" | "hasBands">;
type Events = Pick<AnalysisBlock, "zeroRuns" | "clippedRuns" | "nonFinite">;

/** Ticks in a row as plain data, in few and large tables: they go from thread to thread at the price of a copy. */
export interface AnalysisBlockRecord {
  heads: Heads[];
  /** All tables of all ticks, one after the other. */
  numbers: Float64Array;
  bands: Float32Array;
  /** Of the ticks that have any, by their place in the record. */
  events: Record<number, Events>;
}

const lengthsOf = (channels: number, pairs: number): number[] => {
  const perHop = channels * HOPS_PER_BLOCK;
  return [perHop, HOPS_PER_BLOCK, perHop, channels, channels, channels, channels, channels, pairs];
};
const stride = (lengths: readonly number[]): number => lengths.reduce((sum, length) => sum + length, 0);

/** Keeps up to `most` ticks. */
export class AnalysisBlockRecorder {
  readonly record: AnalysisBlockRecord;
  readonly #stride: number;
  readonly #bands: number;

  constructor(channels: number, pairs: number, most: number) {
    this.#stride = stride(lengthsOf(channels, pairs));
    this.#bands = channels * BAND_COUNT;
    this.record = {
      heads: [],
      numbers: new Float64Array(most * this.#stride),
      bands: new Float32Array(most * this.#bands),
      events: {},
    };
  }

  add(tick: AnalysisBlock): void {
    const { heads, numbers, bands, events } = this.record;
    const place = heads.length;
    const { index, start, frames, hops, hasBands, zeroRuns, clippedRuns, nonFinite } = tick;
    heads.push({ index, start, frames, hops, hasBands });
    let at = place * this.#stride;
    for (const table of TABLES) {
      numbers.set(tick[table], at);
      at += tick[table].length;
    }
    bands.set(tick.bands, place * this.#bands);
    if (zeroRuns.length + clippedRuns.length + nonFinite.count > 0)
      events[place] = { zeroRuns, clippedRuns, nonFinite };
  }
}

const NOTHING: Events = { zeroRuns: [], clippedRuns: [], nonFinite: { count: 0, first: [] } };

/** The ticks of a record, one after the other: each in the same tables, valid until the next. */
export function* blocksOf(record: AnalysisBlockRecord, channels: number, pairs: number): Generator<AnalysisBlock> {
  const lengths = lengthsOf(channels, pairs);
  const step = stride(lengths);
  const bands = channels * BAND_COUNT;
  const tables = Object.fromEntries(TABLES.map((table, i) => [table, new Float64Array(lengths[i]!)])) as Tables;
  const tick: AnalysisBlock = {
    index: 0,
    start: 0,
    frames: 0,
    hops: 0,
    hasBands: false,
    ...tables,
    bands: new Float32Array(bands),
    ...NOTHING,
  };
  for (const [place, head] of record.heads.entries()) {
    let at = place * step;
    for (const table of TABLES) {
      const numbers = tick[table];
      for (let i = 0; i < numbers.length; i++) numbers[i] = record.numbers[at++]!;
    }
    for (let i = 0; i < bands; i++) tick.bands[i] = record.bands[place * bands + i]!;
    yield Object.assign(tick, head, record.events[place] ?? NOTHING);
  }
}
