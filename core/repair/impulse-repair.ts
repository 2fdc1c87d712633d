/** What was added to a sound: short stretches far above all around them, and filling them from both sides. */
import { square } from "../math/deterministic-math";
import type { Frames, Hertz, Planar, Seconds } from "../audio/units";
import { interpolateGaps, predictor } from "../dsp/linear-prediction";

/** Levels are taken over this long … */
const LOCAL: Seconds = 0.003;
/** … and what is around over this long to each side. */
const AROUND: Seconds = 0.15;
/** What is at most so long … */
const LONGEST: Seconds = 0.03;
/** … and so far above what is around, in amplitude, did not belong there; it begins and ends at the second. */
const FOREIGN = 4;
const FOREIGN_EDGE = 1.5;
const FILL_ORDER_AT_48K = 128;
/** The predictor of what fills a place is made of this long to each side. */
const PREDICTED_FROM: Seconds = 0.04;

export interface ImpulseRange {
  from: Frames;
  to: Frames;
}

/** How far to each side of a place it matters what is there. */
export const IMPULSE_REACH: Seconds = AROUND + 2 * LONGEST + PREDICTED_FROM;

/** Stretches of any of the channels, of all alike. Shape of `block`: [channel][frame]; `line` is an amplitude. */
export function impulseRanges(block: Planar, line: number, rate: Hertz): ImpulseRange[] {
  const all = block.flatMap((x) => (reaches(x, line) ? foreignOf(x, line, rate) : []));
  const joined: ImpulseRange[] = [];
  for (const { from, to } of all.sort((a, b) => a.from - b.from)) {
    const last = joined.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else joined.push({ from, to });
  }
  return joined;
}

const reaches = (x: Float32Array, line: number): boolean => x.some((v) => Math.abs(v) > line);

/** Stretches above the line that are short and far louder than all around them. */
function foreignOf(x: Float32Array, line: number, rate: Hertz): ImpulseRange[] {
  const half = Math.max(1, Math.round((LOCAL * rate) / 2));
  const [around, longest] = [Math.round(AROUND * rate), Math.round(LONGEST * rate)];
  const energy = new Float64Array(x.length + 1);
  const below = new Float64Array(x.length + 1);
  const held = new Float64Array(x.length + 1);
  for (let i = 0; i < x.length; i++) {
    const power = x[i]! * x[i]!;
    const counts = Math.abs(x[i]!) <= line;
    energy[i + 1] = energy[i]! + power;
    below[i + 1] = below[i]! + (counts ? power : 0);
    held[i + 1] = held[i]! + (counts ? 1 : 0);
  }
  const within = (i: number) => Math.max(0, Math.min(x.length, i));
  const mean = (sums: Float64Array, from: number, to: number) => sums[within(to)]! - sums[within(from)]!;
  const localAt = (i: number) => mean(energy, i - half, i + half + 1) / (2 * half + 1);
  const found: ImpulseRange[] = [];
  for (let i = 0; i < x.length; i++) {
    if (Math.abs(x[i]!) <= line) continue;
    // Its own length is left out of what is around.
    const sides = [
      [i - around, i - longest],
      [i + longest, i + around],
    ] as const;
    const count = sides.reduce((sum, side) => sum + mean(held, ...side), 0);
    const usual = sides.reduce((sum, side) => sum + mean(below, ...side), 0) / Math.max(1, count);
    let [from, to] = [i, i + 1];
    let highest = 0;
    while (from > 0 && to - from <= longest && localAt(from - 1) > square(FOREIGN_EDGE) * usual) from--;
    while (to < x.length && to - from <= longest && localAt(to) > square(FOREIGN_EDGE) * usual) to++;
    for (let k = from; k < to; k++) highest = Math.max(highest, localAt(k));
    if (to - from <= longest && highest > square(FOREIGN) * usual) found.push({ from, to });
    i = to;
  }
  return found;
}

/** Fills those stretches in which a channel rises above the line, from both sides by linear prediction. */
export function fillImpulses(
  channel: Float32Array,
  stretches: readonly ImpulseRange[],
  line: number,
  rate: Hertz,
): void {
  const order = Math.max(16, Math.round((FILL_ORDER_AT_48K * rate) / 48_000));
  const reach = Math.round(PREDICTED_FROM * rate);
  for (const { from, to } of stretches) {
    if (!reaches(channel.subarray(from, to), line)) continue;
    const start = Math.max(0, from - reach);
    const x = Float64Array.from(channel.subarray(start, Math.min(channel.length, to + reach)));
    const skip = new Uint8Array(x.length);
    skip.fill(1, from - start, to - start);
    interpolateGaps(x, [{ from: from - start, to: to - start, errorPower: 0 }], predictor(x, 0, x.length, order, skip));
    for (let i = from; i < to; i++) channel[i] = x[i - start]!;
  }
}
