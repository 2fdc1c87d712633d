import type { Layout } from "../signal/layout";
import type { Frames, Hertz, Planar } from "../signal/units";

/** What a stream is: fixed from its first block to its last. */
export interface StreamFormat {
  sampleRate: Hertz;
  layout: Layout;
}

/** A running measurement over planar blocks of any size; the block sizes never change the result. */
export interface Measurement<Result> {
  /** Takes the first `frames` frames of `block`. The block is only read. */
  process(block: Planar, frames: Frames): void;
  /** The figures of all frames so far. May be asked at any time, and again later. */
  result(): Result;
}

/** How a measurement is found and made. `source` names the clause that defines the figures. */
export interface MeasurementDefinition<Result> {
  id: string;
  help: string;
  source: string;
  create(format: StreamFormat): Measurement<Result>;
}
