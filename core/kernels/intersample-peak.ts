/**
 * The continuous waveform between samples, where it may matter (ITU-R BS.1770-5 Annex 2, with longer filters).
 * The bound of a stretch (largest |sample| × the filters' L1 norm) tells where nothing can rise above a threshold;
 * elsewhere a 4× interpolator draws the waveform, and its crests that may rise above are measured on a 16× grid of
 * 256 taps, with a parabola through the three highest points.
 */
import { kaiser, kaiserBeta, sinc } from "../math/kaiser";
import { FINE_TAPS, GRID_PAIRS, plainInterpolator, wasmInterpolator, type InterpolatorTaps } from "./interpolator";

const COARSE = 4;
const COARSE_TAPS = 2 * GRID_PAIRS;
const FINE = 16;
const FINE_PER_COARSE = FINE / COARSE;
/** Samples whose bound is taken together. */
const STRETCH = 66;
/** Samples that a scan needs before and after the stretch that it looks at: two stretches. */
export const PEAK_MARGIN = 2 * STRETCH;
/** Samples that are well looked at together: the margins weigh little then. */
export const PEAK_CHUNK = 16 * STRETCH;
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
const largestNorm = Math.max(...[...coarse, ...fine].map((filter) => filter.reduce((sum, c) => sum + Math.abs(c), 0)));

// The quarter and three-quarter phases mirror each other: sums and differences halve the multiplications.
const quarterTap = (t: number) => [coarse[1]![t]!, coarse[1]![COARSE_TAPS - 1 - t]!] as const;
/** Taps of the 4× scan, for the kernel and its twin. */
export const INTERPOLATOR_TAPS: InterpolatorTaps = {
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
  const quiet = threshold / largestNorm;
  const stretches = Math.ceil((to - from) / STRETCH);
  if (largest.length < stretches + 4) largest = new Float64Array(stretches + 4);
  for (let s = 0; s < stretches + 4; s++) {
    const end = Math.min(to + PEAK_MARGIN, from + (s - 1) * STRETCH);
    let most = 0;
    for (let i = from + (s - 2) * STRETCH; i < end; i++) {
      const v = x[i]!;
      const magnitude = v < 0 ? -v : v;
      if (magnitude > most) most = magnitude;
    }
    largest[s] = most;
  }
  for (let s = 0; s < stretches; s++) {
    const start = from + s * STRETCH;
    const end = Math.min(to, start + STRETCH);
    // Its own largest sample and those of the two stretches on either side, as far as the filters reach.
    const own = largest[s + 2]!;
    const most = Math.max(largest[s]!, largest[s + 1]!, own, largest[s + 3]!, largest[s + 4]!);
    if (most <= quiet) takeSamples(x, start, end, out, start - from);
    else scanStretch(x, start, end, threshold, own, out, start - from);
  }
}

/** Largest sample of each stretch, two more on either side. */
let largest = new Float64Array(PEAK_CHUNK / STRETCH + 4);

function takeSamples(x: Float32Array, start: number, end: number, out: Float64Array, at: number): void {
  for (let i = start; i < end; i++) out[at + i - start] = Math.abs(x[i]!);
}

function scanStretch(
  x: Float32Array,
  start: number,
  end: number,
  threshold: number,
  ownLargest: number,
  out: Float64Array,
  at: number,
): void {
  const { quarter, half, threeQuarter } = interpolator;
  // One sample more on both sides: a crest is known by its neighbours.
  const most = interpolator.scan(x, start - 1, end - start + 2);
  if (Math.max(most, ownLargest, Math.abs(x[end]!)) * CREST_OVER_GRID <= threshold)
    return takeSamples(x, start, end, out, at);
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
      peak = highestCrest(g, peak, threshold);
    }
    out[at + i - start] = peak;
  }
}

/** The highest crest after sample `index` of the stretch, measured where it may exceed the threshold. */
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
