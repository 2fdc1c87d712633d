import { type NoisePsd, wienerKernels, wienerGains, type WienerKernels } from "./wiener-suppressor";
/**
 * Turning down what is not wanted, in frames of more than one length at once: short ones follow a voice, long ones tell
 * tones apart, and where the results differ in their faults, their mean has fewer.
 */
import type { Frames, Planar } from "../audio/units";
import type { RepairWork } from "./repair";
import type { BlockContext } from "../audio/block-context";
import { forChannelPairs, Stft } from "../dsp/stft";

/** Powers of a channel in frames of one length, [frame][bin], and where they lie. */
export interface Powers {
  resolution: StftResolution;
  channel: number;
  powers: Float32Array;
  context: BlockContext;
}

/** Tells for each frame what of it is not wanted. */
export type NoisePsdEstimator = (powers: Powers) => (frame: number) => NoisePsd;

/** Of two channels, [frame][bin]. */
export type Gains = readonly [Float32Array, Float32Array];

type Room = [Float32Array, Float32Array, Float32Array];

/** Frames of one length, and what is needed to work in them. */
export class StftResolution {
  readonly frames: Stft;
  readonly #rows: WienerKernels;
  /** Powers of two channels and their clean PSDs: made once, for as long as a stretch of work was. */
  #room: Room = [new Float32Array(0), new Float32Array(0), new Float32Array(0)];

  constructor(size: Frames) {
    this.frames = new Stft(size);
    this.#rows = wienerKernels(this.frames.bins);
  }

  /** Takes the spectra of a pair of channels, of which `a` is `channel`, and tells the gains of each, until asked again. */
  gains(
    a: Float32Array,
    b: Float32Array | undefined,
    channel: number,
    place: BlockContext,
    unwanted: NoisePsdEstimator,
  ): Gains {
    const { frames } = this;
    const { bins } = frames;
    frames.analyse(a, b, place.first);
    const { count } = frames;
    if (this.#room[0].length < count * bins) this.#room = [0, 1, 2].map(() => new Float32Array(count * bins)) as Room;
    const [first, second, cleanPsds] = this.#room.map((x) => x.subarray(0, count * bins)) as Room;
    const both = [first, second] as const;
    for (let t = 0; t < count; t++) frames.powers(t, ...both, t * bins);
    const gainsOf = (powers: Float32Array, at: number) =>
      wienerGains(
        this.#rows,
        powers,
        cleanPsds,
        count,
        unwanted({ resolution: this, channel: at, powers, context: place }),
      );
    gainsOf(first, channel);
    return [first, b ? gainsOf(second, channel + 1) : first];
  }

  /** Puts what the gains leave of the spectra in the place of the channels. */
  apply(gains: Gains, a: Float32Array, b: Float32Array | undefined, place: BlockContext): void {
    const { frames } = this;
    for (let t = 0; t < frames.count; t++) frames.apply(t, ...gains, t * frames.bins);
    frames.synthesise(a, b, place);
  }
}

/** A repair that leaves the mean of what all resolutions leave. */
export const suppress =
  (resolutions: readonly StftResolution[], unwanted: NoisePsdEstimator): RepairWork =>
  (block: Planar, place: BlockContext) =>
    forChannelPairs(block, (a, b, channel) => {
      const channels = b ? [a, b] : [a];
      const made = resolutions.map((resolution) => {
        const copies = channels.map((x) => x.slice()) as [Float32Array, Float32Array?];
        const gains = resolution.gains(copies[0], copies[1], channel, place, unwanted);
        resolution.apply(gains, copies[0], copies[1], place);
        return copies;
      });
      const share = 1 / made.length;
      channels.forEach((x, side) => {
        x.fill(0, place.from, place.to);
        for (const copies of made) {
          const copy = copies[side]!;
          for (let i = place.from; i < place.to; i++) x[i] = x[i]! + share * copy[i]!;
        }
      });
    });
