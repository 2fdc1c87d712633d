/** From the programme's channels to the two sides of what is listened to: which of them, and how they are folded. */
import { stereoDownmix, downmixMatrix, type DownmixCoefficients } from "../audio/downmix";
import type { Layout } from "../audio/layout";
import { framesOf, type Hertz, type Planar } from "../audio/units";
import { BinauralDownmix } from "./binaural";

/** What of the two sides is listened to: all, the middle, the sides' difference, their sum, or one side in both. */
export const LISTEN_TO = ["all", "mid", "side", "mono", "left", "right"] as const;
export type ListenTo = (typeof LISTEN_TO)[number];

export interface MonitorSettings {
  /** Channels that are heard alone; empty for all. */
  solo: number[];
  mute: number[];
  listenTo: ListenTo;
  fold: "speakers" | "binaural";
  /** How centre and surrounds go into the sides; the usual ones where absent. */
  coefficients?: DownmixCoefficients | undefined;
}

export const MONITOR_ALL: MonitorSettings = { solo: [], mute: [], listenTo: "all", fold: "speakers" };

/** Left and right of `listenTo` from left and right, as gains: [of left in left, of right in left, …]. */
const MIXES: Record<ListenTo, readonly [number, number, number, number]> = {
  all: [1, 0, 0, 1],
  mid: [0.5, 0.5, 0.5, 0.5],
  side: [0.5, -0.5, 0.5, -0.5],
  // The sum as one speaker would give it: both sides at −3 dB.
  mono: [Math.SQRT1_2, Math.SQRT1_2, Math.SQRT1_2, Math.SQRT1_2],
  left: [1, 0, 1, 0],
  right: [0, 1, 0, 1],
};

const heard = (channel: number, { solo, mute }: MonitorSettings): boolean =>
  solo.length > 0 ? solo.includes(channel) : !mute.includes(channel);

export class MonitorMatrix {
  readonly #gains: readonly (readonly [left: number, right: number])[];
  readonly #binaural: BinauralDownmix | undefined;

  constructor(
    readonly settings: MonitorSettings,
    readonly layout: Layout,
    sampleRate: Hertz,
  ) {
    const matrix = settings.coefficients && downmixMatrix(layout, "stereo", settings.coefficients);
    const fold = matrix
      ? layout.speakers.map((_, c) => [matrix[0]![c]!, matrix[1]![c]!] as const)
      : stereoDownmix(layout);
    this.#gains = fold.map((gains, channel) => (heard(channel, settings) ? gains : [0, 0]));
    this.#binaural = settings.fold === "binaural" ? new BinauralDownmix(layout, sampleRate) : undefined;
  }

  /** Two sides of a block, shape [2][frame]. */
  process(block: Planar): [Float32Array, Float32Array] {
    const frames = framesOf(block);
    const sides = this.#binaural
      ? this.#binaural.process(block.map((x, c) => (heard(c, this.settings) ? x : new Float32Array(frames))))
      : this.#folded(block, frames);
    return mixed(sides, MIXES[this.settings.listenTo]);
  }

  #folded(block: Planar, frames: number): [Float32Array, Float32Array] {
    const left = new Float32Array(frames);
    const right = new Float32Array(frames);
    block.forEach((x, c) => {
      const [toLeft, toRight] = this.#gains[c]!;
      if (toLeft !== 0) for (let i = 0; i < frames; i++) left[i]! += toLeft * x[i]!;
      if (toRight !== 0) for (let i = 0; i < frames; i++) right[i]! += toRight * x[i]!;
    });
    return [left, right];
  }
}

function mixed(
  [left, right]: [Float32Array, Float32Array],
  [ll, lr, rl, rr]: readonly [number, number, number, number],
): [Float32Array, Float32Array] {
  if (ll === 1 && lr === 0 && rl === 0 && rr === 1) return [left, right];
  return [left.map((l, i) => ll * l + lr * right[i]!), right.map((r, i) => rl * left[i]! + rr * r)];
}
