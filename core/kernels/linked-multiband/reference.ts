/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import type { GainSmootherSettings, GainSmootherState, Rest, StaticCurve } from "../gain-smoother";

/** What one band does. */
export interface LinkedBand {
  heard: boolean;
  /** One-pole share of the mean of its power. */
  meanShare: number;
  settings: GainSmootherSettings;
  curve: StaticCurve;
  rest: Rest;
  state: GainSmootherState;
}

export interface LinkedMultiband {
  /** One or two channels of the same length, in place. */
  process(a: Float32Array, b: Float32Array | undefined): void;
}
