import { butterworth, SectionFilter } from "../signal/butterworth";
import { powerToDb } from "../signal/decibel";
import type { Hertz, Planar, Seconds } from "../signal/units";
import type { StretchJudgement } from "./noise-stretch";

const STEP: Seconds = 0.004;
/** A fall is looked at from here below its top down to where the floor begins. */
const SKIPPED_DB = 4;
const ABOVE_FLOOR_DB = 8;
/** Shorter or shallower falls tell nothing. */
const LEAST_FALL_DB = 12;
const LEAST_SECONDS: Seconds = 0.04;
const LEAST_FALLS = 6;
/** A rise by this ends a fall. */
const RISE_DB = 2;
/** A voice that fades out falls more slowly than its room, so that the quicker half tells more. */
const QUICK_SHARE = 0.4;

export interface RoomDecay {
  /** Time for 60 dB; `null` where it cannot be told. */
  tailSeconds: Seconds | null;
  judgement: StretchJudgement;
}

/**
 * How long a room takes to fall by 60 dB, from the ends of words in a stretch (falling slopes of the level between
 * 500 Hz and 4 kHz, by least squares). Shape of `block`: [channel][frame]. Within a third for speech with pauses.
 */
export function learnDecay(block: Planar, sampleRate: Hertz): RoomDecay {
  const levels = levelsOf(block, sampleRate);
  const sorted = levels.filter((db) => db > -150).sort((a, b) => a - b);
  const floor = sorted[Math.floor(0.1 * sorted.length)] ?? -150;
  const slopes = fallsOf(levels, floor + ABOVE_FLOOR_DB);
  if (slopes.length < LEAST_FALLS)
    return {
      tailSeconds: null,
      judgement: {
        standing: "error",
        words: [
          `${slopes.length} ends of words fall far enough to be measured, ${LEAST_FALLS} are needed: select a longer stretch of speech with pauses.`,
        ],
      },
    };
  const times = slopes.map((slope) => 60 / slope).sort((a, b) => a - b);
  const tailSeconds = times[Math.floor(QUICK_SHARE * times.length)]!;
  const few = slopes.length < 3 * LEAST_FALLS;
  return {
    tailSeconds,
    judgement: few
      ? { standing: "doubt", words: [`Only ${slopes.length} ends of words could be measured.`] }
      : { standing: "fit", words: [] },
  };
}

function levelsOf(block: Planar, sampleRate: Hertz): Float64Array {
  const mono = block[0]!.slice();
  for (const x of block.slice(1)) for (let i = 0; i < mono.length; i++) mono[i]! += x[i]!;
  const high = Math.min(4000, 0.4 * sampleRate);
  new SectionFilter(
    [...butterworth("high", 500, 2, sampleRate), ...butterworth("low", high, 2, sampleRate)],
    1,
  ).process([mono]);
  const step = Math.round(STEP * sampleRate);
  const raw = Float64Array.from({ length: Math.floor(mono.length / step) }, (_, n) => {
    let sum = 0;
    for (let i = n * step; i < (n + 1) * step; i++) sum += mono[i]! * mono[i]!;
    return sum / step;
  });
  // Over some pitch periods, so that the level does not follow them.
  const reach = 3;
  return raw.map((_, n) => {
    const part = raw.subarray(Math.max(0, n - reach), n + reach + 1);
    return powerToDb(part.reduce((sum, v) => sum + v, 0) / part.length);
  });
}

/** Slopes of all falls, dB a second. */
function fallsOf(levels: Float64Array, lowest: number): number[] {
  const slopes: number[] = [];
  for (let top = 1; top + 1 < levels.length; top++) {
    if (levels[top]! < levels[top - 1]! || levels[top]! < lowest + LEAST_FALL_DB + SKIPPED_DB) continue;
    let end = top;
    let least = levels[top]!;
    while (end + 1 < levels.length && levels[end + 1]! > lowest && levels[end + 1]! < least + RISE_DB) {
      end++;
      least = Math.min(least, levels[end]!);
    }
    let from = top;
    while (from < end && levels[from]! > levels[top]! - SKIPPED_DB) from++;
    const fall = levels[from]! - levels[end]!;
    if (fall >= LEAST_FALL_DB && (end - from) * STEP >= LEAST_SECONDS)
      slopes.push(slopeOf(levels.subarray(from, end + 1)));
    top = Math.max(top, end);
  }
  return slopes.filter((slope) => slope > 0);
}

function slopeOf(levels: Float64Array): number {
  const n = levels.length;
  const middle = (n - 1) / 2;
  const mean = levels.reduce((sum, v) => sum + v, 0) / n;
  let [cross, own] = [0, 0];
  levels.forEach((db, i) => {
    cross += (i - middle) * (db - mean);
    own += (i - middle) ** 2;
  });
  return -cross / own / STEP;
}
