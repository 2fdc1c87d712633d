/**
 * Whether two recordings are of one thing, by how their levels move in bands over time: levels, equalisers and noise of
 * the two may differ, and one may begin later. Normalised cross-correlation of the bands' level changes, all bands
 * together (after Haitsma & Kalker 2002, who keep the signs of these changes alone).
 */
import { exp2, log10, log2 } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import type { Curves } from "../measure";
import type { Seconds } from "../audio/units";

/** Levels in steps, one row a band, as decibels. */
export interface Fingerprint {
  stepSeconds: Seconds;
  bands: Float32Array[];
}

const POWER_FLOOR = 1e-9;
const SILENT_DB = -90;
const BROAD_BANDS = 6;

const finite = (levels: Float32Array): Float32Array => levels.map((db) => (db > SILENT_DB ? db : SILENT_DB));

/** What is known of a recording from intake: its loudness and peaks each 100 ms, and its bands more coarsely. */
export function fingerprintOf(curves: Pick<Curves, "momentaryLufs" | "samplePeakDbfs" | "bandPowers">): Fingerprint {
  const { momentaryLufs, samplePeakDbfs, bandPowers } = curves;
  const { values, columns, hopSeconds } = bandPowers;
  const stepSeconds = samplePeakDbfs.hopSeconds;
  const rows = Math.min(momentaryLufs.values.length, samplePeakDbfs.values.length);
  const last = Math.max(0, Math.floor(values.length / columns) - 1);
  const broad = Array.from({ length: Math.min(BROAD_BANDS, columns) }, (_, band) => {
    const [from, to] = [0, 1].map((n) => Math.floor(((band + n) * columns) / BROAD_BANDS));
    return Float32Array.from({ length: rows }, (__, row) => {
      const at = Math.min(last, Math.floor((row * stepSeconds) / hopSeconds)) * columns;
      let sum = 0;
      for (let c = from!; c < to!; c++) sum += values[at + c] ?? 0;
      return 10 * log10(Math.max(sum, POWER_FLOOR));
    });
  });
  return { stepSeconds, bands: [finite(samplePeakDbfs.values), finite(momentaryLufs.values), ...broad] };
}

/** Levels are taken against their mean over so many steps around: what an equaliser or a gain does falls out. */
const AROUND = 32;

/** Levels less their mean nearby, cut at ±20 dB, so that silence does not weigh more than sound. */
function movement(levels: Float32Array): Float64Array {
  const sums = new Float64Array(levels.length + 1);
  levels.forEach((level, i) => (sums[i + 1] = sums[i]! + level));
  return Float64Array.from(levels, (level, i) => {
    const [from, to] = [Math.max(0, i - AROUND), Math.min(levels.length, i + AROUND + 1)];
    return Math.max(-20, Math.min(20, level - (sums[to]! - sums[from]!) / (to - from)));
  });
}

export interface Resemblance {
  /** 0…1: 1 is the same but for level and tone. */
  likeness: number;
  /** Step s of the first is step s + `steps` of the second. */
  steps: number;
}

/** Less of the shorter one than this must not lie on the other. */
const LEAST_OVERLAP = 0.6;

/** Lays one fingerprint on another where they are most alike. */
export function resemblance(first: Fingerprint, second: Fingerprint): Resemblance {
  const [n, m] = [first.bands[0]?.length ?? 0, second.bands[0]?.length ?? 0];
  if (n === 0 || m === 0) return { likeness: 0, steps: 0 };
  const points = exp2(Math.ceil(log2(n + m)));
  const fft = new Fft(points);
  const spectrum = (x: Float64Array) => {
    const [re, im] = [new Float64Array(points), new Float64Array(points)];
    re.set(x);
    fft.forward(re, im);
    return { re, im };
  };
  const products = { re: new Float64Array(points), im: new Float64Array(points) };
  // Energies of both from their beginnings, all bands together: what lies on each other is normalised by them.
  const energies = [new Float64Array(n + 1), new Float64Array(m + 1)] as const;
  const bands = Math.min(first.bands.length, second.bands.length);
  for (let band = 0; band < bands; band++) {
    const moved = [movement(first.bands[band]!), movement(second.bands[band]!)] as const;
    moved.forEach((x, which) => x.forEach((v, i) => (energies[which]![i + 1]! += v * v)));
    const [a, b] = [spectrum(moved[0]), spectrum(moved[1])];
    for (let k = 0; k < points; k++) {
      products.re[k]! += b.re[k]! * a.re[k]! + b.im[k]! * a.im[k]!;
      products.im[k]! += b.im[k]! * a.re[k]! - b.re[k]! * a.im[k]!;
    }
  }
  for (const energy of energies) for (let i = 1; i < energy.length; i++) energy[i]! += energy[i - 1]!;
  fft.backward(products.re, products.im);
  const least = Math.ceil(Math.min(n, m) * LEAST_OVERLAP);
  let best: Resemblance = { likeness: 0, steps: 0 };
  for (let lag = -(n - 1); lag < m; lag++) {
    const [from, to] = [Math.max(0, -lag), Math.min(n, m - lag)];
    if (to - from < least) continue;
    const energy = (energies[0][to]! - energies[0][from]!) * (energies[1][to + lag]! - energies[1][from + lag]!);
    const likeness = energy > 0 ? products.re[(lag + points) % points]! / Math.sqrt(energy) : 0;
    if (likeness > best.likeness) best = { likeness: Math.min(1, likeness), steps: lag };
  }
  return best;
}
