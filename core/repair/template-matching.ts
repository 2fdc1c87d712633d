import { power, square } from "../math/deterministic-math";
import type { FrameSource } from "../audio/frame-source";
import { Cancelled, type Cancellation } from "../audio/cancellation";
import { powerToDb } from "../audio/decibel";
import type { Frames, Seconds } from "../audio/units";
import { readAround } from "./repaired-source";
import { frameLengthNear, Stft } from "../dsp/stft";
import type { Region } from "./time-frequency-region";

const FRAME: Seconds = 0.0213;
/** Rows that the band is told apart in, each as high as the others in pitch. */
const ROWS = 16;
const READ: Seconds = 8;
/** Quieter than this is alike in nothing. */
const QUIET_DB = -110;
/** What is looked for must stand out of its own mean by this, or everything would be alike. */
const LEAST_SPREAD_DB = 1.5;

export interface TemplateMatch {
  start: Frames;
  end: Frames;
  /** Its level against that of the region, dB. */
  sizeDb: number;
  /** Correlation of the pictures, 0…1. */
  likeness: number;
}

export interface TemplateMatchOptions {
  /** Places less alike are left out. */
  least: number;
  cancellation?: Cancellation;
  onProgress?: (fraction: number) => void;
}

/**
 * Places that look like a region in its band: its picture of levels, moved along the recording, correlates with what is
 * there. In order of time, none over another, the region itself left out. @throws Cancelled
 */
export async function matchTemplate(
  source: FrameSource,
  region: Region,
  { least, cancellation, onProgress }: TemplateMatchOptions,
): Promise<TemplateMatch[]> {
  const frames = new Stft(frameLengthNear(FRAME, source.sampleRate));
  const { hop } = frames;
  const rows = rowEdges(region, source.sampleRate / frames.size, frames.bins);
  const count = Math.ceil(source.frames / hop);
  const picture = new Float32Array(count * ROWS).fill(QUIET_DB);
  const step = Math.round((READ * source.sampleRate) / hop) * hop;
  const powers = new Float32Array(frames.bins);
  const spare = new Float32Array(frames.bins);
  for (let at = 0; at < source.frames; at += step) {
    if (cancellation?.aborted) throw new Cancelled();
    const block = await readAround(source, at, at + step + frames.size);
    const mono = block[region.channel ?? 0]!.slice();
    if (region.channel === undefined)
      for (const x of block.slice(1)) for (let i = 0; i < mono.length; i++) mono[i]! += x[i]!;
    frames.analyse(mono, undefined, at);
    for (let t = 0; t < frames.count && frames.firstFrame + t < count; t++) {
      frames.powers(t, powers, spare);
      for (let row = 0; row < ROWS; row++) {
        let sum = 0;
        for (let k = rows[row]!; k < rows[row + 1]!; k++) sum += powers[k]!;
        picture[(frames.firstFrame + t) * ROWS + row] = Math.max(QUIET_DB, powerToDb(sum));
      }
    }
    onProgress?.(Math.min(1, (at + step) / source.frames));
  }
  lessTheUsual(picture, count);
  const from = Math.floor(region.start / hop);
  const length = Math.max(2, Math.ceil(region.end / hop) - from);
  return peaksOf(picture, count, from, length, least).map(({ column, likeness, sizeDb }) => ({
    start: column * hop + (region.start - from * hop),
    end: Math.min(source.frames, column * hop + (region.end - from * hop)),
    likeness,
    sizeDb,
  }));
}

/** Bins at which the rows begin, each at least one bin high. */
function rowEdges({ lowHz = 60, highHz = Infinity }: Region, width: number, bins: number): number[] {
  const low = Math.max(1, lowHz / width);
  const high = Math.min(bins - 1, Math.max(low + 1, highHz / width));
  const edges = Array.from({ length: ROWS + 1 }, (_, row) => Math.round(low * power(high / low, row / ROWS)));
  return edges.map((edge, row) => Math.min(bins - 1, Math.max(edge, edges[0]! + (high - low >= ROWS ? 0 : row))));
}

/** Takes from each row what it usually is: what all places share says nothing of likeness. */
function lessTheUsual(picture: Float32Array, count: number): void {
  for (let row = 0; row < ROWS; row++) {
    const levels = Float32Array.from({ length: count }, (_, t) => picture[t * ROWS + row]!).sort();
    const usual = levels[Math.floor(count / 2)]!;
    for (let t = 0; t < count; t++) picture[t * ROWS + row] = Math.max(0, picture[t * ROWS + row]! - usual);
  }
}

function peaksOf(picture: Float32Array, count: number, from: number, length: number, least: number) {
  const size = length * ROWS;
  const pattern = picture.slice(from * ROWS, from * ROWS + size);
  const mean = pattern.reduce((sum, v) => sum + v, 0) / size;
  let own = 0;
  for (let i = 0; i < size; i++) own += square((pattern[i] = pattern[i]! - mean));
  if (own / size < square(LEAST_SPREAD_DB)) return [];
  const likeness = new Float32Array(count);
  const levels = new Float32Array(count);
  for (let column = 0; column + length <= count; column++) {
    const at = column * ROWS;
    let [sum, squares, cross] = [0, 0, 0];
    for (let i = 0; i < size; i++) {
      const v = picture[at + i]!;
      sum += v;
      squares += v * v;
      cross += v * pattern[i]!;
    }
    levels[column] = sum / size;
    likeness[column] = cross / Math.sqrt(own * Math.max(1e-9, squares - (sum * sum) / size));
  }
  const order = Array.from(likeness.keys())
    .filter((column) => likeness[column]! >= least && Math.abs(column - from) >= length)
    .sort((a, b) => likeness[b]! - likeness[a]!);
  const taken: number[] = [];
  for (const column of order) if (taken.every((other) => Math.abs(other - column) >= length)) taken.push(column);
  return taken
    .sort((a, b) => a - b)
    .map((column) => ({ column, likeness: likeness[column]!, sizeDb: levels[column]! - mean }));
}
