/**
 * The continuous waveform between samples, where it may matter (ITU-R BS.1770-5 Annex 2, with longer filters). A scout
 * at two points a sample tells where something may rise above a threshold; there a 4× interpolator draws the waveform,
 * and its crests that may rise above are measured on a 16× grid of 256 taps, with a parabola through the three highest
 * points.
 */
import { kaiser, kaiserBeta, sinc } from "../math/kaiser";
import {
  FINE_TAPS,
  GRID_PAIRS,
  plainInterpolator,
  SCOUT_GROUP,
  SCOUT_PAIRS,
  TAKEN_MOST,
  wasmInterpolator,
  type InterpolatorTaps,
} from "./interpolator";

const COARSE = 4;
const COARSE_TAPS = 2 * GRID_PAIRS;
const FINE = 16;
const FINE_PER_COARSE = FINE / COARSE;
/** Samples that are scanned together. */
const STRETCH = 4 * SCOUT_GROUP;
/** Samples needed before and after those that are looked at. */
export const PEAK_MARGIN = 132;
/** Samples that are well looked at together: the margins weigh little then. */
export const PEAK_CHUNK = TAKEN_MOST;
/**
 * Between two points half a sample apart, a waveform up to 0.5 fs keeps at least cos 45° of its crest (Bernstein's
 * inequality); the rest is for what the scout's short filter loses up there.
 */
const CREST_OVER_SCOUT = 1.6;
/**
 * A crest stands at most this much above the higher of the two points of the 4× grid around it: 8 % for the distance
 * between them at 0.5 fs, the rest for what the short filter loses up there.
 */
const CREST_OVER_GRID = 1.25;

/** See where it is used. */
const CURVATURE_ROOM = 0.2;

/** Name of the interpolator, reported beside every true peak. */
export const PEAK_FILTER = "16× windowed sinc of 256 taps a phase at the crests of a 4× scan, parabola between";

function phases(oversampling: number, taps: number, attenuationDb: number): Float64Array[] {
  const beta = kaiserBeta(attenuationDb);
  const half = taps / 2;
  return Array.from({ length: oversampling }, (_, phase) => {
    const filter = Float64Array.from({ length: taps }, (_, tap) => {
      const distance = tap - (half - 1) - phase / oversampling;
      return sinc(distance) * kaiser(distance / half, beta);
    });
    const sum = filter.reduce((total, coefficient) => total + coefficient, 0);
    return filter.map((coefficient) => coefficient / sum);
  });
}

const coarse = phases(COARSE, COARSE_TAPS, 60);
const fine = phases(FINE, FINE_TAPS, 70);
const scout = phases(2, 2 * SCOUT_PAIRS, 40)[1]!;

// The quarter and three-quarter phases mirror each other: sums and differences halve the multiplications.
const quarterTap = (t: number) => [coarse[1]![t]!, coarse[1]![COARSE_TAPS - 1 - t]!] as const;
/** Taps of the 4× scan, for the kernel and its twin. */
export const INTERPOLATOR_TAPS: InterpolatorTaps = {
  scout: Float32Array.from(scout.slice(0, SCOUT_PAIRS)),
  even: Float32Array.from({ length: GRID_PAIRS }, (_, t) => (quarterTap(t)[0] + quarterTap(t)[1]) / 2),
  odd: Float32Array.from({ length: GRID_PAIRS }, (_, t) => (quarterTap(t)[0] - quarterTap(t)[1]) / 2),
  middle: Float32Array.from(coarse[2]!.slice(0, GRID_PAIRS)),
  fine: fine.map((filter) => Float32Array.from(filter)),
};
const interpolator = wasmInterpolator(INTERPOLATOR_TAPS) ?? plainInterpolator(INTERPOLATOR_TAPS);

/** Magnitudes on the 4× grid around one sample: the last point before it, its own four, the first after them. */
const near = new Float64Array(COARSE + 2);

/**
 * For each sample `i` of `from`…`to`: the largest magnitude of the waveform in [i, i+1), wherever that can exceed
 * `threshold`; elsewhere a value not above the threshold. Depends on nothing but the samples within PEAK_MARGIN and
 * the threshold, so blocks do not matter. Hot.
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

function peaksOfChunk(
  x: Float32Array,
  from: number,
  to: number,
  threshold: number,
  out: Float64Array,
  at: number,
): void {
  const { groups } = interpolator;
  // One group more on both sides: a crest near the edge of a stretch may stand beyond it.
  interpolator.scout(-SCOUT_GROUP, Math.ceil((to - from) / SCOUT_GROUP) + 2);
  for (let start = 0, g = 0; start < to - from; start += STRETCH, g += STRETCH / SCOUT_GROUP) {
    const end = Math.min(to - from, start + STRETCH);
    const lastGroup = Math.ceil(end / SCOUT_GROUP) + 1;
    let most = 0;
    for (let near = g; near <= lastGroup; near++) if (groups[near]! > most) most = groups[near]!;
    if (most * CREST_OVER_SCOUT <= threshold) takeSamples(x, from + start, from + end, out, at + start);
    else scanStretch(x, from, start, end, most, threshold, out, at + start);
  }
}

function takeSamples(x: Float32Array, start: number, end: number, out: Float64Array, at: number): void {
  for (let i = start; i < end; i++) out[at + i - start] = Math.abs(x[i]!);
}

/** Looks at samples `first`…`last` of the chunk that begins at `from`; `scouted` is the largest that was seen there. */
function scanStretch(
  x: Float32Array,
  from: number,
  first: number,
  last: number,
  scouted: number,
  threshold: number,
  out: Float64Array,
  at: number,
): void {
  const { quarter, half, threeQuarter } = interpolator;
  // One sample more on both sides: a crest is known by its neighbours.
  const most = interpolator.scan(first - 1, last - first + 2);
  const start = from + first;
  const end = from + last;
  if (Math.max(most, scouted) * CREST_OVER_GRID <= threshold) return takeSamples(x, start, end, out, at);
  for (let i = start; i < end; i++) {
    const g = i - start + 1;
    const here = Math.abs(x[i]!);
    let peak = Math.max(here, quarter[g]!, half[g]!, threeQuarter[g]!);
    // A crest may stand between this sample's points and those next to them.
    const reach = Math.max(peak, threeQuarter[g - 1]!, Math.abs(x[i + 1]!));
    if (reach * CREST_OVER_GRID > threshold) {
      near[0] = threeQuarter[g - 1]!;
      near[1] = here;
      near[2] = quarter[g]!;
      near[3] = half[g]!;
      near[4] = threeQuarter[g]!;
      near[5] = Math.abs(x[i + 1]!);
      peak = highestCrest(i - from, peak, threshold);
    }
    out[at + i - start] = peak;
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
