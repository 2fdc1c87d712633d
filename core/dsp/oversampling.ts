/** Work at a multiple of the rate, so that what bends a waveform makes no tones that are not harmonics. */
import { exp2 } from "../math/deterministic-math";
import { kaiser, kaiserBeta, kaiserLength, sinc } from "../math/kaiser";
import { oversampler, type Addition, type Oversampler } from "../kernels/oversampler";
import type { Frames, Hertz } from "../audio/units";
import { DelayLine } from "./delay-line";

const STOP_BAND_DB = 112;
/** What is kept, but at low rates no more than this share of the rate. */
const KEPT: Hertz = 20_000;
const MOST_KEPT = 0.4536;

/** Half of the taps of a half-band filter that are not 0, from the outermost in: for the step from rate r to 2r. */
function tapsOf(step: number, sampleRate: Hertz): Float32Array {
  // At twice the step's rate: from what is kept to its mirror image at half the rate.
  const keeps = Math.min(MOST_KEPT, KEPT / sampleRate) / exp2(step);
  const length = kaiserLength(STOP_BAND_DB, 0.5 - 2 * keeps);
  const pairs = Math.ceil((length + 1) / 4);
  const centre = 2 * pairs - 1;
  const beta = kaiserBeta(STOP_BAND_DB);
  const taps = Float64Array.from({ length: pairs }, (_, n) => {
    const distance = centre - 2 * n;
    return 0.5 * sinc(distance / 2) * kaiser(distance / (centre + 1), beta);
  });
  // Both halves together pass a constant unchanged.
  const sum = 2 * taps.reduce((total, tap) => total + tap, 0);
  return Float32Array.from(taps, (tap) => (tap * 0.5) / sum);
}

/** What `addition` adds to one channel, worked out at 2^steps times its rate and brought back to it. */
export const oversampled = (steps: number, sampleRate: Hertz, addition: Addition): Oversampler =>
  oversampler(
    Array.from({ length: steps }, (_, n) => tapsOf(n + 1, sampleRate)),
    addition,
  );

/** One channel with an addition made at 2^steps times its rate. What nothing is added to keeps its bits. */
export class Oversampled {
  readonly latency: Frames;
  readonly #raised: Oversampler;
  #added = new Float32Array(0);
  readonly #delay: DelayLine;

  constructor(steps: number, sampleRate: Hertz, addition: Addition) {
    this.#raised = oversampled(steps, sampleRate, addition);
    this.latency = this.#raised.latency;
    this.#delay = new DelayLine(this.latency);
  }

  copyFrom(other: Oversampled): void {
    this.#raised.remembered.forEach((line, n) => line.set(other.#raised.remembered[n]!));
    this.#delay.copyFrom(other.#delay);
  }

  /** In place. */
  process(x: Float32Array): void {
    if (this.#added.length !== x.length) this.#added = new Float32Array(x.length);
    const added = this.#added;
    added.set(x);
    this.#raised.process(added);
    this.#delay.process(x);
    for (let i = 0; i < x.length; i++) x[i] = x[i]! + added[i]!;
  }
}
