/**
 * A tick is 100 ms of a recording, ten hops of 10 ms: what all measurements are made of. Boundaries are rounded from
 * the start of the recording, so they depend on nothing but the rate.
 */
import { exp } from "../math/deterministic-math";
import type { Frames, Hertz, Seconds } from "../audio/units";

export const BLOCKS_PER_SECOND = 10;
/** Hops of a tick: 10 ms is as fine as EBU Tech 3341 cases 13 and 14 need for their maxima. */
export const HOPS_PER_BLOCK = 10;
/** Ticks from one spectrum to the next. */
export const SPECTRUM_BLOCKS = 2;
export const SPECTRA_PER_SECOND = BLOCKS_PER_SECOND / SPECTRUM_BLOCKS;
export const HOPS_PER_SECOND = BLOCKS_PER_SECOND * HOPS_PER_BLOCK;
/** Parts of a tick in which floors and onsets are looked for: 50 ms. */
export const HOPS_PER_PART = 5;
export const PARTS_PER_BLOCK = HOPS_PER_BLOCK / HOPS_PER_PART;
export const PART_SECONDS: Seconds = HOPS_PER_PART / HOPS_PER_SECOND;

export const hopStart = (hop: number, sampleRate: Hertz): Frames => Math.round((hop * sampleRate) / HOPS_PER_SECOND);
export const blockStart = (tick: number, sampleRate: Hertz): Frames => hopStart(tick * HOPS_PER_BLOCK, sampleRate);

/** A stretch of samples, in frames of the recording. */
export interface Run {
  start: Frames;
  length: Frames;
}

/** A stretch of clipped samples of one channel. */
export interface ClippedRun extends Run {
  channel: number;
  /** Where the waveform stands: its magnitude and sign. */
  level: number;
}

/** What the arithmetic tells of a tick. Serialisable; tables are valid until the next tick, unless copied. */
export interface AnalysisBlock {
  index: number;
  start: Frames;
  /** Fewer than usual only in the last tick. */
  frames: Frames;
  /** Whole hops in it. */
  hops: number;
  /** Σz² of the K-weighted samples: [channel][hop]. */
  weighted: Float64Array;
  /** Σz₀·z₁ of the first two channels: [hop]; 0 unless there are just two. */
  weightedCross: Float64Array;
  /** Σx²: [channel][hop], a last hop may be shorter. */
  energy: Float64Array;
  /** Σx: [channel]. */
  sum: Float64Array;
  smallest: Float64Array;
  largest: Float64Array;
  /** Highest magnitude of the waveform: [channel]; exact where it is the highest of its second, else at least reached. */
  truePeak: Float64Array;
  truePeakFrame: Float64Array;
  /** Σx·y of the pairs of channels, as in `pairsOf`. */
  products: Float64Array;
  /** Mean square in bands, of the 170 ms up to the tick's end: [channel][band] as in `BAND_EDGES`. */
  bands: Float32Array;
  /** Whether there are spectra: in every second tick. */
  hasBands: boolean;
  /** Exact zeros in all channels: runs of 10 ms or more, and whatever touches an edge of the tick. */
  zeroRuns: Run[];
  clippedRuns: ClippedRun[];
  /** Samples that were no numbers. */
  nonFinite: { count: number; first: { channel: number; frame: Frames }[] };
}

/** All pairs of channels without LFE. */
export function pairsOf(speakers: readonly { lfe: boolean }[]): (readonly [number, number])[] {
  const used = speakers.flatMap((speaker, index) => (speaker.lfe ? [] : [index]));
  return used.flatMap((a, i) => used.slice(i + 1).map((b) => [a, b] as const));
}

const LN2 = 0.6931471805599453;

/** Bands of half an octave in which energies are followed over time: 22 Hz to 22 kHz. */
export const BAND_COUNT = 20;
/** Edges of the bands, one more than there are bands. */
export const BAND_EDGES: readonly Hertz[] = Array.from(
  { length: BAND_COUNT + 1 },
  (_, band) => 1000 * exp(((band - 11) * LN2) / 2),
);

/** Long-term spectra of a segment: |X|² of each channel and bin. */
export interface SegmentSpectra {
  /** Spectra that were added up. */
  count: number;
  /** Whole seconds among them. */
  seconds: number;
  points: number;
  sums: Float32Array[];
  largest: Float32Array[];
  /** Smallest sum over a second. */
  floors: Float32Array[];
}
