import { Fft } from "../math/fft";
import { exp, hypot, log, sinCosTurns, square } from "../math/deterministic-math";
import type { FrameSource } from "../audio/frame-source";
import { readAround } from "../repair/repaired-source";
import { frameLengthNear } from "../dsp/stft";
import { emptyPlanar, slicePlanar, type Frames, type Planar, type Seconds } from "../audio/units";

const FRAME: Seconds = 0.0853;
const HOPS = 4;
/** A peak is the highest of so many bins on each side. */
const NEIGHBOURS = 2;
/** The envelope holds what changes more slowly than this along the frequencies: formants, no harmonics. */
const ENVELOPE: Seconds = 0.0018;
/** Formants are moved back by no more than this, dB: nothing is known of what lies between harmonics. */
const MOST_ENVELOPE_DB = 24;

export interface StretchOptions {
  /** Frames of the source that pass for each frame that comes out. */
  speed: number;
  /** Moves the envelope of the spectrum up by this factor: what resampling by its inverse brings back. */
  envelope?: number;
}

/**
 * A source at another tempo with its own pitch: a phase vocoder whose regions around spectral peaks turn as one (Laroche
 * & Dolson 1999), the same for all channels, so that they stay together. Phases move on by what the source turned over
 * one hop at that place, taken from two spectra a hop apart. Gives blocks in order.
 */
export async function* stretched(source: FrameSource, { speed, envelope = 1 }: StretchOptions): AsyncGenerator<Planar> {
  const { channels, sampleRate } = source;
  const vocoder = new Vocoder(frameLengthNear(FRAME, sampleRate), channels, sampleRate, envelope);
  const { size, hop } = vocoder;
  const total = Math.round(source.frames / speed);
  const lead = size - hop;
  for (let made = -lead; made < total; made += hop) {
    // Middle of the frame, where it is heard, and where it is in the source.
    const middle = made + size / 2;
    const at = Math.round(middle * speed - size / 2);
    const frame = await readAround(source, at - hop, at + size);
    const block = vocoder.next(
      frame.map((x) => x.subarray(hop)),
      frame.map((x) => x.subarray(0, size)),
    );
    const from = Math.max(0, -made);
    const to = Math.min(hop, total - made);
    if (to > from) yield slicePlanar(block, from, to).map((x) => x.slice());
  }
}

class Vocoder {
  readonly hop: Frames;
  readonly #bins: number;
  readonly #fft: Fft;
  readonly #window: Float64Array;
  /** Turn of each bin so far: what its source's phase was turned by, as a unit vector. */
  #turnRe: Float64Array;
  #turnIm: Float64Array;
  /** What came out last, of all channels together. */
  readonly #lastRe: Float64Array;
  readonly #lastIm: Float64Array;
  #started = false;
  #overlap: Planar;

  constructor(
    readonly size: number,
    channels: number,
    readonly sampleRate: number,
    readonly envelope: number,
  ) {
    this.hop = size / HOPS;
    this.#bins = size / 2 + 1;
    this.#fft = new Fft(size);
    this.#window = Float64Array.from({ length: size }, (_, i) => sinCosTurns((i + 0.5) / (2 * size)).sin);
    this.#turnRe = new Float64Array(this.#bins).fill(1);
    this.#turnIm = new Float64Array(this.#bins);
    this.#lastRe = new Float64Array(this.#bins);
    this.#lastIm = new Float64Array(this.#bins);
    this.#overlap = emptyPlanar(channels, size);
  }

  /** A hop of what comes out, from a frame and the one a hop before it in the source. */
  next(frame: Planar, before: Planar): Planar {
    const { size, hop } = this;
    const spectra = frame.map((x) => this.#spectrum(x));
    const now = sumOf(spectra, size);
    const then = sumOf(
      before.map((x) => this.#spectrum(x)),
      size,
    );
    this.#turn(now, then);
    const gains = this.envelope === 1 ? null : this.#envelopeGains(now);
    const scale = 2 / HOPS;
    spectra.forEach(({ re, im }, c) => {
      for (let k = 0; k < this.#bins; k++) {
        const gain = gains ? gains[k]! : 1;
        const [a, b] = [re[k]! * gain, im[k]! * gain];
        re[k] = a * this.#turnRe[k]! - b * this.#turnIm[k]!;
        im[k] = a * this.#turnIm[k]! + b * this.#turnRe[k]!;
        if (k > 0 && k < size / 2) [re[size - k], im[size - k]] = [re[k]!, -im[k]!];
      }
      im[0] = im[size / 2] = 0;
      this.#fft.backward(re, im);
      const out = this.#overlap[c]!;
      for (let i = 0; i < size; i++) out[i] = out[i]! + re[i]! * this.#window[i]! * scale;
    });
    const done = slicePlanar(this.#overlap, 0, hop).map((x) => x.slice());
    for (const x of this.#overlap) {
      x.copyWithin(0, hop);
      x.fill(0, size - hop);
    }
    return done;
  }

  #spectrum(x: Float32Array): { re: Float64Array; im: Float64Array } {
    const re = Float64Array.from(x, (v, i) => v * this.#window[i]!);
    const im = new Float64Array(this.size);
    this.#fft.forward(re, im);
    return { re, im };
  }

  /** Finds by how much each region is turned, so that its peak goes on from where it came out last. */
  #turn(now: Spectrum, then: Spectrum): void {
    const bins = this.#bins;
    const power = new Float64Array(bins);
    for (let k = 0; k < bins; k++) power[k] = square(now.re[k]!) + square(now.im[k]!);
    const peaks: number[] = [];
    for (let k = NEIGHBOURS; k < bins - NEIGHBOURS; k++) {
      let highest = true;
      for (let d = 1; d <= NEIGHBOURS && highest; d++)
        highest = power[k]! > power[k - d]! && power[k]! >= power[k + d]!;
      if (highest) peaks.push(k);
    }
    const [turnRe, turnIm] = [new Float64Array(bins).fill(1), new Float64Array(bins)];
    let from = 0;
    peaks.forEach((peak, i) => {
      const following = peaks[i + 1];
      let to = bins;
      if (following !== undefined) {
        // The border lies in the valley.
        to = peak + 1;
        for (let k = peak + 1; k < following; k++) if (power[k]! < power[to]!) to = k;
      }
      const [c, s] = this.#started ? this.#turnOfPeak(peak, then) : [1, 0];
      turnRe.fill(c, from, to);
      turnIm.fill(s, from, to);
      from = to;
    });
    [this.#turnRe, this.#turnIm] = [turnRe, turnIm];
    for (let k = 0; k < bins; k++) {
      this.#lastRe[k] = now.re[k]! * turnRe[k]! - now.im[k]! * turnIm[k]!;
      this.#lastIm[k] = now.re[k]! * turnIm[k]! + now.im[k]! * turnRe[k]!;
    }
    this.#started = true;
  }

  /** last · now / then, divided by now: the turn that brings this bin to where it ought to be. */
  #turnOfPeak(k: number, then: Spectrum): [number, number] {
    const [lr, li, tr, ti] = [this.#lastRe[k]!, this.#lastIm[k]!, then.re[k]!, then.im[k]!];
    // last / then, as now cancels.
    const re = lr * tr + li * ti;
    const im = li * tr - lr * ti;
    const length = hypot(re, im);
    return length > 1e-30 ? [re / length, im / length] : [1, 0];
  }

  /** Gains that move the envelope up: E(f / factor) over E(f), by the cepstrum. */
  #envelopeGains(now: Spectrum): Float64Array {
    const { size, sampleRate } = this;
    const re = new Float64Array(size);
    const im = new Float64Array(size);
    for (let k = 0; k < size; k++) {
      const bin = k <= size / 2 ? k : size - k;
      re[k] = 0.5 * log(square(now.re[bin]!) + square(now.im[bin]!) + 1e-18);
    }
    this.#fft.backward(re, im);
    const kept = Math.round(ENVELOPE * sampleRate);
    re.fill(0, kept, size - kept + 1);
    im.fill(0);
    this.#fft.forward(re, im);
    const most = (MOST_ENVELOPE_DB / 20) * 2.302585092994046;
    return Float64Array.from({ length: this.#bins }, (_, k) => {
      const place = Math.min(this.#bins - 1, k * this.envelope);
      const low = Math.min(this.#bins - 2, Math.floor(place));
      const moved = re[low]! + (place - low) * (re[low + 1]! - re[low]!);
      return exp(Math.max(-most, Math.min(most, moved - re[k]!)));
    });
  }
}

interface Spectrum {
  re: Float64Array;
  im: Float64Array;
}

function sumOf(spectra: readonly Spectrum[], size: number): Spectrum {
  const sum = { re: new Float64Array(size), im: new Float64Array(size) };
  for (const { re, im } of spectra)
    for (let i = 0; i < size; i++) {
      sum.re[i]! += re[i]!;
      sum.im[i]! += im[i]!;
    }
  return sum;
}
