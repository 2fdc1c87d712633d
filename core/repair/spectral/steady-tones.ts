/**
 * Tones that are always there, and what they are at each moment: a fundamental that may drift, and multiples of it that
 * keep in step. Each is brought down to zero frequency and evened out over time with weights that turn moments down
 * at which something else sounds there (iteratively re-weighted least squares), so that speech neither pulls the
 * estimate nor loses anything by it: what is taken away is as narrow as the time over which it is evened out is long.
 */
import { sinCosTurns } from "../../math/elementary";
import type { Hertz, Seconds } from "../../signal/units";

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

/** Frequencies are looked for in stretches of this length … */
const TRACK_SECONDS: Seconds = 1;
/** … this far apart. */
const TRACK_HOP_SECONDS: Seconds = 0.25;
const ROUNDS = 4;

/** Sums of `y` against each tone, under a Hann window of two hops around each whole multiple of the hop. */
interface Bands {
  /** [tone][frame] */
  re: Float64Array[];
  im: Float64Array[];
}

/** Phase of the fundamental, in turns, and its frequency in turns per sample, at each frame. */
interface Track {
  turns: Float64Array;
  step: Float64Array;
}

/** The sum of the tones at each sample of `y`; `first` is the place of its first sample. */
export function steadyTones(y: Float32Array, first: number, rate: Hertz, setting: ToneSetting): Float32Array {
  const hop = Math.max(4, Math.round(rate / Math.max(25, Math.min(60, setting.baseHz))));
  const firstFrame = Math.ceil(first / hop) + 1;
  const count = Math.floor((first + y.length) / hop) - firstFrame;
  const tones = new Float32Array(y.length);
  if (count < 3) return tones;
  const grid = { hop, firstFrame, count, first, rate };
  const { multiples, withinHz } = setting;
  let track = steadyTrack(grid, setting.baseHz);
  let bands = bandsOf(y, grid, track, multiples);
  if (withinHz > 0) {
    const half = Math.max(2, Math.round((TRACK_SECONDS * rate) / hop));
    track = corrected(track, bands, grid, setting, withinHz, half >> 1);
    bands = bandsOf(y, grid, track, multiples);
    const finer = corrected(track, bands, grid, setting, withinHz / 8, half);
    turnBy(bands, track, finer, multiples);
    track = finer;
  }
  for (let m = 0; m < multiples.length; m++)
    evenedOut(bands.re[m]!, bands.im[m]!, (setting.steadySeconds * rate) / hop);
  sum(tones, bands, grid, track, multiples);
  return tones;
}

interface Grid {
  hop: number;
  firstFrame: number;
  count: number;
  first: number;
  rate: Hertz;
}

function steadyTrack({ hop, firstFrame, count, rate }: Grid, hertz: Hertz): Track {
  const step = hertz / rate;
  return {
    turns: Float64Array.from({ length: count }, (_, n) => ((firstFrame + n) * hop * step) % 1),
    step: new Float64Array(count).fill(step),
  };
}

/** A Hann window of 2 · `half` points, the first of them 0. */
const bell = (half: number): Float64Array =>
  Float64Array.from({ length: 2 * half }, (_, i) => 0.5 - 0.5 * sinCosTurns(i / (2 * half)).cos);

/** Hot: each sample twice for each multiple. */
function bandsOf(y: Float32Array, grid: Grid, track: Track, multiples: readonly number[]): Bands {
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
function turnBy({ re, im }: Bands, from: Track, to: Track, multiples: readonly number[]): void {
  multiples.forEach((multiple, m) => {
    const [a, b] = [re[m]!, im[m]!];
    for (let n = 0; n < a.length; n++) {
      const { cos, sin } = sinCosTurns(multiple * (from.turns[n]! - to.turns[n]!));
      [a[n], b[n]] = [a[n]! * cos - b[n]! * sin, a[n]! * sin + b[n]! * cos];
    }
  });
}

/**
 * Looks for the frequency that lines all multiples up best, stretch by stretch, and corrects the track by it.
 * Each multiple counts by how far its line stands above what else sounds there. Frequencies up to `withinHz` away are
 * tried; the likeliest way through all stretches counts, where changing by `wanderHz` a second costs as much as one
 * multiple explains.
 */
function corrected(
  track: Track,
  bands: Bands,
  { hop, count, rate }: Grid,
  { multiples, withinHz: wanderHz }: ToneSetting,
  withinHz: Hertz,
  half: number,
): Track {
  const spacing = Math.max(1, Math.round((TRACK_HOP_SECONDS * rate) / hop));
  const highest = multiples[multiples.length - 1]!;
  // Fine enough that the highest multiple does not slip by more than an eighth of its line's width.
  const stepHz = Math.min(withinHz / 4, rate / hop / (8 * highest * half));
  const steps = Math.min(400, Math.ceil(withinHz / stepHz));
  const window = bell(half + 1).subarray(1);
  const places: number[] = [];
  const scores: Float64Array[] = [];
  for (let centre = 0; centre < count + spacing; centre += spacing) {
    const at = Math.min(centre, count - 1);
    const from = Math.max(0, at - half);
    const to = Math.min(count, at + half + 1);
    // Where a window is cut off by an end, what it sees lies further in.
    const weights = window.subarray(from - at + half, to - at + half);
    const [sum, moment] = weights.reduce(([a, b], w, i) => [a + w, b + w * (from + i)], [0, 0]);
    places.push(moment / sum);
    const here = new Float64Array(2 * steps + 1);
    for (let m = 0; m < multiples.length; m++)
      score(
        bands.re[m]!.subarray(from, to),
        bands.im[m]!.subarray(from, to),
        weights,
        (multiples[m]! * stepHz * hop) / rate,
        here,
      );
    scores.push(here);
  }
  const knots = likeliestPath(scores, stepHz / (wanderHz * TRACK_HOP_SECONDS)).map((step, i) => {
    const [a, b, c] = [-1, 0, 1].map((d) => scores[i]![step + d] ?? scores[i]![step]!) as [number, number, number];
    const bend = a - 2 * b + c;
    const between = bend < 0 && b >= a && b >= c ? (0.5 * (a - c)) / bend : 0;
    return { at: places[i]!, hertz: (step - steps + between) * stepHz, weight: b * b };
  });
  const hertzAt = smoothLine(knots, count);
  const step = track.step.map((own, n) => own + hertzAt[n]! / rate);
  const turns = new Float64Array(count);
  turns[0] = track.turns[0]!;
  for (let n = 1; n < count; n++) turns[n] = (turns[n - 1]! + 0.5 * hop * (step[n - 1]! + step[n]!)) % 1;
  return { turns, step };
}

/** Adds what part of the band's power each frequency explains, 0…1, to `scores`; the window spans the stretch. */
function score(
  re: Float64Array,
  im: Float64Array,
  window: Float64Array,
  turnsPerFrame: number,
  scores: Float64Array,
): void {
  const steps = (scores.length - 1) / 2;
  const length = re.length;
  const wr = new Float64Array(length);
  const wi = new Float64Array(length);
  // Loud moments are something else: each frame counts by its direction, damped where it is larger than most.
  const powers = re.map((v, i) => v * v + im[i]! * im[i]!);
  const usual = powers.slice().sort()[length >> 2]!;
  let weights = 0;
  for (let i = 0; i < length; i++) {
    const power = powers[i]!;
    if (power === 0) continue;
    const weight = window[i]! * Math.min(1, usual / power);
    const damped = weight / Math.sqrt(power);
    wr[i] = re[i]! * damped;
    wi[i] = im[i]! * damped;
    weights += weight;
  }
  if (weights === 0) return;
  // Frames between which the highest frequency turns by less than an eighth count as one.
  const group = Math.max(1, Math.floor(1 / (8 * steps * turnsPerFrame)));
  const groups = Math.ceil(length / group);
  for (let g = 0; g < groups; g++) {
    let [sumRe, sumIm] = [0, 0];
    for (let i = g * group; i < Math.min(length, (g + 1) * group); i++) {
      sumRe += wr[i]!;
      sumIm += wi[i]!;
    }
    wr[g] = sumRe;
    wi[g] = sumIm;
  }
  // By Clenshaw’s recurrence (1955), for two frequencies that mirror each other at once.
  for (let j = 0; j <= steps; j++) {
    const { cos, sin } = sinCosTurns(j * turnsPerFrame * group);
    const twice = 2 * cos;
    let [r1, r2, i1, i2] = [0, 0, 0, 0];
    for (let i = groups - 1; i >= 0; i--) {
      const r0 = wr[i]! + twice * r1 - r2;
      r2 = r1;
      r1 = r0;
      const i0 = wi[i]! + twice * i1 - i2;
      i2 = i1;
      i1 = i0;
    }
    // Σ w·cos θn and Σ w·sin θn of the real and of the imaginary part.
    const [realRe, realIm, imagRe, imagIm] = [r1 - r2 * cos, r2 * sin, i1 - i2 * cos, i2 * sin];
    const power = (side: 1 | -1) => (realRe - side * imagIm) ** 2 + (side * realIm + imagRe) ** 2;
    scores[steps - j]! += power(1) / (weights * weights);
    if (j > 0) scores[steps + j]! += power(-1) / (weights * weights);
  }
}

/** Viterbi's way through the scores: at each place a step, such that scores less (change · `cost`)² add up to the most. */
function likeliestPath(scores: readonly Float64Array[], cost: number): number[] {
  const size = scores[0]!.length;
  const reach = Math.min(size - 1, Math.ceil(3 / cost));
  let sums = scores[0]!.slice();
  const cameFrom: Int32Array[] = [];
  for (const here of scores.slice(1)) {
    const next = new Float64Array(size);
    const back = new Int32Array(size);
    for (let j = 0; j < size; j++) {
      let [most, at] = [-Infinity, j];
      for (let k = Math.max(0, j - reach); k <= Math.min(size - 1, j + reach); k++) {
        const sum = sums[k]! - ((j - k) * cost) ** 2;
        if (sum > most) [most, at] = [sum, k];
      }
      next[j] = most + here[j]!;
      back[j] = at;
    }
    cameFrom.push(back);
    sums = next;
  }
  let step = sums.indexOf(sums.reduce((most, sum) => Math.max(most, sum)));
  const path = [step];
  for (const back of cameFrom.reverse()) path.push((step = back[step]!));
  return path.reverse();
}

interface Knot {
  at: number;
  hertz: number;
  weight: number;
}

/** A line through the knots, each evened out by a straight line through its neighbours by weight. */
function smoothLine(knots: readonly Knot[], count: number): Float64Array {
  const even = knots.map(({ at }, i) => levelAt(at, knots.slice(Math.max(0, i - 2), i + 3)));
  const line = new Float64Array(count);
  for (let n = 0, i = 0; n < count; n++) {
    while (i < knots.length - 2 && knots[i + 1]!.at <= n) i++;
    const span = Math.max(1, (knots[i + 1]?.at ?? knots[i]!.at) - knots[i]!.at);
    const share = (n - knots[i]!.at) / span;
    line[n] = even[i]! * (1 - share) + (even[i + 1] ?? even[i]!) * share;
  }
  return line;
}

/** The value at `at` of the weighted least-squares line through knots that lie around it. */
function levelAt(at: number, knots: readonly Knot[]): number {
  const span = Math.max(...knots.map((knot) => Math.abs(knot.at - at))) + 1;
  let [w, wx, wxx, wy, wxy] = [1e-12, 0, 1e-9, 0, 0];
  for (const knot of knots) {
    const x = (knot.at - at) / span;
    const weight = knot.weight * (1.5 - Math.abs(x));
    w += weight;
    wx += weight * x;
    wxx += weight * x * x;
    wy += weight * knot.hertz;
    wxy += weight * x * knot.hertz;
  }
  return (wxx * wy - wx * wxy) / (w * wxx - wx * wx);
}

/** Evens a band out over `steady` frames, robustly, in place. */
function evenedOut(re: Float64Array, im: Float64Array, steady: number): void {
  const count = re.length;
  const weights = new Float64Array(count).fill(1);
  const [meanRe, meanIm] = [new Float64Array(count), new Float64Array(count)];
  for (let round = 0; round < ROUNDS; round++) {
    weightedMean(re, im, weights, steady, meanRe, meanIm);
    if (round === ROUNDS - 1) break;
    const off = Float64Array.from({ length: count }, (_, n) => (re[n]! - meanRe[n]!) ** 2 + (im[n]! - meanIm[n]!) ** 2);
    const usual = off.slice().sort()[Math.floor(count / 4)]! + 1e-24;
    for (let n = 0; n < count; n++) weights[n] = usual / (usual + off[n]!);
  }
  re.set(meanRe);
  im.set(meanIm);
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

/** Adds up the tones between the frames. Hot. */
function sum(tones: Float32Array, { re, im }: Bands, grid: Grid, track: Track, multiples: readonly number[]): void {
  const { hop, firstFrame, count, first } = grid;
  for (let n = -1; n < count; n++) {
    const [a, b] = [Math.max(0, n), Math.min(count - 1, n + 1)];
    const start = (firstFrame + n) * hop - first;
    const low = Math.max(0, n < 0 ? -start : -start);
    const high = Math.min(n === count - 1 ? 2 * hop : hop, tones.length - start);
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
