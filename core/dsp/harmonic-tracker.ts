/** The track of a fundamental: where it lies at each moment, by the likeliest way through what all its multiples tell. */
import { sinCosTurns, square } from "../math/deterministic-math";
import type { Hertz, Seconds } from "../audio/units";

/** Frequencies are looked for in stretches this far apart. */
const TRACK_HOP_SECONDS: Seconds = 0.25;

/** Sums of `y` against each tone, under a Hann window of two hops around each whole multiple of the hop. */
export interface Bands {
  /** [tone][frame] */
  re: Float64Array[];
  im: Float64Array[];
}

/** Phase of the fundamental, in turns, and its frequency in turns per sample, at each frame. */
export interface HarmonicTrack {
  turns: Float64Array;
  step: Float64Array;
}

/** Frames of a block of samples: their hop, the first of them in hops, how many; the place of the block's first sample. */
export interface Grid {
  hop: number;
  firstFrame: number;
  count: number;
  first: number;
  rate: Hertz;
}

export function harmonicTrack({ hop, firstFrame, count, rate }: Grid, hertz: Hertz): HarmonicTrack {
  const step = hertz / rate;
  return {
    turns: Float64Array.from({ length: count }, (_, n) => ((firstFrame + n) * hop * step) % 1),
    step: new Float64Array(count).fill(step),
  };
}

/** A Hann window of 2 · `half` points, the first of them 0. */
export const bell = (half: number): Float64Array =>
  Float64Array.from({ length: 2 * half }, (_, i) => 0.5 - 0.5 * sinCosTurns(i / (2 * half)).cos);

/** Which multiples, and how far the fundamental may wander in a second. */
interface Tracked {
  multiples: readonly number[];
  withinHz: Hertz;
}

/**
 * Looks for the frequency that lines all multiples up best, stretch by stretch, and corrects the track by it.
 * Each multiple counts by how far its line stands above what else sounds there. Frequencies up to `withinHz` away are
 * tried; the likeliest way through all stretches counts, where changing by `wanderHz` a second costs as much as one
 * multiple explains.
 */
export function corrected(
  track: HarmonicTrack,
  bands: Bands,
  { hop, count, rate }: Grid,
  { multiples, withinHz: wanderHz }: Tracked,
  withinHz: Hertz,
  half: number,
): HarmonicTrack {
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
    const power = (side: 1 | -1) => square(realRe - side * imagIm) + square(side * realIm + imagRe);
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
        const sum = sums[k]! - square((j - k) * cost);
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
