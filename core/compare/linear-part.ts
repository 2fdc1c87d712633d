/**
 * What of the difference of two recordings a linear filter explains, and what is left over: transfer function and
 * coherence by averaged cross-spectra (Welch 1967; H1 estimator, Bendat and Piersol, Random Data, 6.1).
 */
import { powerToDb } from "../audio/decibel";
import type { FrameSource } from "../audio/frame-source";
import { emptyPlanar, framesOf, type Decibels, type Frames, type Hertz, type Planar } from "../audio/units";
import { exp2, sinCosTurns, square } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import type { Alignment } from "./alignment";

export interface LinearPart {
  /** What the filter does from the first to the second, in twelfths of an octave: [Hz, dB]. */
  response: [Hertz, Decibels][];
  /** Power of the second that no filter of the first explains, against all of it. */
  leftOverDb: Decibels;
}

const WINDOW: Frames = 8192;
const HOP: Frames = WINDOW / 2;
/** Windows at most, spread over all of it: more tell no more. */
const MOST_WINDOWS = 600;
const LOWEST: Hertz = 20;
const PER_OCTAVE = 12;
/** A band, or a recording, with less than this share of the other's power is as good as silent. */
const LEAST_SHARE = 1e-12;

async function readAt(source: FrameSource, start: Frames, count: Frames): Promise<Planar | null> {
  if (start < 0 || start + count > source.frames) return null;
  return source.read(start, count);
}

/** Averaged auto- and cross-spectra of two real signals. */
class CrossSpectra {
  readonly #fft = new Fft(WINDOW);
  readonly #window = Float64Array.from({ length: WINDOW }, (_, i) => 0.5 - 0.5 * sinCosTurns(i / WINDOW).cos);
  readonly #re = new Float64Array(WINDOW);
  readonly #im = new Float64Array(WINDOW);
  readonly first = new Float64Array(WINDOW / 2 + 1);
  readonly second = new Float64Array(WINDOW / 2 + 1);
  readonly crossRe = new Float64Array(WINDOW / 2 + 1);
  readonly crossIm = new Float64Array(WINDOW / 2 + 1);

  add(x: Float32Array, y: Float32Array): void {
    const [re, im] = [this.#re, this.#im];
    for (let i = 0; i < WINDOW; i++) {
      re[i] = x[i]! * this.#window[i]!;
      im[i] = y[i]! * this.#window[i]!;
    }
    this.#fft.forward(re, im);
    // Two real signals in one transform: X = (Z(k) + Z*(−k)) / 2, Y = (Z(k) − Z*(−k)) / 2i.
    for (let k = 0; k <= WINDOW / 2; k++) {
      const mirror = (WINDOW - k) % WINDOW;
      const [xr, xi] = [(re[k]! + re[mirror]!) / 2, (im[k]! - im[mirror]!) / 2];
      const [yr, yi] = [(im[k]! + im[mirror]!) / 2, (re[mirror]! - re[k]!) / 2];
      this.first[k]! += xr * xr + xi * xi;
      this.second[k]! += yr * yr + yi * yi;
      this.crossRe[k]! += yr * xr + yi * xi;
      this.crossIm[k]! += yi * xr - yr * xi;
    }
  }
}

/** `null` where the two lie on each other for less than a few windows, or the first is silent. */
export async function linearPart(
  first: FrameSource,
  second: FrameSource,
  { shift }: Pick<Alignment, "shift">,
): Promise<LinearPart | null> {
  const channels = Math.min(first.channels, second.channels);
  const begin = Math.max(0, -shift);
  const end = Math.min(first.frames, second.frames - shift);
  const count = Math.min(MOST_WINDOWS, Math.floor((end - begin - WINDOW) / HOP) + 1);
  if (count < 4) return null;
  const spectra = new CrossSpectra();
  const stride = count === MOST_WINDOWS ? Math.floor((end - begin - WINDOW) / (count - 1)) : HOP;
  for (let n = 0; n < count; n++) {
    const at = begin + n * stride;
    const [a, b] = [await readAt(first, at, WINDOW), await readAt(second, at + shift, WINDOW)];
    const [x, y] = [a ?? emptyPlanar(channels, WINDOW), b ?? emptyPlanar(channels, WINDOW)];
    if (framesOf(x) < WINDOW || framesOf(y) < WINDOW) continue;
    for (let c = 0; c < channels; c++) spectra.add(x[c]!, y[c]!);
  }
  return partOf(spectra, first.sampleRate);
}

function partOf(spectra: CrossSpectra, sampleRate: Hertz): LinearPart | null {
  const { first, second, crossRe, crossIm } = spectra;
  const total = first.reduce((sum, power) => sum + power, 0);
  const all = second.reduce((sum, power) => sum + power, 0);
  // Rounding puts a little of the one into a silent other.
  if (total <= LEAST_SHARE * all || all <= LEAST_SHARE * total) return null;
  /** Power of the second that the filter gives. */
  const explained = (k: number) => (first[k]! > 0 ? (square(crossRe[k]!) + square(crossIm[k]!)) / first[k]! : 0);
  const response: [Hertz, Decibels][] = [];
  const binOf = (hertz: Hertz) => (hertz / sampleRate) * WINDOW;
  for (let n = 0; ; n++) {
    const hertz = LOWEST * exp2(n / PER_OCTAVE);
    if (hertz * exp2(0.5 / PER_OCTAVE) > sampleRate / 2) break;
    const [from, to] = [-0.5, 0.5].map((half) => Math.round(binOf(hertz * exp2(half / PER_OCTAVE)))) as [
      number,
      number,
    ];
    let [power, came] = [0, 0];
    for (let k = Math.max(1, from); k < Math.max(from + 1, to); k++) {
      power += explained(k);
      came += first[k]!;
    }
    if (came > LEAST_SHARE * total && power > 0) response.push([hertz, powerToDb(power / came)]);
  }
  let left = 0;
  for (let k = 0; k < second.length; k++) left += Math.max(0, second[k]! - explained(k));
  return { response, leftOverDb: powerToDb(left / all) };
}
