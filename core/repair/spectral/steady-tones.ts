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
export function steadyTones(y: Float64Array, first: number, rate: Hertz, setting: ToneSetting): Float64Array {
  const hop = Math.max(4, Math.round(rate / Math.max(25, Math.min(60, setting.baseHz))));
  const firstFrame = Math.ceil(first / hop) + 1;
  const count = Math.floor((first + y.length) / hop) - firstFrame;
  const tones = new Float64Array(y.length);
  if (count < 3) return tones;
  const grid = { hop, firstFrame, count, first, rate };
  let track = steadyTrack(grid, setting.baseHz);
  for (const [round, within] of [setting.withinHz, setting.withinHz / 8].entries()) {
    if (within === 0) break;
    track = corrected(track, bandsOf(y, grid, track, setting.multiples), grid, setting, within, round);
  }
  const bands = bandsOf(y, grid, track, setting.multiples);
  for (let m = 0; m < setting.multiples.length; m++)
    evenedOut(bands.re[m]!, bands.im[m]!, (setting.steadySeconds * rate) / hop);
  sum(tones, bands, grid, track, setting.multiples);
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

/** Hot: each sample twice for each multiple. */
function bandsOf(y: Float64Array, grid: Grid, track: Track, multiples: readonly number[]): Bands {
  const { hop, firstFrame, count, first } = grid;
  const window = Float64Array.from({ length: 2 * hop }, (_, i) => (0.5 - 0.5 * sinCosTurns(i / (2 * hop)).cos) / hop);
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

/**
 * Looks for the frequency that lines all multiples up best, stretch by stretch, and corrects the track by it.
 * Each multiple counts by how far its line stands above what else sounds there.
 */
function corrected(
  track: Track,
  bands: Bands,
  { hop, count, rate }: Grid,
  { multiples }: ToneSetting,
  withinHz: Hertz,
  round: number,
): Track {
  const half = Math.max(2, Math.round((TRACK_SECONDS * rate) / hop / (round === 0 ? 2 : 1)));
  const spacing = Math.max(1, Math.round((TRACK_HOP_SECONDS * rate) / hop));
  const highest = multiples[multiples.length - 1]!;
  // Fine enough that the highest multiple does not slip by more than an eighth of its line's width.
  const stepHz = Math.min(withinHz / 4, rate / hop / (8 * highest * half));
  const steps = Math.min(400, Math.ceil(withinHz / stepHz));
  const knots: { at: number; hertz: number; weight: number }[] = [];
  for (let centre = 0; centre < count + spacing; centre += spacing) {
    const at = Math.min(centre, count - 1);
    const from = Math.max(0, at - half);
    const to = Math.min(count, at + half + 1);
    const scores = new Float64Array(2 * steps + 1);
    for (let m = 0; m < multiples.length; m++)
      score(bands.re[m]!, bands.im[m]!, from, to, at, half, (multiples[m]! * stepHz * hop) / rate, scores);
    let best = 0;
    for (let j = 1; j < scores.length; j++) if (scores[j]! > scores[best]!) best = j;
    const [a, b, c] = [scores[best - 1] ?? scores[best]!, scores[best]!, scores[best + 1] ?? scores[best]!];
    const bend = a - 2 * b + c;
    const between = bend < 0 ? (0.5 * (a - c)) / bend : 0;
    knots.push({ at, hertz: (best - steps + between) * stepHz, weight: b * b });
  }
  const hertzAt = smoothLine(knots, count);
  const step = track.step.map((own, n) => own + hertzAt[n]! / rate);
  const turns = new Float64Array(count);
  turns[0] = track.turns[0]!;
  for (let n = 1; n < count; n++) turns[n] = (turns[n - 1]! + 0.5 * hop * (step[n - 1]! + step[n]!)) % 1;
  return { turns, step };
}

/** Adds what part of the band's power each frequency explains, 0…1, to `scores`. */
function score(
  re: Float64Array,
  im: Float64Array,
  from: number,
  to: number,
  centre: number,
  half: number,
  turnsPerFrame: number,
  scores: Float64Array,
): void {
  const steps = (scores.length - 1) / 2;
  const length = to - from;
  const wr = new Float64Array(length);
  const wi = new Float64Array(length);
  // Loud moments are something else: each frame counts by its direction, damped where it is larger than most.
  const sizes = new Float64Array(length);
  for (let i = 0; i < length; i++) sizes[i] = Math.sqrt(re[from + i]! ** 2 + im[from + i]! ** 2);
  const usual = sizes.slice().sort()[length >> 2]!;
  let weights = 0;
  for (let i = 0; i < length; i++) {
    const size = sizes[i]!;
    const d = (from + i - centre) / (half + 1);
    const w = 0.5 + 0.5 * sinCosTurns(d / 2).cos;
    const damped = size > 0 ? (w * Math.min(1, (usual / size) ** 2)) / size : 0;
    wr[i] = re[from + i]! * damped;
    wi[i] = im[from + i]! * damped;
    weights += damped * size;
  }
  if (weights === 0) return;
  // By Clenshaw’s recurrence (1955), for two frequencies that mirror each other at once.
  for (let j = 0; j <= steps; j++) {
    const { cos, sin } = sinCosTurns(j * turnsPerFrame);
    const twice = 2 * cos;
    let [r1, r2, i1, i2] = [0, 0, 0, 0];
    for (let i = length - 1; i >= 0; i--) {
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

/** A line through the knots, each evened out with its neighbours by weight. */
function smoothLine(knots: { at: number; hertz: number; weight: number }[], count: number): Float64Array {
  const even = knots.map((_, i) => {
    let sum = 0;
    let weights = 0;
    for (let j = Math.max(0, i - 2); j <= Math.min(knots.length - 1, i + 2); j++) {
      const w = knots[j]!.weight * (3 - Math.abs(i - j)) + 1e-12;
      sum += w * knots[j]!.hertz;
      weights += w;
    }
    return sum / weights;
  });
  const line = new Float64Array(count);
  for (let n = 0, i = 0; n < count; n++) {
    while (i < knots.length - 2 && knots[i + 1]!.at <= n) i++;
    const span = Math.max(1, (knots[i + 1]?.at ?? knots[i]!.at) - knots[i]!.at);
    const share = Math.min(1, Math.max(0, (n - knots[i]!.at) / span));
    line[n] = even[i]! * (1 - share) + (even[i + 1] ?? even[i]!) * share;
  }
  return line;
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
      for (let n = 1, held = sums_[0]!; n < sums_.length; n++) sums_[n] = held = keep * held + (1 - keep) * sums_[n]!;
      for (let n = sums_.length - 2, held = sums_[n + 1]!; n >= 0; n--)
        sums_[n] = held = keep * held + (1 - keep) * sums_[n]!;
    }
  for (let n = 0; n < re.length; n++) {
    const sum = sums[n]!;
    meanRe[n] = sum > 0 ? meanRe[n]! / sum : 0;
    meanIm[n] = sum > 0 ? meanIm[n]! / sum : 0;
  }
}

/** Adds up the tones between the frames. Hot. */
function sum(tones: Float64Array, { re, im }: Bands, grid: Grid, track: Track, multiples: readonly number[]): void {
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
