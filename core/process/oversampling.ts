/** Work at a multiple of the rate, so that what bends a waveform makes no tones that are not harmonics. */
import { kaiser, kaiserBeta, kaiserLength, sinc } from "../math/kaiser";
import { halfBand, type HalfBand } from "../kernels/half-band";
import type { Frames } from "../signal/units";
import { DelayLine } from "./delay-line";

const STOP_BAND_DB = 112;
/** What is kept: 20 kHz at 44.1 kHz. */
const PASS_SHARE = 0.4536;

/** Half of the taps of a half-band filter that are not 0, from the outermost in: for the step from rate r to 2r. */
function tapsOf(step: number): Float32Array {
  // At twice the step's rate: from what is kept to its mirror image at half the rate.
  const keeps = PASS_SHARE / 2 ** step;
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

/** Makes what is to be added to a waveform of it, in place: 0 where it is to stay as it is. */
export type Addition = (x: Float32Array) => void;

/** What `addition` adds to one channel, worked out at 2^steps times its rate and brought back to it. */
export class Raised {
  readonly latency: Frames;
  readonly #filter: HalfBand;
  readonly #inner: Raised | null;
  readonly #pad: DelayLine | null;
  #doubled = new Float32Array(0);

  constructor(
    steps: number,
    readonly addition: Addition,
    step = 1,
  ) {
    const taps = tapsOf(step);
    this.#filter = halfBand(taps);
    this.#inner = steps > 1 ? new Raised(steps - 1, addition, step + 1) : null;
    // Up and down delay by 2·pairs − 1 frames of the doubled rate each.
    const doubled = 2 * (2 * taps.length - 1) + (this.#inner?.latency ?? 0);
    this.#pad = doubled % 2 === 1 ? new DelayLine(1) : null;
    this.latency = (doubled + (this.#pad ? 1 : 0)) / 2;
  }

  /** In place. */
  process(x: Float32Array): void {
    if (this.#doubled.length !== 2 * x.length) this.#doubled = new Float32Array(2 * x.length);
    const doubled = this.#doubled;
    this.#filter.raise(x, doubled);
    if (this.#inner) this.#inner.process(doubled);
    else this.addition(doubled);
    this.#pad?.process(doubled);
    this.#filter.lower(doubled, x);
  }
}

/** One channel with an addition made at 2^steps times its rate. What nothing is added to keeps its bits. */
export class Oversampled {
  readonly latency: Frames;
  readonly #raised: Raised;
  readonly #delay: DelayLine;

  constructor(steps: number, addition: Addition) {
    this.#raised = new Raised(steps, addition);
    this.latency = this.#raised.latency;
    this.#delay = new DelayLine(this.latency);
  }

  /** In place. */
  process(x: Float32Array): void {
    const added = x.slice();
    this.#raised.process(added);
    this.#delay.process(x);
    for (let i = 0; i < x.length; i++) x[i] = x[i]! + added[i]!;
  }
}
