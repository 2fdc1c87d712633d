/**
 * The continuous waveform between samples, where it may matter (ITU-R BS.1770-5 Annex 2, with longer filters). A bound,
 * or a prescan at two points a sample, tells where something may rise above a threshold; there a 4× interpolator draws
 * the waveform, and its crests that may rise above are measured on a 16× grid of 256 taps, with a parabola through the
 * three highest points.
 */
import type { Frames } from "../audio/units";
import { kaiserPhases } from "../math/kaiser";
import {
  FINE_TAPS,
  GRID_MARGIN,
  GRID_PAIRS,
  interpolator as interpolatorOf,
  STRETCH,
  TAKEN_MOST,
  type InterpolatorTaps,
} from "../kernels/interpolator";
import { PRESCAN_GAIN, PRESCAN_GROUP, type TruePeakPrescan } from "../kernels/true-peak-prescan";

const COARSE = 4;
const COARSE_TAPS = 2 * GRID_PAIRS;
const FINE = 16;
const FINE_PER_COARSE = FINE / COARSE;
/** Samples needed before and after those that are looked at. */
export const PEAK_MARGIN = GRID_MARGIN;
/** Samples that are well looked at together: the margins weigh little then. */
export const PEAK_CHUNK = TAKEN_MOST;
/**
 * Between two points half a sample apart, a waveform up to 0.5 fs keeps at least cos 45° of its crest (Bernstein's
 * inequality); the rest is for what the prescan's short filter loses up there.
 */
const CREST_OVER_PRESCAN = 1.42;
/**
 * A crest stands at most this much above the higher of the two points of the 4× grid around it: 8 % for the distance
 * between them at 0.5 fs, the rest for what the short filter loses up there.
 */
const CREST_OVER_GRID = 1.25;

/** See where it is used. */
const CURVATURE_ROOM = 0.2;

/** Name of the interpolator, reported beside every true peak. */
export const PEAK_FILTER = "16× windowed sinc of 256 taps a phase at the crests of a 4× scan, parabola between";

const coarse = kaiserPhases(COARSE, COARSE_TAPS, 60);
const fine = kaiserPhases(FINE, FINE_TAPS, 70);

/**
 * A filter's output lies between the two samples around it, and off that line by no more than this times the largest
 * second difference of the samples that it covers: Σ|g| of the filter less the line through the two samples that has
 * its moments, summed up twice.
 */
function offTheLine(filter: Float64Array): number {
  const before = filter.length / 2 - 1;
  const rest = Float64Array.from(filter);
  const moment = filter.reduce((sum, tap, k) => sum + tap * (k - before), 0);
  rest[before]! -= filter.reduce((sum, tap) => sum + tap, 0) - moment;
  rest[before + 1]! -= moment;
  let [once, twice, norm] = [0, 0, 0];
  for (const tap of rest) {
    once += tap;
    twice += once;
    norm += Math.abs(twice);
  }
  return norm;
}
const BEND_GAIN = Math.max(...[...coarse, ...fine].map(offTheLine));
/** The parabola through points of the fine grid stands at most so much above them. */
const CREST_OVER_FINE = 1.01;

// The quarter and three-quarter phases mirror each other: sums and differences halve the multiplications.
const quarterTap = (t: number) => [coarse[1]![t]!, coarse[1]![COARSE_TAPS - 1 - t]!] as const;
/** Taps of the 4× scan, for the kernel and its reference implementation. */
export const INTERPOLATOR_TAPS: InterpolatorTaps = {
  even: Float32Array.from({ length: GRID_PAIRS }, (_, t) => (quarterTap(t)[0] + quarterTap(t)[1]) / 2),
  odd: Float32Array.from({ length: GRID_PAIRS }, (_, t) => (quarterTap(t)[0] - quarterTap(t)[1]) / 2),
  middle: Float32Array.from(coarse[2]!.slice(0, GRID_PAIRS)),
  fine: fine.map((filter) => Float32Array.from(filter)),
};
const interpolator = interpolatorOf(INTERPOLATOR_TAPS);

/** Magnitudes on the 4× grid around one sample: the last point before it, its own four, the first after them. */
const near = new Float64Array(COARSE + 2);

/**
 * Raises `out`, for each sample `i` of `from`…`to`, to the largest magnitude of the waveform in [i, i+1) wherever that
 * can exceed `threshold`; elsewhere at most to a value not above it. What rises above the threshold depends on nothing
 * but the samples within PEAK_MARGIN and the threshold, so blocks do not matter. Hot.
 * @param x samples, valid in from − PEAK_MARGIN … to + PEAK_MARGIN
 * @param out result for sample i at out[i − from]
 */
export function intersamplePeaks(
  x: Float32Array,
  from: number,
  to: number,
  threshold: number,
  out: Float64Array,
): void {
  for (let start = from; start < to; start += PEAK_CHUNK) {
    const end = Math.min(to, start + PEAK_CHUNK);
    interpolator.take(x, start, end - start);
    peaksOfChunk(x, start, end, threshold, out, start - from);
  }
}

/** A maximum and where it is. */
export interface Peak {
  /** Magnitude. */
  level: number;
  frame: Frames;
}

/**
 * Raises `peak` to the highest magnitude of the waveform of samples `from`…`to`, its frame to the sample before it. Hot:
 * the maximum so far is the threshold, so that the expensive part stays rare.
 * @param x       samples, valid in from − PEAK_MARGIN … to + PEAK_MARGIN
 * @param prescan   prescans these samples
 * @param largest the largest magnitude of these samples, if it is known: the waveform is no lower
 */
export function raiseToHighest(
  x: Float32Array,
  from: number,
  to: number,
  peak: Peak,
  prescan: TruePeakPrescan,
  largest = 0,
): void {
  const known = largest * A_LITTLE_LESS;
  for (let start = from; start < to; start += PEAK_CHUNK) {
    const count = Math.min(to - start, PEAK_CHUNK);
    const last = Math.ceil(count / PRESCAN_GROUP);
    let threshold = peak.level > known ? peak.level : known;
    const groups = prescan(start, last, threshold / (CREST_OVER_PRESCAN * PRESCAN_GAIN));
    let taken = false;
    for (let g = 0; g < last; g++) {
      const prescanned = groups[g]!;
      if (prescanned * CREST_OVER_PRESCAN <= threshold) continue;
      if (!taken) interpolator.take(x, start, count);
      taken = true;
      const first = g * PRESCAN_GROUP;
      const length = Math.min(PRESCAN_GROUP, count - first);
      if (!scan(first, length, prescanned, threshold)) continue;
      found.fill(0, 0, length);
      peaksOfScan(x, start + first, length, first, threshold, found, 0);
      for (let i = 0; i < length; i++) {
        if (found[i]! <= peak.level) continue;
        peak.level = found[i]!;
        peak.frame = start + first + i;
      }
      if (peak.level > threshold) threshold = peak.level;
    }
  }
}

/** So that the largest sample itself is found. */
const A_LITTLE_LESS = 0.9999;
const found = new Float64Array(PRESCAN_GROUP);

/**
 * Peaks of samples `from`…`to`, which are taken up. What is left out must not depend on where stretches begin, for that
 * is where blocks begin: only what cannot rise above the threshold is, by how far filters can leave the line between two samples
 * and then by the very rule that holds for each sample.
 */
function peaksOfChunk(
  x: Float32Array,
  from: number,
  to: number,
  threshold: number,
  out: Float64Array,
  at: number,
): void {
  const stretches = Math.ceil((to - from) / STRETCH);
  const { largest, bends } = interpolator.rangeMaxima();
  for (let s = 0; s < stretches; s++) {
    const first = s * STRETCH;
    const length = Math.min(STRETCH, to - from - first);
    const own = Math.max(largest[s + 2]!, Math.abs(x[from + first + length]!));
    // Its own second differences and those of the two stretches on either side, as far as the filters reach.
    const bend = Math.max(bends[s]!, bends[s + 1]!, bends[s + 2]!, bends[s + 3]!, bends[s + 4]!);
    if (CREST_OVER_FINE * (own + BEND_GAIN * bend) > threshold && scan(first, length, own, threshold))
      peaksOfScan(x, from + first, length, first, threshold, out, at + first);
  }
}

/**
 * Scans `length` samples of the chunk from `first`, and one more on both sides: a crest is known by its neighbours.
 * `prescanned` is the largest that was seen there.
 * @returns whether anything may rise above the threshold
 */
function scan(first: number, length: number, prescanned: number, threshold: number): boolean {
  const most = interpolator.scan(first - 1, length + 2);
  return Math.max(most, prescanned) * CREST_OVER_GRID > threshold;
}

/** Peaks of the `length` samples last scanned, which begin at `start` of `x` and at `first` of the chunk. */
function peaksOfScan(
  x: Float32Array,
  start: number,
  length: number,
  first: number,
  threshold: number,
  out: Float64Array,
  at: number,
): void {
  const { quarter, half, threeQuarter } = interpolator;
  const end = start + length;
  for (let i = start; i < end; i++) {
    const g = i - start + 1;
    const before = threeQuarter[g - 1]!;
    const here = Math.abs(x[i]!);
    const q1 = quarter[g]!;
    const q2 = half[g]!;
    const q3 = threeQuarter[g]!;
    const after = Math.abs(x[i + 1]!);
    let peak = Math.max(here, q1, q2, q3);
    const rises = here <= q1 && q1 <= q2 && q2 <= q3 && q3 <= after;
    const falls = before > here && here > q1 && q1 > q2 && q2 > q3;
    // A crest may stand between this sample's points and those next to them; on a slope there is none.
    if (!rises && !falls && Math.max(peak, before, after) * CREST_OVER_GRID > threshold) {
      near[0] = before;
      near[1] = here;
      near[2] = q1;
      near[3] = q2;
      near[4] = q3;
      near[5] = after;
      peak = highestCrest(first + i - start, peak, threshold);
    }
    if (peak > out[at + i - start]!) out[at + i - start] = peak;
  }
}

/** The highest crest after sample `index` of the chunk, measured where it may exceed the threshold. */
function highestCrest(index: number, gridPeak: number, threshold: number): number {
  let peak = gridPeak;
  for (let g = 1; g <= COARSE; g++) {
    const a = near[g - 1]!;
    const b = near[g]!;
    const c = near[g + 1]!;
    if (b < a || b <= c) continue; // no crest here
    const bend = a - 2 * b + c;
    const crest = b - ((c - a) * (c - a)) / (8 * bend);
    const curvature = -bend / b;
    // The errors of parabola and short filter grow with the square of the curvature: 0.4 dB at 0.45 fs is on the safe side.
    if (crest * (1 + CURVATURE_ROOM * curvature * curvature) <= threshold) {
      if (crest > peak && crest <= threshold) peak = crest;
      continue;
    }
    const between = Math.round((FINE_PER_COARSE * (a - c)) / (2 * bend));
    const measured = measureCrest(index, (g - 1) * FINE_PER_COARSE + between);
    if (measured > peak) peak = measured;
  }
  return peak;
}

/** Height of the crest near the fine position `position` (in 1/16 sample after sample `index`, may be negative). */
function measureCrest(index: number, position: number): number {
  let at = position;
  let b = fineAt(index, at);
  let a = fineAt(index, at - 1);
  let c = fineAt(index, at + 1);
  // Where the short filter misplaced the crest, it is climbed to.
  for (let step = 0; step < FINE_PER_COARSE && (a > b || c > b); step++) {
    if (a > c) {
      at--;
      c = b;
      b = a;
      a = fineAt(index, at - 1);
    } else {
      at++;
      a = b;
      b = c;
      c = fineAt(index, at + 1);
    }
  }
  const highest = Math.max(a, b, c);
  const bend = a - 2 * b + c;
  return b === highest && bend < 0 ? b - ((c - a) * (c - a)) / (8 * bend) : highest;
}

function fineAt(index: number, position: number): number {
  const samples = Math.floor(position / FINE);
  return interpolator.at(index + samples, position - samples * FINE);
}
