/**
 * Dereverberation by weighted prediction error (Nakatani, Yoshioka, Kinoshita, Miyoshi, Juang, "Speech dereverberation
 * based on variance-normalized delayed linear prediction", IEEE TASLP 18-7, 2010): in each bin what the past of all
 * channels predicts after a delay is the late tail. Frames are weighted by how little sounds in them, so that the
 * voice itself is not taken for something that could be predicted.
 */
import type { Hertz, Seconds } from "../audio/units";
import type { BlockContext } from "../audio/block-context";
import { hermitianSystem } from "../math/hermitian-system";
import { Stft } from "./stft";

/** Past frames of all channels together that the tail is predicted from. */
const TAPS = 10;
/** Frames half over each other tell as much as ones that lie closer, in a quarter of the work. */
const OVERLAP = 2;
/** Bins above this are left: little of a voice's tail is heard there. */
const HIGHEST: Hertz = 6000;
/** A filter is made for each of these places, of what sounds as far to both sides; between two places it goes over. */
const NODE_SECONDS: Seconds = 4;
/** Against division by silence, and against filters of next to nothing; shares of the loudest and of the mean. */
const LEAST_POWER = 1e-6;
const LOADING = 1e-4;

/** Σ z·z̄ᵀ/λ and Σ z·x̄/λ of one bin over some frames: taps × taps and taps × channels, complex. */
interface Statistics {
  matrixRe: Float64Array;
  matrixIm: Float64Array;
  vectorRe: Float64Array;
  vectorIm: Float64Array;
}

/** How far around the sound matters: two places to each side, and the past that the first frames are predicted from. */
export const PREDICTION_REACH: Seconds = 2 * NODE_SECONDS + 0.5;

export class WeightedPrediction {
  readonly frames: Stft;
  readonly #delay: number;
  readonly #nodeFrames: number;
  readonly #bins: number;

  /**
   * @param size of the frames; @param early what comes sooner than this belongs to the sound
   */
  constructor(
    size: number,
    readonly sampleRate: Hertz,
    early: Seconds,
  ) {
    this.frames = new Stft(size, OVERLAP);
    const hop = this.frames.hop / sampleRate;
    this.#delay = Math.max(2, Math.round(early / hop));
    this.#nodeFrames = Math.round(NODE_SECONDS / hop);
    this.#bins = Math.min(this.frames.bins - 1, Math.round((HIGHEST * size) / sampleRate));
  }

  /**
   * Takes `share` of the predicted tail away from the channels of a block, from `from` to `to`.
   * @param b absent for one channel
   */
  process(a: Float32Array, b: Float32Array | undefined, place: BlockContext, share: number): void {
    const { frames } = this;
    frames.analyse(a, b, place.first);
    const channels = b ? 2 : 1;
    const bin = new BinOfPair(frames, channels, Math.floor(TAPS / channels), this.#delay);
    // Frames that reach into what is asked for.
    const range = {
      from: Math.max(0, Math.floor((place.first + place.from - frames.size) / frames.hop) + 1 - frames.firstFrame),
      to: Math.min(frames.count, Math.ceil((place.first + place.to) / frames.hop) - frames.firstFrame),
    };
    for (let k = 1; k <= this.#bins; k++) {
      bin.read(k);
      this.#filter(bin, range, share);
      bin.write(k);
    }
    frames.synthesise(a, b, place);
  }

  /** One bin, through the filters of its nodes. */
  #filter(bin: BinOfPair, range: { from: number; to: number }, share: number): void {
    const { firstFrame } = this.frames;
    const length = this.#nodeFrames;
    const firstNode = Math.floor((firstFrame + range.from) / length);
    const lastNode = Math.ceil((firstFrame + range.to) / length);
    // Of the stretch from each node to the next; a filter is made of the two stretches around its node.
    const stretches = new Map<number, Statistics>();
    const statisticsOf = (node: number): Statistics => {
      let known = stretches.get(node);
      if (!known) {
        known = bin.statistics(node * length - firstFrame, (node + 1) * length - firstFrame);
        stretches.set(node, known);
      }
      return known;
    };
    const filters = new Map<number, Float64Array[]>();
    const filterAt = (node: number): Float64Array[] => {
      let known = filters.get(node);
      if (!known) {
        known = filtersOf(statisticsOf(node - 1), statisticsOf(node), bin.taps * bin.channels, bin.channels);
        filters.set(node, known);
      }
      return known;
    };
    for (let node = firstNode; node < lastNode; node++)
      bin.subtract({ from: node * length - firstFrame, length }, [filterAt(node), filterAt(node + 1)], share);
  }
}

/** A bin of one or two channels over all frames, unpacked from the spectrum of both at once. */
class BinOfPair {
  /** Frames of silence before the first, so that each has a past. */
  readonly #lead: number;
  /** [channel][lead + frame] */
  readonly #re: Float64Array[];
  readonly #im: Float64Array[];
  readonly #outRe: Float64Array[];
  readonly #outIm: Float64Array[];
  readonly #powers: Float64Array;
  readonly #weights: Float64Array;
  readonly #weightedRe: Float64Array;
  readonly #weightedIm: Float64Array;

  constructor(
    readonly stft: Stft,
    readonly channels: number,
    readonly taps: number,
    readonly delay: number,
  ) {
    this.#lead = delay + taps;
    const length = this.#lead + stft.count;
    const rows = () => Array.from({ length: channels }, () => new Float64Array(length));
    [this.#re, this.#im, this.#outRe, this.#outIm] = [rows(), rows(), rows(), rows()];
    const values = () => new Float64Array(stft.count);
    [this.#powers, this.#weights, this.#weightedRe, this.#weightedIm] = [values(), values(), values(), values()];
  }

  /** Hot. */
  read(k: number): void {
    const { re, im, size, count } = this.stft;
    const lead = this.#lead;
    const [ar, ai] = [this.#re[0]!, this.#im[0]!];
    const [br, bi] = [this.#re[1], this.#im[1]];
    for (let t = 0; t < count; t++) {
      const [at, mirror] = [t * size + k, t * size + size - k];
      const [zr, zi, mr, mi] = [re[at]!, im[at]!, re[mirror]!, im[mirror]!];
      const [xr, xi] = [0.5 * (zr + mr), 0.5 * (zi - mi)];
      ar[lead + t] = xr;
      ai[lead + t] = xi;
      let power = xr * xr + xi * xi;
      if (br && bi) {
        const [yr, yi] = [0.5 * (zi + mi), 0.5 * (mr - zr)];
        br[lead + t] = yr;
        bi[lead + t] = yi;
        power += yr * yr + yi * yi;
      }
      this.#powers[t] = power;
    }
    for (let c = 0; c < this.channels; c++) {
      this.#outRe[c]!.set(this.#re[c]!);
      this.#outIm[c]!.set(this.#im[c]!);
    }
  }

  /** Hot. */
  write(k: number): void {
    const { re, im, size, count } = this.stft;
    const lead = this.#lead;
    const [outRe, outIm] = [this.#outRe, this.#outIm];
    for (let t = 0; t < count; t++) {
      const [at, mirror] = [t * size + k, t * size + size - k];
      const [ar, ai] = [outRe[0]![lead + t]!, outIm[0]![lead + t]!];
      const br = outRe[1]?.[lead + t] ?? 0;
      const bi = outIm[1]?.[lead + t] ?? 0;
      re[at] = ar - bi;
      im[at] = ai + br;
      re[mirror] = ar + bi;
      im[mirror] = br - ai;
    }
  }

  /** Hot: taps² / 2 complex products a frame. */
  statistics(from: number, to: number): Statistics {
    const { channels, taps, delay } = this;
    const lead = this.#lead;
    const order = taps * channels;
    const [matrixRe, matrixIm] = [new Float64Array(order * order), new Float64Array(order * order)];
    const [vectorRe, vectorIm] = [new Float64Array(order * channels), new Float64Array(order * channels)];
    const first = Math.max(0, from);
    const last = Math.min(this.stft.count, to);
    const powers = this.#powers;
    let loudest = 0;
    for (let t = first; t < last; t++) if (powers[t]! > loudest) loudest = powers[t]!;
    const made = { matrixRe, matrixIm, vectorRe, vectorIm };
    if (loudest === 0) return made;
    const least = LEAST_POWER * loudest;
    const weights = this.#weights;
    for (let t = first; t < last; t++) {
      const before = t > 0 ? powers[t - 1]! : 0;
      const after = t + 1 < powers.length ? powers[t + 1]! : 0;
      const around = (before + powers[t]! + after) / 3;
      weights[t] = 1 / (around > least ? around : least);
    }
    const [wr, wi] = [this.#weightedRe, this.#weightedIm];
    for (let i = 0; i < order; i++) {
      const [re, im] = [this.#re[Math.floor(i / taps)]!, this.#im[Math.floor(i / taps)]!];
      const late = delay + (i % taps);
      for (let t = first, at = lead + first - late; t < last; t++, at++) {
        wr[t] = weights[t]! * re[at]!;
        wi[t] = weights[t]! * im[at]!;
      }
      // With the past up to its own, then with the frames that are predicted.
      for (let j = 0; j <= i; j++)
        product(wr, wi, this.#re[Math.floor(j / taps)]!, this.#im[Math.floor(j / taps)]!, {
          first,
          last,
          shift: lead - delay - (j % taps),
          into: [matrixRe, matrixIm],
          at: i * order + j,
        });
      for (let c = 0; c < channels; c++)
        product(wr, wi, this.#re[c]!, this.#im[c]!, {
          first,
          last,
          shift: lead,
          into: [vectorRe, vectorIm],
          at: c * order + i,
        });
    }
    return made;
  }

  /** Takes the prediction away over one stretch between nodes, from the filter of the one over to that of the next. Hot. */
  subtract(
    { from, length }: { from: number; length: number },
    [before, after]: readonly [Float64Array[], Float64Array[]],
    share: number,
  ): void {
    const { channels, taps, delay } = this;
    const lead = this.#lead;
    const first = Math.max(0, from);
    const last = Math.min(this.stft.count, from + length);
    for (let c = 0; c < channels; c++) {
      const [outRe, outIm] = [this.#outRe[c]!, this.#outIm[c]!];
      for (let i = 0; i < taps * channels; i++) {
        const [re, im] = [this.#re[Math.floor(i / taps)]!, this.#im[Math.floor(i / taps)]!];
        const [br, bi] = [share * before[2 * c]![i]!, share * before[2 * c + 1]![i]!];
        const [stepRe, stepIm] = [
          (share * after[2 * c]![i]! - br) / length,
          (share * after[2 * c + 1]![i]! - bi) / length,
        ];
        const late = delay + (i % taps);
        for (let t = first, at = lead + first - late; t < last; t++, at++) {
          // The conjugate of the filter, times the past.
          const gr = br + stepRe * (t - from);
          const gi = bi + stepIm * (t - from);
          outRe[lead + t] = outRe[lead + t]! - (gr * re[at]! + gi * im[at]!);
          outIm[lead + t] = outIm[lead + t]! - (gr * im[at]! - gi * re[at]!);
        }
      }
    }
  }
}

interface ProductPlace {
  first: number;
  last: number;
  /** Of the second factor against the first. */
  shift: number;
  into: readonly [Float64Array, Float64Array];
  at: number;
}

/** Σ w·x̄ over some frames. Hot. */
function product(
  wr: Float64Array,
  wi: Float64Array,
  re: Float64Array,
  im: Float64Array,
  { first, last, shift, into, at }: ProductPlace,
): void {
  let [sumRe, sumIm] = [0, 0];
  for (let t = first; t < last; t++) {
    const xr = re[t + shift]!;
    const xi = im[t + shift]!;
    sumRe += wr[t]! * xr + wi[t]! * xi;
    sumIm += wi[t]! * xr - wr[t]! * xi;
  }
  into[0][at] = sumRe;
  into[1][at] = sumIm;
}

/**
 * The filters of all channels, real and imaginary parts in turn, of two stretches together. Nothing where nothing
 * sounds.
 */
function filtersOf(one: Statistics, other: Statistics, order: number, channels: number): Float64Array[] {
  const re = one.matrixRe.map((v, i) => v + other.matrixRe[i]!);
  const im = one.matrixIm.map((v, i) => v + other.matrixIm[i]!);
  let trace = 0;
  for (let i = 0; i < order; i++) trace += re[i * order + i]!;
  if (trace <= 0) return Array.from({ length: 2 * channels }, () => new Float64Array(order));
  for (let i = 0; i < order; i++) re[i * order + i] = re[i * order + i]! + (LOADING * trace) / order;
  const system = hermitianSystem(re, im, order);
  return Array.from({ length: channels }, (_, c) => {
    const part = (x: Float64Array, y: Float64Array) =>
      x.subarray(c * order, (c + 1) * order).map((v, i) => v + y[c * order + i]!);
    return system(part(one.vectorRe, other.vectorRe), part(one.vectorIm, other.vectorIm));
  }).flat();
}
