/**
 * From samples to ticks: the only place where measurements look at samples. Segments of 20 s can be analysed apart
 * and in any order; one pass goes through the same segments, so that both give the same bits. To make that true the
 * weighting filters start each segment from rest, half a second before it: what they forget by that is below 1e-20.
 */
import { analysisKernels, type AnalysisKernels, type Bank } from "../kernels/analysis";
import { HANN_ENERGY, spectrumPoints } from "../kernels/spectrum/tables";
import { PEAK_MARGIN, raiseToHighest, type Peak } from "../dsp/intersample-peak";
import { decodePcm, decodePlainly, kernelSize } from "../files/pcm-encoding";
import { type PcmEncoding } from "../audio/frame-source";
import type { Frames, Planar } from "../audio/units";
import { clippedRuns } from "./clipping";
import { zeroRuns, DIGITAL_SILENCE_SECONDS } from "./digital-silence";
import { stateSpaceWeighting } from "./k-weighting";
import type { StreamFormat } from "../audio/stream-format";
import {
  BAND_COUNT,
  BAND_EDGES,
  HOPS_PER_BLOCK,
  hopStart,
  pairsOf,
  SPECTRA_PER_SECOND,
  SPECTRUM_BLOCKS,
  BLOCKS_PER_SECOND,
  blockStart,
  type SegmentSpectra,
  type AnalysisBlock,
} from "./analysis-block";

/** Ticks of a segment: 20 s, so that even a song has several. */
export const SEGMENT_BLOCKS = 20 * BLOCKS_PER_SECOND;
/** Ticks before a segment in which its filters come to life. */
const WARM_TICKS = 5;
/** Places of samples that are no numbers, kept a tick. */
const NON_FINITE_PLACES = 8;

/** The first frame that an analysis of segment `segment` must be given. */
export const segmentLead = (segment: number, sampleRate: number): Frames =>
  segment === 0 ? 0 : blockStart(segment * SEGMENT_BLOCKS - WARM_TICKS, sampleRate);
/** The frame after the last one that it must be given; the recording may end before. */
export const segmentEnd = (segment: number, sampleRate: number): Frames =>
  blockStart((segment + 1) * SEGMENT_BLOCKS, sampleRate) + PEAK_MARGIN;

export interface AnalysisOutput {
  block(tick: AnalysisBlock): void;
  segment(spectra: SegmentSpectra): void;
}

export class Analysis {
  readonly #kernels: AnalysisKernels;
  readonly #channels: number;
  readonly #pairs;
  readonly #points: number;
  readonly #bins: readonly number[];
  readonly #history: Frames;
  readonly #tick: AnalysisBlock;
  readonly #peak: Peak = { level: 0, frame: 0 };
  /** Highest of each channel in the segment so far. */
  readonly #segmentPeaks: Float64Array;
  /** Highest of all channels in the second so far. */
  #secondPeak = 0;
  readonly #leastZeros: number;
  /** Highest sample of each channel in the segment so far. */
  readonly #highest: Float64Array;
  readonly #firstTick: number;
  readonly #segments: number;
  #index: number;
  /** Valid samples in the buffers; those before the tick are history. */
  #filled: Frames;
  #bank: Bank = 0;
  #spectra = 0;
  #nonFinite: AnalysisBlock["nonFinite"] = { count: 0, first: [] };

  /**
   * @param segment the first of the recording's segments that is wanted; frames begin at `segmentLead` of it
   * @param segments how many are wanted; frames end at `segmentEnd` of the last, or with the recording
   */
  constructor(
    readonly format: StreamFormat,
    readonly output: AnalysisOutput,
    segment = 0,
    segments = Infinity,
  ) {
    this.#segments = segments;
    const { sampleRate, layout } = format;
    const channels = (this.#channels = layout.speakers.length);
    const longest = Math.ceil(sampleRate / BLOCKS_PER_SECOND) + 1;
    this.#points = spectrumPoints(sampleRate);
    this.#history = Math.max(PEAK_MARGIN, this.#points);
    this.#filled = this.#history;
    this.#kernels = analysisKernels({
      channels,
      samples: this.#history + longest + 2 * PEAK_MARGIN,
      points: this.#points,
      weighting: stateSpaceWeighting(sampleRate),
    });
    this.#pairs = pairsOf(layout.speakers);
    this.#bins = BAND_EDGES.map((edge) =>
      Math.min(this.#points / 2 + 1, Math.max(1, Math.ceil((edge * this.#points) / sampleRate))),
    );
    this.#leastZeros = Math.ceil(DIGITAL_SILENCE_SECONDS * sampleRate);
    this.#highest = new Float64Array(channels);
    this.#firstTick = segment * SEGMENT_BLOCKS;
    this.#index = segment === 0 ? 0 : this.#firstTick - WARM_TICKS;
    if (this.#index < this.#firstTick) this.#bank = this.#bankOf(segment - 1);
    this.#segmentPeaks = new Float64Array(channels);
    this.#tick = {
      index: 0,
      start: 0,
      frames: 0,
      hops: 0,
      weighted: new Float64Array(channels * HOPS_PER_BLOCK),
      weightedCross: new Float64Array(HOPS_PER_BLOCK),
      energy: new Float64Array(channels * HOPS_PER_BLOCK),
      sum: new Float64Array(channels),
      smallest: new Float64Array(channels),
      largest: new Float64Array(channels),
      truePeak: new Float64Array(channels),
      truePeakFrame: new Float64Array(channels),
      products: new Float64Array(this.#pairs.length),
      bands: new Float32Array(channels * BAND_COUNT),
      hasBands: false,
      zeroRuns: [],
      clippedRuns: [],
      nonFinite: this.#nonFinite,
    };
  }

  #bankOf = (segment: number): Bank => (segment % 2 === 0 ? 0 : 1);

  /** Takes the first `frames` frames of `block`, shape [channel][frame]. The block is only read. */
  process(block: Planar, frames: Frames): void {
    this.#take(frames, (at, from, count) => {
      this.#kernels.samples.forEach((samples, c) => samples.set(block[c]!.subarray(from, from + count), at));
      return block;
    });
  }

  /** Takes interleaved samples as they lie in a file: they are decoded to where they are worked on. */
  processEncoded(bytes: Uint8Array, encoding: PcmEncoding): void {
    const channels = this.#channels;
    const stride = channels * encoding.bytes;
    const size = kernelSize(encoding);
    this.#take(Math.floor(bytes.length / stride), (at, from, count) => {
      const part = bytes.subarray(from * stride, (from + count) * stride);
      const decode = (into: Planar) => decodePlainly(part, encoding, into, count);
      if (size === undefined || !this.#kernels.decodePcm(part, size, at, count))
        decode(this.#kernels.samples.map((samples) => samples.subarray(at, at + count)));
      return () => decodePcm(bytes, channels, encoding);
    });
  }

  /**
   * Takes `frames` frames, a stretch at a time: `put` brings `count` of them, from the one numbered `from`, to `at` of
   * the kernels' samples. It returns what it took them from, for what is not a number.
   */
  #take(frames: Frames, put: (at: number, from: Frames, count: Frames) => Planar | (() => Planar)): void {
    let taken = 0;
    while (taken < frames) {
      const needed = this.#history + this.#framesOfTick() + PEAK_MARGIN;
      const count = Math.min(frames - taken, needed - this.#filled);
      const given = put(this.#filled, taken, count);
      for (let c = 0; c < this.#channels; c++) {
        if (this.#kernels.replaceNonFinite(c, this.#filled, count) === 0) continue;
        this.#noteNonFinite((typeof given === "function" ? given() : given)[c]!, c, taken, count);
      }
      this.#filled += count;
      taken += count;
      if (this.#filled === needed) this.#closeTick(this.#framesOfTick());
    }
  }

  /** The recording has ended: what lacks its margin is followed by silence. */
  finish(): void {
    const end = this.#filled;
    for (const samples of this.#kernels.samples) samples.fill(0, end);
    let rest = end - this.#history;
    while (rest > 0) {
      const frames = Math.min(rest, this.#framesOfTick());
      this.#closeTick(frames);
      rest -= frames;
    }
    if (this.#index > this.#firstTick && this.#index % SEGMENT_BLOCKS !== 0) this.#closeSegment();
  }

  #framesOfTick(): Frames {
    const { sampleRate } = this.format;
    return blockStart(this.#index + 1, sampleRate) - blockStart(this.#index, sampleRate);
  }

  #noteNonFinite(x: Float32Array, channel: number, from: number, count: number): void {
    const noted = this.#nonFinite;
    const { sampleRate } = this.format;
    const first = blockStart(this.#index, sampleRate) + this.#filled - this.#history;
    // What lies before the first segment, or after the last, belongs to another analysis.
    const start = blockStart(this.#firstTick, sampleRate);
    const end = blockStart((this.#segments + this.#firstTick / SEGMENT_BLOCKS) * SEGMENT_BLOCKS, sampleRate);
    for (let i = 0; i < count; i++) {
      const v = x[from + i]!;
      const frame = first + i;
      if (v - v === 0 || frame < start || frame >= end) continue;
      noted.count++;
      if (noted.first.length < NON_FINITE_PLACES) noted.first.push({ channel, frame });
    }
  }

  #closeTick(frames: Frames): void {
    if (this.#index >= this.#firstTick) this.#analyse(frames);
    else this.#weigh(this.#bankOf(this.#firstTick / SEGMENT_BLOCKS), frames);
    const { samples } = this.#kernels;
    for (const channel of samples) channel.copyWithin(0, frames, this.#filled);
    this.#filled -= frames;
    this.#index++;
    if (this.#index % SEGMENT_BLOCKS === 0) {
      if (this.#index > this.#firstTick) this.#closeSegment();
      this.#bank = this.#bankOf(this.#index / SEGMENT_BLOCKS);
      this.#kernels.rest(this.#bankOf(this.#index / SEGMENT_BLOCKS + 1));
    }
  }

  #closeSegment(): void {
    if (this.#spectra % SPECTRA_PER_SECOND > 0) this.#kernels.closeSpectrumSecond(false);
    const { sums, largest, floors } = this.#kernels;
    const copies = (tables: readonly Float32Array[]) => tables.map((table) => table.slice());
    this.output.segment({
      count: this.#spectra,
      seconds: Math.floor(this.#spectra / SPECTRA_PER_SECOND),
      points: this.#points,
      sums: copies(sums),
      largest: copies(largest),
      floors: copies(floors),
    });
    this.#kernels.clearSpectra();
    this.#spectra = 0;
    this.#highest.fill(0);
    this.#segmentPeaks.fill(0);
  }

  #analyse(frames: Frames): void {
    const tick = this.#tick;
    const { sampleRate } = this.format;
    tick.index = this.#index;
    tick.start = blockStart(this.#index, sampleRate);
    tick.frames = frames;
    tick.nonFinite = this.#nonFinite;
    this.#nonFinite = { count: 0, first: [] };
    this.#weigh(this.#bank, frames);
    // The filters of the segment that comes next.
    if (SEGMENT_BLOCKS - (this.#index % SEGMENT_BLOCKS) <= WARM_TICKS) this.#warm(frames);
    this.#levels(frames);
    this.#truePeaks(frames);
    this.#pairs.forEach(([a, b], pair) => {
      tick.products[pair] = this.#kernels.dotProduct(a, b, this.#history, frames);
    });
    this.#spectrum(frames);
    tick.zeroRuns = zeroRuns(this.#kernels.samples, this.#history, frames, this.#leastZeros, tick);
    tick.clippedRuns = clippedRuns(this.#kernels.samples, this.#history, frames, tick, this.#highest);
    this.output.block(tick);
  }

  /** Calls `each` with every hop that has begun before the tick's end; the last may be cut short. */
  #hops(frames: Frames, each: (hop: number, from: number, count: number, whole: boolean) => void): void {
    const { sampleRate } = this.format;
    const first = this.#index * HOPS_PER_BLOCK;
    const origin = hopStart(first, sampleRate);
    for (let hop = 0; hop < HOPS_PER_BLOCK; hop++) {
      const from = hopStart(first + hop, sampleRate) - origin;
      const to = hopStart(first + hop + 1, sampleRate) - origin;
      const count = Math.max(0, Math.min(frames, to) - from);
      each(hop, this.#history + from, count, to <= frames);
    }
  }

  #weigh(bank: Bank, frames: Frames): void {
    const { weighted, weightedCross } = this.#tick;
    const kernels = this.#kernels;
    const crossed = this.#channels === 2;
    let whole = 0;
    weightedCross.fill(0);
    this.#hops(frames, (hop, from, count, isWhole) => {
      if (isWhole) whole++;
      for (let c = 0; c < this.#channels; c += 2) {
        kernels.kWeighting(bank, c / 2, from, count, crossed);
        weighted[c * HOPS_PER_BLOCK + hop] = isWhole ? kernels.weightedPowers[0]! : 0;
        if (c + 1 < this.#channels) weighted[(c + 1) * HOPS_PER_BLOCK + hop] = isWhole ? kernels.weightedPowers[1]! : 0;
        if (crossed && isWhole) weightedCross[hop] = kernels.weightedPowers[2]!;
      }
    });
    this.#tick.hops = whole;
  }

  #warm(frames: Frames): void {
    const bank = this.#bankOf(Math.floor(this.#index / SEGMENT_BLOCKS) + 1);
    this.#hops(frames, (_, from, count) => {
      for (let pair = 0; pair < this.#channels / 2; pair++) this.#kernels.kWeighting(bank, pair, from, count, false);
    });
  }

  #levels(frames: Frames): void {
    const { energy, sum, smallest, largest } = this.#tick;
    const kernels = this.#kernels;
    sum.fill(0);
    smallest.fill(Infinity);
    largest.fill(-Infinity);
    this.#hops(frames, (hop, from, count) => {
      for (let c = 0; c < this.#channels; c++) {
        if (count === 0) {
          energy[c * HOPS_PER_BLOCK + hop] = 0;
          continue;
        }
        kernels.blockLevels(c, from, count);
        const { level } = kernels;
        energy[c * HOPS_PER_BLOCK + hop] = level[0]!;
        sum[c]! += level[1]!;
        if (level[2]! < smallest[c]!) smallest[c] = level[2]!;
        if (level[3]! > largest[c]!) largest[c] = level[3]!;
      }
    });
  }

  /** The waveform is looked at where it may rise above its channel's segment so far, or above the second of all. */
  #truePeaks(frames: Frames): void {
    const tick = this.#tick;
    const peak = this.#peak;
    const { samples, prescans } = this.#kernels;
    if (this.#index % BLOCKS_PER_SECOND === 0) this.#secondPeak = 0;
    for (let c = 0; c < this.#channels; c++) {
      const sample = Math.max(tick.largest[c]!, -tick.smallest[c]!, 0);
      const before = Math.min(this.#segmentPeaks[c]!, this.#secondPeak);
      peak.level = before;
      raiseToHighest(samples[c]!, this.#history, this.#history + frames, peak, prescans[c]!, sample);
      const higher = peak.level > before;
      const level = higher ? peak.level : sample;
      tick.truePeak[c] = level;
      tick.truePeakFrame[c] = tick.start + (higher ? peak.frame - this.#history : 0);
      if (level > this.#segmentPeaks[c]!) this.#segmentPeaks[c] = level;
      if (level > this.#secondPeak) this.#secondPeak = level;
    }
  }

  #spectrum(frames: Frames): void {
    const tick = this.#tick;
    // A recording that ends before the first spectrum has none.
    tick.hasBands = frames === this.#framesOfTick() && (this.#index + 1) % SPECTRUM_BLOCKS === 0;
    if (!tick.hasBands) return;
    const from = this.#history + frames - this.#points;
    const bins = this.#bins;
    // One-sided spectrum of a Hann window to mean square.
    const scale = 2 / (this.#points * this.#points * HANN_ENERGY);
    for (let c = 0; c < this.#channels; c++) {
      this.#kernels.spectrum(c, from);
      for (let band = 0; band < BAND_COUNT; band++) {
        tick.bands[c * BAND_COUNT + band] = scale * this.#kernels.band(bins[band]!, bins[band + 1]! - bins[band]!);
      }
    }
    this.#spectra++;
    if ((this.#index + 1) % BLOCKS_PER_SECOND === 0) this.#kernels.closeSpectrumSecond(true);
  }
}
