/** Whether a stretch is fit to learn a noise from, and which ones are. */
import { powerToDb } from "../audio/decibel";
import type { Decibels, Hertz, Planar, Seconds } from "../audio/units";

export interface NoiseProfileQuality {
  /** "error": nothing can be learned; "doubt": the profile may hold what is wanted; "fit". */
  standing: "fit" | "doubt" | "error";
  /** One sentence each. */
  remarks: string[];
}

/** Less cannot be averaged. */
const LEAST: Seconds = 0.25;
const ENOUGH: Seconds = 1;
const STEP: Seconds = 0.05;
/** Steady noise keeps its level in 50 ms within this, from the quietest tenth to the loudest. */
const STEADY_DB: Decibels = 5;
/** A voice or a breath raises single moments by this over the median. */
const STANDS_OUT_DB: Decibels = 6;

/** Level of each 50 ms, all channels together. */
function levelsOf(block: Planar, sampleRate: Hertz): Decibels[] {
  const step = Math.round(STEP * sampleRate);
  const levels: Decibels[] = [];
  for (let at = 0; at + step <= (block[0]?.length ?? 0); at += step) {
    let sum = 0;
    for (const x of block) for (let i = at; i < at + step; i++) sum += x[i]! * x[i]!;
    levels.push(powerToDb(sum / step / block.length));
  }
  return levels;
}

/** Length, steadiness, and whether something else sounds in it. Shape of `block`: [channel][frame]. */
export function noiseProfileQuality(block: Planar, sampleRate: Hertz): NoiseProfileQuality {
  const seconds = (block[0]?.length ?? 0) / sampleRate;
  if (seconds < LEAST)
    return { standing: "error", remarks: [`${seconds.toFixed(2)} s are too short: at least ${LEAST} s are needed.`] };
  const levels = levelsOf(block, sampleRate);
  const sorted = [...levels].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!;
  if (at(0.5) === -Infinity)
    return { standing: "error", remarks: ["The stretch is digital silence: there is no noise in it."] };
  const words: string[] = [];
  if (seconds < ENOUGH) words.push(`${seconds.toFixed(2)} s are short: ${ENOUGH} s or more tell the noise better.`);
  if (at(0.9) - at(0.1) > STEADY_DB)
    words.push(`The level is not steady: it changes by ${(at(0.9) - at(0.1)).toFixed(1)} dB.`);
  const out = levels.findIndex((level) => level > at(0.5) + STANDS_OUT_DB);
  if (out >= 0) words.push(`Something louder sounds ${(out * STEP).toFixed(2)} s into it: a breath or a voice.`);
  return { standing: words.length > 0 ? "doubt" : "fit", remarks: words };
}

/** Length of the stretches that are offered. */
const OFFERED: Seconds = 1.6;
const SILENT_DB: Decibels = -120;

/**
 * The quietest steady stretches, quietest first, by peak levels in equal steps; stretches do not overlap. Digital
 * silence holds no noise and is passed over.
 */
export function quietStretches(
  peakDb: ArrayLike<number>,
  stepSeconds: Seconds,
  count: number,
): { start: Seconds; end: Seconds; peakDb: Decibels }[] {
  const length = Math.max(3, Math.round(OFFERED / stepSeconds));
  const all: { at: number; peakDb: Decibels; spread: Decibels }[] = [];
  for (let at = 0; at + length <= peakDb.length; at++) {
    let [least, most] = [Infinity, -Infinity];
    for (let i = at; i < at + length; i++) {
      least = Math.min(least, peakDb[i]!);
      most = Math.max(most, peakDb[i]!);
    }
    if (least > SILENT_DB) all.push({ at, peakDb: most, spread: most - least });
  }
  // One louder moment makes a stretch worse by as much as it is louder.
  all.sort((a, b) => a.peakDb + a.spread - (b.peakDb + b.spread));
  const chosen: typeof all = [];
  for (const one of all) {
    if (chosen.length === count) break;
    if (chosen.every(({ at }) => Math.abs(at - one.at) >= length)) chosen.push(one);
  }
  return chosen.map(({ at, peakDb: peak }) => ({
    start: at * stepSeconds,
    end: (at + length) * stepSeconds,
    peakDb: peak,
  }));
}
