import type { StreamFormat } from "../audio/stream-format";
import type { Seconds } from "../audio/units";
import type { LongTermSpectra } from "./long-term-spectra";
import type { AnalysisBlock } from "./analysis-block";

/** What changes over time: a row of `columns` values each `hopSeconds`, the first at `hopSeconds`. */
export interface TimeSeries {
  hopSeconds: Seconds;
  columns: number;
  /** [row][column] */
  values: Float32Array;
}

/** A running measurement over the ticks of a recording, in order. */
export interface Measurement<Figures, Curves = object> {
  /** Takes the next tick; its tables are only read, and hold for this call alone. */
  block?(tick: AnalysisBlock): void;
  /** The figures of all so far, with the spectra of all whole segments so far. May be asked at any time, and again. */
  result(spectra: LongTermSpectra): { figures: Figures; curves?: Curves };
}

/** How a measurement is found and made. `source` names the clause that defines the figures. */
export interface MeasurementDefinition<Figures, Curves = object> {
  id: string;
  help: string;
  source: string;
  create(format: StreamFormat): Measurement<Figures, Curves>;
}
