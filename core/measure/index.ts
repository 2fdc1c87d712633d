import type { Frames, Planar } from "../signal/units";
import { correlation } from "./correlation";
import { level } from "./level";
import { loudness, type Curve } from "./loudness";
import type { Measurement, StreamFormat } from "./measurement";
import { noiseFloor } from "./noise-floor";
import { peakCurve } from "./peak-curve";
import { truePeak } from "./true-peak";

/** Every measurement. A new one: its file, and a line here. */
export const MEASUREMENTS = [loudness, truePeak, level, noiseFloor, correlation, peakCurve] as const;

type ResultOf<Definition> = Definition extends { create(format: StreamFormat): Measurement<infer R> } ? R : never;
type Intersection<Union> = (Union extends unknown ? (u: Union) => void : never) extends (i: infer I) => void
  ? I
  : never;
type AllResults = Intersection<ResultOf<(typeof MEASUREMENTS)[number]>>;

type CurveKeys = "loudnessCurves" | "samplePeakCurve";

export interface StreamFigures {
  sampleRate: number;
  channels: number;
  layout: string;
  frames: number;
  durationSeconds: number;
  nonFiniteSamples: number;
  /** True peak − integrated loudness. */
  plrLu: number | null;
}

/** The figures of a recording, named as in the command line's JSON. `null` where there is nothing to measure. */
export type Figures = StreamFigures & Omit<AllResults, CurveKeys>;

/** What changes over time; each curve says its own hop. */
export type Curves = Record<"momentaryLufs" | "shortTermLufs" | "samplePeakDbfs", Curve>;

/** All measurements in one pass. NaN and infinities are counted and measured as silence. */
export class Measurer {
  readonly #running: Measurement<object>[];
  #frames: Frames = 0;
  #nonFinite = 0;

  constructor(readonly format: StreamFormat) {
    this.#running = MEASUREMENTS.map((definition) => definition.create(format));
  }

  /** Takes all frames of `block`, shape [channel][frame], channels as in the layout. */
  process(block: Planar, frames: Frames = block[0]?.length ?? 0): void {
    const { clean, replaced } = withoutNonFinite(block, frames);
    this.#nonFinite += replaced;
    for (const measurement of this.#running) measurement.process(clean, frames);
    this.#frames += frames;
  }

  result(): { figures: Figures; curves: Curves } {
    const all = Object.assign({}, ...this.#running.map((measurement) => measurement.result())) as AllResults;
    const { loudnessCurves, samplePeakCurve, ...measured } = all;
    const { truePeakDbtp, integratedLufs } = measured;
    const figures: Figures = {
      sampleRate: this.format.sampleRate,
      channels: this.format.layout.speakers.length,
      layout: this.format.layout.name,
      frames: this.#frames,
      durationSeconds: this.#frames / this.format.sampleRate,
      nonFiniteSamples: this.#nonFinite,
      plrLu: truePeakDbtp === null || integratedLufs === null ? null : truePeakDbtp - integratedLufs,
      ...measured,
    };
    return { figures, curves: { ...loudnessCurves, samplePeakDbfs: samplePeakCurve } };
  }
}

/** The block itself where every sample is finite, else a copy with zeros in their place. */
export function withoutNonFinite(block: Planar, frames: Frames): { clean: Planar; replaced: number } {
  let replaced = 0;
  const clean = block.map((channel) => {
    let copy: Float32Array | undefined;
    for (let i = 0; i < frames; i++) {
      const v = channel[i]!;
      if (v - v !== 0) {
        copy ??= channel.slice();
        copy[i] = 0;
        replaced++;
      }
    }
    return copy ?? channel;
  });
  return { clean, replaced };
}
