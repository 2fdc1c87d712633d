import type { StreamFormat } from "../measure/measurement";
import type { Decibels, Frames, Planar, Seconds } from "../signal/units";
import type { Parameters, SettingsOf } from "./parameter";

/** A processor at work on one stream. It changes blocks in place and delays them by `latency` frames. */
export interface Processor {
  readonly latency: Frames;
  process(block: Planar, frames: Frames): void;
  /** The most gain reduction since the last call, in dB ≥ 0; absent where there is none to tell. */
  takeReduction?(): Decibels;
}

/** Level of a programme in steps of 100 ms, as far as a prediction needs it. Values in dB; −Infinity is silence. */
export interface LevelCurves {
  peakDb: Float32Array;
  momentaryLufs: Float32Array;
  /** How far the true peak stands above the highest sample. */
  intersampleDb: Decibels;
}

/** Everything that others need to know of a processor; forms, validation, help, CLI and tests come from it. */
export interface ProcessorDefinition<P extends Parameters = Parameters> {
  id: string;
  name: string;
  /** One line: what it is for. */
  help: string;
  parameters: P;
  /** How much of the past still matters to what comes out; a start in the middle runs up by this. */
  memory: Seconds;
  create(settings: SettingsOf<P>, format: StreamFormat): Processor;
  /** What the settings will do to the levels, estimated at once. */
  predict(levels: LevelCurves, settings: SettingsOf<P>): LevelCurves;
  /** The settings in a few words: "+4.6 dB". */
  summary(settings: SettingsOf<P>): string;
}
