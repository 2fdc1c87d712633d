import type { Stateful } from "../dsp/state";
import type { StreamFormat } from "../audio/stream-format";
import type { Decibels, Frames, Planar, Seconds } from "../audio/units";
import type { GroupId } from "./groups";
import type { AnalogueBiquad } from "../dsp/analogue-filter";
import type { CompressionCurve } from "../dsp/dynamics";
import type { Breakpoint, Parameters, SettingsOf } from "../parameters/parameter";

/** A processor at work on one stream. It changes blocks in place and delays them by `latency` frames. */
export interface Processor {
  readonly latency: Frames;
  /** @param key what it listens to instead of the block, in as many channels; only where it was made for one */
  process(block: Planar, frames: Frames, key?: Planar): void;
  /** All that it remembers, always in the same order; absent where it cannot go on from another one's. */
  readonly state?: readonly Stateful[];
  /**
   * The most gain reduction since the last call, in dB ≥ 0: of each of its bands, lowest first, or of the whole and what
   * is held back besides; absent where there is none to tell.
   */
  takeGainReduction?(): readonly Decibels[];
}

/** Level of a programme in steps of 100 ms, as far as a prediction needs it. Values in dB; −Infinity is silence. */
export interface LevelCurves {
  peakDb: Float32Array;
  momentaryLufs: Float32Array;
  /** How far the true peak stands above the highest sample. */
  intersampleDb: Decibels;
  /** Share of the power in each third of an octave, by `THIRD_OCTAVES`; absent where it is not known. */
  spectrum?: Float32Array;
}

/** Settings with a name, for one purpose. */
export interface Preset<P extends Parameters = Parameters> {
  name: string;
  /** When to use it. */
  use: string;
  /** Of its own parameters, and of the common controls around it. */
  settings: Partial<SettingsOf<P>> & { inputDb?: Decibels; outputDb?: Decibels; mix?: number };
}

/** What a drawing of a processor shows, by its settings. */
export type Visualiser<S> =
  /** The magnitude of filters in a row. */
  | { kind: "response"; sections(settings: S): readonly AnalogueBiquad[] }
  /** Output level over input level. */
  | { kind: "transfer curve"; curve(settings: S): CompressionCurve; makeUpDb?(settings: S): Decibels }
  /** A line of gain over time that is worked out from the momentary loudness of the item, or of another one. */
  | {
      kind: "gain envelope";
      of: "item" | "another item";
      envelope(momentaryLufs: Float32Array, settings: S): Breakpoint[];
    }
  | {
      kind:
        | "equaliser bands"
        | "multiband"
        | "tone match"
        | "harmonics"
        | "enhancer harmonics"
        | "peaks"
        | "width"
        | "reverb";
    };

/** Everything that others need to know of a processor; forms, validation, help, CLI and tests come from it. */
export interface ProcessorDefinition<P extends Parameters = Parameters> {
  id: string;
  name: string;
  group: GroupId;
  /** One line: what it is for. */
  help: string;
  /** What a person may call what it does, to be found by: "sibilance harsh s". */
  keywords: string;
  parameters: P;
  /**
   * The common controls that it has besides its own parameters: input and output level, mix, and the channels or side
   * that it works on.
   */
  commonControls: "all" | "levels and sides" | "none";
  /** Settings with which it changes nothing, to the bit, where its defaults do. */
  neutral?: Partial<SettingsOf<P>>;
  /** Whether it can listen to an external key instead of what it works on. */
  takesKey?: boolean;
  /** What its editor draws; settings alone where absent. */
  visualiser?: Visualiser<SettingsOf<P>>;
  /** Whether it works on the two sides of a stereo signal, and leaves everything else as it is. */
  stereoOnly?: true;
  /**
   * What it reduces, a name for each value of `takeGainReduction`: [""] for the whole, names of bands otherwise. Absent
   * where it tells none.
   */
  reductionNames?(settings: SettingsOf<P>): readonly string[];
  /** Gives what its detector listens to in place of the sound, to be heard while it is set; absent where it is the sound. */
  createDetector?(settings: SettingsOf<P>, format: StreamFormat): Processor;
  /** How much of the past still matters to what comes out; a start in the middle runs up by this. */
  memory: Seconds;
  /**
   * @param start frame of the item that the first block begins with, which matters where settings are tied to places
   * @param format with keys where it listens to one
   * @param moves whether settings move over time, so that no two of them may be made in different ways
   */
  create(settings: SettingsOf<P>, format: StreamFormat, start: Frames, moves?: boolean): Processor;
  /** Settings that can be moved over time, by name or, for those of rows, by the name of the column. */
  automatable?: readonly string[];
  /** Whether it can move them as it is set; long filters, for one, cannot go on from others. Yes where absent. */
  canAutomate?(settings: SettingsOf<P>): boolean;
  /** What the settings will do to the levels, estimated at once. */
  predict(levels: LevelCurves, settings: SettingsOf<P>): LevelCurves;
  /** The settings in a few words: "+4.6 dB". */
  summary(settings: SettingsOf<P>): string;
  presets: readonly Preset<P>[];
}
