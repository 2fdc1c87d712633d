/** Segments of a recording, analysed apart: by other threads, in any order, and merged to exactly the same figures. */
import type { FrameSource } from "../audio/frame-source";
import { Analysis, SEGMENT_BLOCKS, segmentEnd, segmentLead } from "./analysis";
import { BlockMeasurer, type Measured } from ".";
import type { StreamFormat } from "../audio/stream-format";
import { blocksAhead } from "./blocks-ahead";
import { pairsOf, blockStart, type SegmentSpectra } from "./analysis-block";
import { AnalysisBlockRecorder, blocksOf, type AnalysisBlockRecord } from "./analysis-block-record";

/** What an analysis of a segment tells: plain data, to be sent from thread to thread. */
export interface AnalysedSegment {
  blocks: AnalysisBlockRecord;
  spectra: SegmentSpectra | null;
}

/** How many segments there are. */
export const segmentsOf = (frames: number, sampleRate: number): number =>
  Math.max(1, Math.ceil(frames / blockStart(SEGMENT_BLOCKS, sampleRate)));

export async function analyseSegment(
  source: FrameSource,
  format: StreamFormat,
  segment: number,
): Promise<AnalysedSegment> {
  const { speakers } = format.layout;
  const recorder = new AnalysisBlockRecorder(speakers.length, pairsOf(speakers).length, SEGMENT_BLOCKS);
  const analysed: AnalysedSegment = { blocks: recorder.record, spectra: null };
  const analysis = new Analysis(
    format,
    { block: (tick) => recorder.add(tick), segment: (spectra) => (analysed.spectra = spectra) },
    segment,
    1,
  );
  const range = {
    start: segmentLead(segment, format.sampleRate),
    end: Math.min(source.frames, segmentEnd(segment, format.sampleRate)),
  };
  for await (const feed of blocksAhead(source, range)) feed(analysis);
  if (analysed.spectra === null) analysis.finish();
  return analysed;
}

/** Puts segments together, in their order. */
export class SegmentMerger {
  readonly #measurer: BlockMeasurer;
  readonly #channels: number;
  readonly #pairs: number;
  readonly #waiting = new Map<number, AnalysedSegment>();
  #next = 0;

  constructor(format: StreamFormat) {
    this.#measurer = new BlockMeasurer(format);
    this.#channels = format.layout.speakers.length;
    this.#pairs = pairsOf(format.layout.speakers).length;
  }

  /** Takes a segment; those that came before their turn wait. */
  take(segment: number, analysed: AnalysedSegment): void {
    this.#waiting.set(segment, analysed);
    for (let next = this.#waiting.get(this.#next); next; next = this.#waiting.get(this.#next)) {
      for (const tick of blocksOf(next.blocks, this.#channels, this.#pairs)) this.#measurer.block(tick);
      if (next.spectra) this.#measurer.segment(next.spectra);
      this.#waiting.delete(this.#next);
      this.#next++;
    }
  }

  result(): Measured {
    return this.#measurer.result();
  }
}
