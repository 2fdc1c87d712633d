/** How one recording lies on another: shift, polarity and gain. */
import { bestByBands } from "./band-likeness";
import { exp2, log2, square } from "../math/deterministic-math";
import { Fft } from "../math/fft";
import type { FrameSource } from "../audio/frame-source";
import { gainToDb, powerToDb } from "../audio/decibel";
import type { Decibels, Frames, Seconds } from "../audio/units";

export interface Alignment {
  /** Frame f of the first is frame f + shift of the second. */
  shift: Frames;
  inverted: boolean;
  /** Gain that brings the second to the first. */
  gainDb: Decibels;
  /** Likeness where they were laid on each other, 0…1; low means that they are different recordings. */
  likeness: number;
  /** Whether it is the correlation of the waveforms, or the coherence of octaves where phases or tone were changed. */
  by: "waveform" | "octaves";
}

/** Waveforms that are less alike are held against each other octave by octave, too. */
const LIKE_WAVEFORMS = 0.9;
/** Octaves tell the place where they are alike by so much more: where noise was added, both are alike equally little. */
const MORE_ALIKE = 0.03;

/** Length of the stretch that is looked for: seconds of the first. */
const PROBE_SECONDS = 6;
/** How far apart the two may lie. */
const REACH_SECONDS = 30;
/** Stretches of the first that are tried, the loudest of these. */
const CANDIDATES = 12;
/** Samples that become one where the place is looked for first. */
const THINNING = 8;

/** Mean of the channels, as one; silence beyond the ends. */
export async function monoOf(source: FrameSource, start: Frames, length: Frames): Promise<Float64Array> {
  const x = new Float64Array(length);
  const from = Math.max(0, start);
  const count = Math.min(source.frames, start + length) - from;
  if (count <= 0) return x;
  const block = await source.read(from, count);
  for (const channel of block)
    for (let i = 0; i < channel.length; i++) x[from - start + i]! += (channel[i]! || 0) / block.length;
  return x;
}

const energyOf = (x: Float64Array): number => x.reduce((sum, v) => sum + v * v, 0);

/** Where the first is loud enough to be recognised. */
async function loudestStretch(first: FrameSource, length: Frames): Promise<Frames> {
  let best = { start: 0, energy: -1 };
  for (let i = 0; i < CANDIDATES; i++) {
    const start = Math.floor((Math.max(0, first.frames - length) * i) / (CANDIDATES - 1));
    const energy = energyOf(await monoOf(first, start, Math.min(length, first.sampleRate)));
    if (energy > best.energy) best = { start, energy };
  }
  return best.start;
}

/**
 * Lays `second` on `first`, by the cross-correlation of a loud stretch. Both at one rate.
 * @throws Error where the rates differ, or either is silent
 */
export async function align(first: FrameSource, second: FrameSource): Promise<Alignment> {
  refuseOtherRate(first, second);
  const { sampleRate } = first;
  const length = Math.min(first.frames, Math.round(PROBE_SECONDS * sampleRate));
  const start = await loudestStretch(first, length);
  const probe: Probe = { start, length, around: 0, reach: Math.round(REACH_SECONDS * sampleRate) };
  const found = await alignStretch(first, second, probe);
  if (!found) throw new Error("One of the two is silent there.");
  if (found.likeness >= LIKE_WAVEFORMS) return found;
  const byOctaves = await alignByOctaves(first, second, probe);
  return byOctaves.likeness > found.likeness + MORE_ALIKE ? byOctaves : found;
}

/** Low octaves, which thinned sound holds alone, may be delayed by as much against the high ones. */
const FINE_REACH: Seconds = 0.01;

/** Lays a stretch of `first` on `second` by the coherence of octaves, in thinned sound first, then to the sample. */
async function alignByOctaves(
  first: FrameSource,
  second: FrameSource,
  { start, length, around, reach }: Probe,
): Promise<Alignment> {
  const { sampleRate } = first;
  const probe = await monoOf(first, start, length);
  const field = await monoOf(second, start + around - reach, length + 2 * reach);
  const coarse = bestByBands(thinned(probe), thinned(field), sampleRate / THINNING).lag * THINNING;
  const fineReach = Math.round(FINE_REACH * sampleRate);
  const from = Math.max(0, coarse - fineReach);
  const fine = bestByBands(probe, field.subarray(from, coarse + length + fineReach), sampleRate);
  const lag = from + fine.lag;
  const energy = energyOf(field.subarray(lag, lag + length));
  return {
    shift: lag - reach + around,
    inverted: fine.inverted,
    gainDb: powerToDb(energyOf(probe) / energy),
    likeness: fine.likeness,
    by: "octaves",
  };
}

/**
 * Of two whose places are known, because the one was made of the other: polarity, likeness, and the gain that brings
 * both to one power. Processing may have turned phases, so that the waveforms are not alike.
 * @param shift frame f of the first is frame f + shift of the second
 * @throws Error where the rates differ, or either is silent
 */
export async function alignedAt(first: FrameSource, second: FrameSource, shift: Frames): Promise<Alignment> {
  refuseOtherRate(first, second);
  const length = Math.min(first.frames, Math.round(PROBE_SECONDS * first.sampleRate));
  const start = await loudestStretch(first, length);
  const x = await monoOf(first, start, length);
  const y = await monoOf(second, start + shift, length);
  const [ofFirst, ofSecond] = [energyOf(x), energyOf(y)];
  if (ofFirst === 0 || ofSecond === 0) throw new Error("One of the two is silent there.");
  const product = x.reduce((sum, v, i) => sum + v * y[i]!, 0);
  const waveforms = Math.abs(product) / Math.sqrt(ofFirst * ofSecond);
  const found = waveforms < LIKE_WAVEFORMS ? bestByBands(x, y, first.sampleRate) : null;
  const octaves = found && found.likeness > waveforms + MORE_ALIKE ? found : null;
  return {
    shift,
    inverted: octaves ? octaves.inverted : product < 0,
    gainDb: powerToDb(ofFirst / ofSecond),
    ...(octaves
      ? { likeness: octaves.likeness, by: "octaves" as const }
      : { likeness: waveforms, by: "waveform" as const }),
  };
}

/** @throws Error where the rates differ */
export function refuseOtherRate(first: FrameSource, second: FrameSource): void {
  if (first.sampleRate !== second.sampleRate)
    throw new Error(
      `One is at ${first.sampleRate} Hz and the other at ${second.sampleRate} Hz: bring them to one rate to compare samples.`,
    );
}

/** A stretch of the first, and where it is looked for: shifts within `reach` of `around`. */
export interface Probe {
  start: Frames;
  length: Frames;
  around: Frames;
  reach: Frames;
}

/** Lays one stretch of `first` on `second`; `null` where either is silent there. */
export async function alignStretch(
  first: FrameSource,
  second: FrameSource,
  { start, length, around, reach }: Probe,
): Promise<Alignment | null> {
  const probe = await monoOf(first, start, length);
  const field = await monoOf(second, start + around - reach, length + 2 * reach);
  if (energyOf(probe) === 0 || energyOf(field) === 0) return null;
  const isNear = reach <= 8 * THINNING;
  const coarse = isNear ? reach : bestByFft(thinned(probe), thinned(field)).lag * THINNING;
  const best = bestAround(probe, field, coarse, isNear ? reach : 2 * THINNING);
  return {
    shift: best.lag - reach + around,
    inverted: best.product < 0,
    gainDb: gainToDb(Math.abs(best.product) / best.energy),
    likeness: Math.abs(best.product) / Math.sqrt(best.energy * energyOf(probe)),
    by: "waveform",
  };
}

/** How a probe lies at a place of a field: Σ probe·field, and Σ field² under the probe. */
interface Match {
  lag: number;
  product: number;
  energy: number;
}

/** Normalised by the energy of the field, so that a loud place does not beat a like one. */
const likenessOf = ({ product, energy }: Match): number => (product * product) / energy;
const better = (a: Match, b: Match): Match => (likenessOf(b) > likenessOf(a) ? b : a);
/** Against division by nothing, where the field is silent. */
const LEAST_ENERGY_SHARE = 1e-6;

/** Means of `THINNING` samples: enough to find the place, and so much less to look through. */
function thinned(x: Float64Array): Float64Array {
  return Float64Array.from({ length: Math.floor(x.length / THINNING) }, (_, i) => {
    let sum = 0;
    for (let k = i * THINNING; k < (i + 1) * THINNING; k++) sum += x[k]!;
    return sum / THINNING;
  });
}

/** The best of all places, by fast convolution. */
function bestByFft(probe: Float64Array, field: Float64Array): Match {
  const points = exp2(Math.ceil(log2(field.length + probe.length)));
  const fft = new Fft(points);
  const spectrum = (x: Float64Array) => {
    const [re, im] = [new Float64Array(points), new Float64Array(points)];
    re.set(x);
    fft.forward(re, im);
    return { re, im };
  };
  const f = spectrum(field);
  const p = spectrum(probe);
  for (let k = 0; k < points; k++) {
    const re = f.re[k]! * p.re[k]! + f.im[k]! * p.im[k]!;
    f.im[k] = f.im[k]! * p.re[k]! - f.re[k]! * p.im[k]!;
    f.re[k] = re;
  }
  fft.backward(f.re, f.im);
  const least = energyOf(probe) * LEAST_ENERGY_SHARE;
  let energy = energyOf(field.subarray(0, probe.length));
  let best: Match = { lag: 0, product: 0, energy: 1 };
  for (let lag = 0; lag + probe.length <= field.length; lag++) {
    best = better(best, { lag, product: f.re[lag]!, energy: Math.max(energy, least) });
    energy += square(field[lag + probe.length] ?? 0) - square(field[lag]!);
  }
  return best;
}

/** The best of the places within `around` of `centre`, sample by sample. */
function bestAround(probe: Float64Array, field: Float64Array, centre: number, around: number): Match {
  const least = energyOf(probe) * LEAST_ENERGY_SHARE;
  let best: Match = { lag: centre, product: 0, energy: 1 };
  const last = Math.min(field.length - probe.length, centre + around);
  for (let lag = Math.max(0, centre - around); lag <= last; lag++) {
    let product = 0;
    let energy = 0;
    for (let i = 0; i < probe.length; i++) {
      const y = field[lag + i]!;
      product += probe[i]! * y;
      energy += y * y;
    }
    best = better(best, { lag, product, energy: Math.max(energy, least) });
  }
  return best;
}
