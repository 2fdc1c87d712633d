/**
 * Tones that are always there, and what they are at each moment: a fundamental that may drift, and multiples of it that
 * keep in step. Each is brought down to zero frequency and evened out over time with weights that turn moments down
 * at which something else sounds there (iteratively re-weighted least squares), so that speech neither pulls the
 * estimate nor loses anything by it: what is taken away is as narrow as the time over which it is evened out is long.
 */
import { sinCosTurns, square } from "../math/deterministic-math";
import type { Hertz, Seconds } from "../audio/units";
import { steadyTone } from "./steady-tone";
import { bell, corrected, harmonicTrack, type Bands, type Grid, type HarmonicTrack } from "./harmonic-tracker";

export interface ToneSetting {
  /** What the tones are multiples of, about. */
  baseHz: Hertz;
  /** Which multiples, rising. */
  multiples: readonly number[];
  /** How far the fundamental may lie from `baseHz`. */
  withinHz: Hertz;
  /** How long they stay much the same. */
  steadySeconds: Seconds;
}

/** Frequencies are looked for in stretches of this length. */
const TRACK_SECONDS: Seconds = 1;
const ROUNDS = 4;

/** The sum of the tones at each sample of `y`, whose first has the place `first`, and `margin` samples before and after. */
export function harmonicCanceller(
  y: Float32Array,
  first: number,
  rate: Hertz,
  setting: ToneSetting,
  margin = 0,
): Float32Array {
  const hop = Math.max(4, Math.round(rate / Math.max(25, Math.min(60, setting.baseHz))));
  const firstFrame = Math.ceil(first / hop) + 1;
  const count = Math.floor((first + y.length) / hop) - firstFrame;
  const tones = new Float32Array(y.length + 2 * margin);
  if (count < 3) return tones;
  const grid = { hop, firstFrame, count, first, rate };
  const { multiples, withinHz } = setting;
  let track = harmonicTrack(grid, setting.baseHz);
  let bands = bandsOf(y, grid, track, multiples);
  if (withinHz > 0) {
    const half = Math.max(2, Math.round((TRACK_SECONDS * rate) / hop));
    track = corrected(track, bands, grid, setting, withinHz, half >> 1);
    bands = bandsOf(y, grid, track, multiples);
    const finer = corrected(track, bands, grid, setting, withinHz / 8, half);
    turnBy(bands, track, finer, multiples);
    track = finer;
  }
  const left = multiples.map((_, m) => evenedOut(bands.re[m]!, bands.im[m]!, (setting.steadySeconds * rate) / hop));
  const steady = multiples.length === 1 ? steadyInstead(y, grid, track, left[0]!) : undefined;
  sum(tones, first - margin, steady?.bands ?? bands, grid, steady?.track ?? track, multiples);
  return tones;
}

/** Of what a steady tone and the followed one leave of a frame, the steady one's share: on average no more than about half. */
const AS_GOOD = 0.55;

/** One tone of one frequency and level, where it explains the band as well as what was followed. */
function steadyInstead(
  y: Float32Array,
  grid: Grid,
  followed: HarmonicTrack,
  left: Float64Array,
): { track: HarmonicTrack; bands: Bands } | undefined {
  const { hop, count, rate } = grid;
  const middle = followed.step.slice().sort()[count >> 1]!;
  const around = harmonicTrack(grid, middle * rate);
  const about = bandsOf(y, grid, around, [1]);
  const tone = steadyTone(about.re[0]!, about.im[0]!, 0);
  const hertz = (middle + tone.turnsPerFrame / hop) * rate;
  const share = left.reduce((sum, own, n) => sum + tone.left[n]! / (tone.left[n]! + own + 1e-30), 0) / count;
  if (share > AS_GOOD) return undefined;
  const track = harmonicTrack(grid, hertz);
  const bands = bandsOf(y, grid, track, [1]);
  const exact = steadyTone(bands.re[0]!, bands.im[0]!, 0);
  bands.re[0]!.fill(exact.re);
  bands.im[0]!.fill(exact.im);
  return { track, bands };
}

/** Hot: each sample twice for each multiple. */
function bandsOf(y: Float32Array, grid: Grid, track: HarmonicTrack, multiples: readonly number[]): Bands {
  const { hop, firstFrame, count, first } = grid;
  const window = bell(hop).map((w) => w / hop);
  const re = multiples.map(() => new Float64Array(count));
  const im = multiples.map(() => new Float64Array(count));
  for (let n = 0; n < count; n++) {
    const start = (firstFrame + n) * hop - hop - first;
    const low = Math.max(0, -start);
    const high = Math.min(2 * hop, y.length - start);
    for (let m = 0; m < multiples.length; m++) {
      const step = sinCosTurns(track.step[n]! * multiples[m]!);
      const begin = sinCosTurns((track.turns[n]! + (low - hop) * track.step[n]!) * multiples[m]!);
      let [c, s] = [begin.cos, begin.sin];
      const [dc, ds] = [step.cos, step.sin];
      let sumRe = 0;
      let sumIm = 0;
      for (let i = low; i < high; i++) {
        const v = y[start + i]! * window[i]!;
        sumRe += v * c;
        sumIm -= v * s;
        const next = c * dc - s * ds;
        s = c * ds + s * dc;
        c = next;
      }
      re[m]![n] = sumRe;
      im[m]![n] = sumIm;
    }
  }
  return { re, im };
}

/** Brings bands from one track to another that is so near that the windows tell no difference. */
function turnBy({ re, im }: Bands, from: HarmonicTrack, to: HarmonicTrack, multiples: readonly number[]): void {
  multiples.forEach((multiple, m) => {
    const [a, b] = [re[m]!, im[m]!];
    for (let n = 0; n < a.length; n++) {
      const { cos, sin } = sinCosTurns(multiple * (from.turns[n]! - to.turns[n]!));
      [a[n], b[n]] = [a[n]! * cos - b[n]! * sin, a[n]! * sin + b[n]! * cos];
    }
  });
}

/** Evens a band out over `steady` frames, robustly, in place. @returns power of what that leaves of each */
function evenedOut(re: Float64Array, im: Float64Array, steady: number): Float64Array {
  const count = re.length;
  const weights = new Float64Array(count).fill(1);
  const [meanRe, meanIm] = [new Float64Array(count), new Float64Array(count)];
  const left = new Float64Array(count);
  for (let round = 0; round < ROUNDS; round++) {
    weightedMean(re, im, weights, steady, meanRe, meanIm);
    for (let n = 0; n < count; n++) left[n] = square(re[n]! - meanRe[n]!) + square(im[n]! - meanIm[n]!);
    if (round === ROUNDS - 1) break;
    const usual = left.slice().sort()[Math.floor(count / 4)]! + 1e-24;
    for (let n = 0; n < count; n++) weights[n] = usual / (usual + left[n]!);
  }
  re.set(meanRe);
  im.set(meanIm);
  return left;
}

/** Weighted means under a two-sided exponential of a Gaussian's smoothness: forwards and backwards, twice. */
function weightedMean(
  re: Float64Array,
  im: Float64Array,
  weights: Float64Array,
  steady: number,
  meanRe: Float64Array,
  meanIm: Float64Array,
): void {
  const keep = 1 - 2 / (steady + 2);
  const sums = weights.slice();
  for (let n = 0; n < re.length; n++) {
    meanRe[n] = re[n]! * weights[n]!;
    meanIm[n] = im[n]! * weights[n]!;
  }
  for (const sums_ of [sums, meanRe, meanIm])
    for (let pass = 0; pass < 2; pass++) {
      for (let n = 0, held = 0; n < sums_.length; n++) sums_[n] = held = keep * held + (1 - keep) * sums_[n]!;
      for (let n = sums_.length - 1, held = 0; n >= 0; n--) sums_[n] = held = keep * held + (1 - keep) * sums_[n]!;
    }
  for (let n = 0; n < re.length; n++) {
    const sum = sums[n]!;
    meanRe[n] = sum > 0 ? meanRe[n]! / sum : 0;
    meanIm[n] = sum > 0 ? meanIm[n]! / sum : 0;
  }
}

/** Adds up the tones between the frames, and on before the first and after the last; `first` is where `tones` begin. Hot. */
function sum(
  tones: Float32Array,
  first: number,
  { re, im }: Bands,
  grid: Grid,
  track: HarmonicTrack,
  multiples: readonly number[],
): void {
  const { hop, firstFrame, count } = grid;
  for (let n = -1; n < count; n++) {
    const [a, b] = [Math.max(0, n), Math.min(count - 1, n + 1)];
    const start = (firstFrame + n) * hop - first;
    const low = n < 0 ? -start : Math.max(0, -start);
    const high = Math.min(n === count - 1 ? tones.length : hop, tones.length - start);
    const step = n < 0 ? track.step[0]! : track.step[n]!;
    const bend = n < 0 || n === count - 1 ? 0 : (track.step[n + 1]! - step) / hop / 2;
    const turns = n < 0 ? track.turns[0]! - hop * step : track.turns[n]!;
    for (let m = 0; m < multiples.length; m++) {
      const k = multiples[m]!;
      const [ar, ai, dr, di] = [
        re[m]![a]!,
        im[m]![a]!,
        (re[m]![b]! - re[m]![a]!) / hop,
        (im[m]![b]! - im[m]![a]!) / hop,
      ];
      // e^(2πi·k(turns + step·i + bend·i²)) by recurrence: the turn itself turns.
      const begin = sinCosTurns(k * (turns + step * low + bend * low * low));
      const turn = sinCosTurns(k * (step + bend * (2 * low + 1)));
      const turning = sinCosTurns(k * 2 * bend);
      let [c, s, tc, ts] = [begin.cos, begin.sin, turn.cos, turn.sin];
      for (let i = low; i < high; i++) {
        const place = Math.min(i, hop);
        tones[start + i]! += 2 * ((ar + dr * place) * c - (ai + di * place) * s);
        const next = c * tc - s * ts;
        s = c * ts + s * tc;
        c = next;
        const nextTurn = tc * turning.cos - ts * turning.sin;
        ts = tc * turning.sin + ts * turning.cos;
        tc = nextTurn;
      }
    }
  }
}
