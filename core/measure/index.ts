import type { PcmEncoding } from "../audio/frame-source";
import { framesOf, type Frames, type Planar } from "../audio/units";
import { Analysis } from "./analysis";
import { bandLevels } from "./band-levels";
import { bandwidth } from "./bandwidth";
import { channelFaults } from "./channel-faults";
import { clipping } from "./clipping";
import { correlation } from "./correlation";
import { dialogue } from "./dialogue";
import { directions } from "./directions";
import { leadingTrailingSilence } from "./leading-trailing-silence";
import { hum } from "./hum";
import { level } from "./level";
import { LongTermSpectra } from "./long-term-spectra";
import { loudness } from "./loudness";
import type { Measurement, MeasurementDefinition } from "./measurement";
import type { StreamFormat } from "../audio/stream-format";
import { noiseFloor } from "./noise-floor";
import { nonFinite } from "./non-finite";
import { peakCurve } from "./peak-curve";
import { peakToLoudness } from "./peak-to-loudness";
import { spectrum } from "./spectrum";
import { stereo } from "./stereo";
import type { SegmentSpectra, AnalysisBlock } from "./analysis-block";
import { truePeak } from "./true-peak";

/** Every measurement. A new one: its file, and a line here. */
export const MEASUREMENTS = [
  loudness,
  truePeak,
  peakToLoudness,
  level,
  noiseFloor,
  leadingTrailingSilence,
  clipping,
  nonFinite,
  correlation,
  stereo,
  dialogue,
  spectrum,
  bandwidth,
  hum,
  channelFaults,
  directions,
  peakCurve,
  bandLevels,
] as const;

/** The clause, or the definition of our own, behind the figures of a measurement. */
export function sourceOf(id: string): string {
  return MEASUREMENTS.find((definition) => definition.id === id)?.source ?? "";
}

type FiguresOf<Definition> = Definition extends MeasurementDefinition<infer F, infer _> ? F : never;
type CurvesOf<Definition> = Definition extends MeasurementDefinition<infer _, infer C> ? C : never;
type Intersection<Union> = (Union extends unknown ? (u: Union) => void : never) extends (i: infer I) => void
  ? I
  : never;

export interface StreamFigures {
  sampleRate: number;
  channels: number;
  layout: string;
  frames: Frames;
  durationSeconds: number;
  /** True peak − integrated loudness. */
  plrLu: number | null;
}

/** The figures of a recording, named as in the command line's JSON. `null` where there is nothing to measure. */
export type Figures = StreamFigures & Intersection<FiguresOf<(typeof MEASUREMENTS)[number]>>;

/** What changes over time, and tables that are only drawn. */
export type Curves = Intersection<CurvesOf<(typeof MEASUREMENTS)[number]>>;

export interface Measured {
  figures: Figures;
  curves: Curves;
}

/**
 * All measurements, from ticks: those of one pass, or of segments that were analysed apart, handed over in order. The
 * figures are the same to the bit.
 */
export class BlockMeasurer {
  readonly #running: Measurement<object>[];
  readonly #spectra = new LongTermSpectra();
  #frames: Frames = 0;

  constructor(readonly format: StreamFormat) {
    this.#running = MEASUREMENTS.map((definition) => definition.create(format));
  }

  block(tick: AnalysisBlock): void {
    for (const measurement of this.#running) measurement.block?.(tick);
    this.#frames = tick.start + tick.frames;
  }

  segment(spectra: SegmentSpectra): void {
    this.#spectra.add(spectra);
  }

  result(): Measured {
    const results = this.#running.map((measurement) => measurement.result(this.#spectra));
    const measured = Object.assign({}, ...results.map(({ figures }) => figures)) as Omit<Figures, keyof StreamFigures>;
    const { truePeakDbtp, integratedLufs } = measured;
    const { sampleRate, layout } = this.format;
    return {
      figures: {
        sampleRate,
        channels: layout.speakers.length,
        layout: layout.name,
        frames: this.#frames,
        durationSeconds: this.#frames / sampleRate,
        plrLu: truePeakDbtp === null || integratedLufs === null ? null : truePeakDbtp - integratedLufs,
        ...measured,
      },
      curves: Object.assign({}, ...results.map(({ curves }) => curves)) as Curves,
    };
  }
}

/** All measurements in one pass over planar blocks of any size, which never change the result. */
export class Measurer {
  readonly #ticks: BlockMeasurer;
  readonly #analysis: Analysis;
  #finished = false;

  constructor(readonly format: StreamFormat) {
    this.#ticks = new BlockMeasurer(format);
    this.#analysis = new Analysis(format, this.#ticks);
  }

  /** Takes the first `frames` frames of `block`, shape [channel][frame], channels as in the layout. Only reads it. */
  process(block: Planar, frames: Frames = framesOf(block)): void {
    this.#analysis.process(block, frames);
  }

  /** Takes interleaved samples as they lie in a file. */
  processEncoded(bytes: Uint8Array, encoding: PcmEncoding): void {
    this.#analysis.processEncoded(bytes, encoding);
  }

  /** The figures so far, to the last whole 100 ms: for what is still being read. */
  soFar(): Measured {
    return this.#ticks.result();
  }

  /** The recording has ended: its figures. */
  result(): Measured {
    if (!this.#finished) this.#analysis.finish();
    this.#finished = true;
    return this.#ticks.result();
  }
}
