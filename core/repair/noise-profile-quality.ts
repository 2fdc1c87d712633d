/** Whether a stretch is fit to learn a noise from, and which ones are. */
import { dbToPower, powerToDb } from "../audio/decibel";
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

/** Of more than this it is not noise alone: what is wanted would be taken along. */
const HARMFUL_SPREAD_DB: Decibels = 12;

/** Length, steadiness, and whether something else sounds in them. Shape of each stretch: [channel][frame]. */
export function noiseProfileQuality(stretches: readonly Planar[], sampleRate: Hertz): NoiseProfileQuality {
  const seconds = stretches.reduce((sum, block) => sum + (block[0]?.length ?? 0), 0) / sampleRate;
  if (seconds < LEAST)
    return { standing: "error", remarks: [`${seconds.toFixed(2)} s are too short: at least ${LEAST} s are needed.`] };
  const levels = stretches.flatMap((block) => levelsOf(block, sampleRate));
  const sorted = [...levels].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!;
  if (at(0.5) === -Infinity)
    return { standing: "error", remarks: ["The stretch is digital silence: there is no noise in it."] };
  const spread = at(0.9) - at(0.1);
  // Of a single breath the person is warned; where a quarter is louder, it is no pause.
  const harm = at(0.75) - at(0.1);
  if (harm > HARMFUL_SPREAD_DB)
    return {
      standing: "error",
      remarks: [
        `This is not noise alone: its level changes by ${harm.toFixed(1)} dB. What was learned from it would take the voice or the music along, so nothing was learned.`,
      ],
    };
  const words: string[] = [];
  if (seconds < ENOUGH) words.push(`${seconds.toFixed(2)} s are short: ${ENOUGH} s or more tell the noise better.`);
  if (spread > STEADY_DB) words.push(`The level is not steady: it changes by ${spread.toFixed(1)} dB.`);
  const out = levels.findIndex((level) => level > at(0.5) + STANDS_OUT_DB);
  if (out >= 0) words.push(`Something louder sounds ${(out * STEP).toFixed(2)} s into it: a breath or a voice.`);
  return { standing: words.length > 0 ? "doubt" : "fit", remarks: words };
}

export interface QuietStretch {
  start: Seconds;
  end: Seconds;
  /** Mean level. */
  levelDb: Decibels;
}

/** Length of the stretches that are offered, where the pauses are that long. */
const OFFERED: Seconds = 1.6;
const SILENT_DB: Decibels = -120;
/** A floor lies so far under the programme, or what is quietest is programme. */
const UNDER_PROGRAMME_DB: Decibels = 12;

/**
 * Stretches in which nothing but the floor sounds, the longest first, no longer than is of use, none over another. None
 * where nothing lies far under the programme: what is quietest there would be speech. Digital silence is no floor.
 * @param rmsDb levels in equal steps
 */
export function quietStretches(rmsDb: ArrayLike<number>, stepSeconds: Seconds, count: number): QuietStretch[] {
  const levels = Array.from(rmsDb);
  const sounding = levels.filter((level) => level > SILENT_DB).sort((a, b) => a - b);
  const least = Math.ceil(LEAST / stepSeconds);
  if (sounding.length < least) return [];
  const meanOf = (from: number, to: number) => powerToDb(meanPower(levels.slice(from, to)));
  let floor = Infinity;
  for (let at = 0; at + least <= levels.length; at++)
    if (levels.slice(at, at + least).every((level) => level > SILENT_DB))
      floor = Math.min(floor, meanOf(at, at + least));
  const loud = sounding[Math.floor(0.9 * sounding.length)]!;
  const quiet = sounding[Math.floor(0.1 * sounding.length)]!;
  // Where all is alike, all is noise.
  if (loud - floor < UNDER_PROGRAMME_DB && loud - quiet > STEADY_DB) return [];
  const isFloor = (level: number | undefined) => level !== undefined && level > SILENT_DB && level <= floor + STEADY_DB;
  const longest = Math.round(OFFERED / stepSeconds);
  const found: QuietStretch[] = [];
  for (let from = 0; from < levels.length;) {
    let to = from;
    while (isFloor(levels[to])) to++;
    // The end of a word and the beginning of the next reach into the first and the last step.
    const [first, last] = [from > 0 ? from + 1 : from, to < levels.length ? to - 1 : to];
    for (let at = first; last - at >= least; at += longest) {
      const end = Math.min(last, at + longest);
      if (end - at >= least) found.push({ start: at * stepSeconds, end: end * stepSeconds, levelDb: meanOf(at, end) });
    }
    from = Math.max(to, from + 1);
  }
  const length = ({ start, end }: QuietStretch) => end - start;
  return found.sort((a, b) => length(b) - length(a) || a.levelDb - b.levelDb).slice(0, count);
}

const meanPower = (levels: readonly Decibels[]): number =>
  levels.reduce((sum, level) => sum + dbToPower(level), 0) / levels.length;

/** The quiet stretches that together are long enough to learn from; fewer where there are not as many. */
export function enoughOf(stretches: readonly QuietStretch[]): QuietStretch[] {
  let seconds = 0;
  return stretches.filter(({ start, end }) => {
    if (seconds >= OFFERED) return false;
    seconds += end - start;
    return true;
  });
}
