/**
 * How a later recording of the same thing lies on an earlier one where parts were cut out or put in: stretches that both
 * have, each with its shift, found by probes along the way; where the shift changes, the place is the one that leaves
 * least difference. Frames of one rate.
 */
import { square } from "../math/deterministic-math";
import type { FrameSource } from "../audio/frame-source";
import { dbToGain } from "../audio/decibel";
import type { Frames, Seconds } from "../audio/units";
import { alignStretch, monoOf, refuseOtherRate, type Alignment } from "./alignment";

/** A stretch that both have: frame f of the first, within it, is frame f + shift of the second. */
export interface SharedStretch {
  start: Frames;
  /** One past its last frame. */
  end: Frames;
  shift: Frames;
}

export interface TimeMap extends Omit<Alignment, "shift" | "by"> {
  /** In order; what lies between was cut out of the first, or put into the second. */
  stretches: SharedStretch[];
}

const PROBE_SECONDS: Seconds = 1.5;
const PROBE_EVERY_SECONDS: Seconds = 0.75;
/** How much may have been cut or put in from one probe to the next. */
const REACH_SECONDS: Seconds = 20;
/** Fewer of the probes than this, and the two are not of one thing. */
const LEAST_FOUND = 0.4;
/** A probe this like its place is one. */
const FOUND = 0.6;
/** The same shift, for one who compares what an equaliser has moved by some samples. */
const SAME_SHIFT: Frames = 64;
/** Differences are summed in steps of this length where the place of a change is looked for. */
const STEP_SECONDS: Seconds = 0.001;

/**
 * @returns `null` where the two are not of one thing
 * @throws Error where the rates differ
 */
export async function timeMap(
  first: FrameSource,
  second: FrameSource,
  onProgress?: (fraction: number) => void,
): Promise<TimeMap | null> {
  refuseOtherRate(first, second);
  const { probes, tried } = await probesOf(first, second, onProgress);
  if (probes.length === 0 || probes.length < LEAST_FOUND * tried) return null;
  const middle = (of: (probe: Probe) => number) => [...probes].map(of).sort((a, b) => a - b)[probes.length >> 1]!;
  const whole = {
    gainDb: middle(({ gainDb }) => gainDb),
    likeness: middle(({ likeness }) => likeness),
    inverted: probes.filter(({ inverted }) => inverted).length > probes.length / 2,
  };
  const runs: { shift: Frames; from: Frames; to: Frames }[] = [];
  for (const { at, shift, length } of probes) {
    const last = runs.at(-1);
    if (last && Math.abs(last.shift - shift) <= SAME_SHIFT) last.to = at + length;
    else runs.push({ shift, from: at, to: at + length });
  }
  // A single probe between others of one shift was taken in by a repetition.
  const steady = runs.filter((run, i) => {
    const [before, after] = [runs[i - 1], runs[i + 1]];
    const isAlone = run.to - run.from <= PROBE_SECONDS * first.sampleRate;
    return !(isAlone && before && after && Math.abs(before.shift - after.shift) <= SAME_SHIFT);
  });
  const merged = steady.reduce<typeof runs>((all, run) => {
    const last = all.at(-1);
    if (last && Math.abs(last.shift - run.shift) <= SAME_SHIFT) last.to = run.to;
    else all.push({ ...run });
    return all;
  }, []);
  const stretches: SharedStretch[] = merged.map(({ shift, from, to }) => ({ shift, start: from, end: to }));
  for (let i = 1; i < stretches.length; i++) await settle(first, second, stretches[i - 1]!, stretches[i]!, whole);
  const [head, tail] = [stretches[0]!, stretches.at(-1)!];
  head.start = Math.max(0, -head.shift);
  tail.end = Math.min(first.frames, second.frames - tail.shift);
  const { inverted, gainDb, likeness } = whole;
  return { inverted, gainDb, likeness, stretches };
}

interface Probe extends Alignment {
  at: Frames;
  length: Frames;
}

async function probesOf(
  first: FrameSource,
  second: FrameSource,
  onProgress?: (fraction: number) => void,
): Promise<{ probes: Probe[]; tried: number }> {
  const { sampleRate } = first;
  const length = Math.min(first.frames, Math.round(PROBE_SECONDS * sampleRate));
  const every = Math.round(PROBE_EVERY_SECONDS * sampleRate);
  const reach = Math.round(REACH_SECONDS * sampleRate);
  const probes: Probe[] = [];
  let tried = 0;
  let shift: Frames | null = null;
  for (let at = 0; at + length <= first.frames; at += every) {
    // Where it was a moment ago is looked at first: a repetition further off is as like.
    const near: Alignment | null =
      shift === null
        ? null
        : await alignStretch(first, second, { start: at, length, around: shift, reach: SAME_SHIFT });
    const found: Alignment | null =
      near && near.likeness >= FOUND
        ? near
        : await alignStretch(first, second, { start: at, length, around: shift ?? 0, reach });
    if (found) tried++; // silence tells nothing
    if (found && found.likeness >= FOUND) {
      shift = found.shift;
      probes.push({ at, length, ...found });
    }
    onProgress?.(at / first.frames);
  }
  return { probes, tried };
}

/** Puts the place of a change where the two sides leave least difference. */
async function settle(
  first: FrameSource,
  second: FrameSource,
  before: SharedStretch,
  after: SharedStretch,
  { gainDb, inverted }: Pick<Alignment, "gainDb" | "inverted">,
): Promise<void> {
  const step = Math.max(1, Math.round(STEP_SECONDS * first.sampleRate));
  const [from, to] = [
    before.end - Math.round(PROBE_SECONDS * first.sampleRate),
    after.start + Math.round(PROBE_SECONDS * first.sampleRate),
  ];
  const start = Math.max(0, from);
  const steps = Math.floor((Math.min(first.frames, to) - start) / step);
  const gain = dbToGain(gainDb) * (inverted ? -1 : 1);
  const x = await monoOf(first, start, steps * step);
  const errorsOf = async (shift: Frames): Promise<Float64Array> => {
    const y = await monoOf(second, start + shift, steps * step);
    // Energies of the difference from the beginning on.
    const sums = new Float64Array(steps + 1);
    for (let s = 0; s < steps; s++) {
      let sum = 0;
      for (let i = s * step; i < (s + 1) * step; i++) sum += square(x[i]! - gain * y[i]!);
      sums[s + 1] = sums[s]! + sum;
    }
    return sums;
  };
  const [left, right] = [await errorsOf(before.shift), await errorsOf(after.shift)];
  // What was cut out of the first lies on neither side.
  const lost = Math.max(0, Math.round((before.shift - after.shift) / step));
  let best = { at: 0, error: Infinity };
  for (let at = 0; at + lost <= steps; at++) {
    const error = left[at]! + right[steps]! - right[at + lost]!;
    if (error < best.error) best = { at, error };
  }
  before.end = start + best.at * step;
  after.start = before.end + Math.max(0, before.shift - after.shift);
}

/** Where a frame of the first lies in the second; `null` where it was cut out. */
export function mapped({ stretches }: Pick<TimeMap, "stretches">, frame: Frames): Frames | null {
  const stretch = stretches.find(({ start, end }) => frame >= start && frame < end);
  if (stretch) return frame + stretch.shift;
  const last = stretches.at(-1);
  return last && frame === last.end ? frame + last.shift : null;
}
