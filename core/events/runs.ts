import { exp10, log10 } from "../math/deterministic-math";
import type { DetectedEvent } from "./event";
import type { Decibels, Seconds } from "../audio/units";
import { HOP, type Features } from "./speech-features";

/** A run of hops. */
export interface Run {
  from: number;
  to: number;
}

export const hops = (seconds: Seconds): number => Math.round(seconds / HOP);

/** Runs in which `is` holds; gaps shorter than `bridge` are passed over. */
export function runsOf(count: number, is: (hop: number) => boolean, bridge = 0): Run[] {
  const runs: Run[] = [];
  for (let hop = 0; hop < count; hop++) {
    if (!is(hop)) continue;
    const last = runs.at(-1);
    if (last && hop - last.to <= bridge) last.to = hop + 1;
    else runs.push({ from: hop, to: hop + 1 });
  }
  return runs;
}

/** Mean of levels, as powers. */
export function meanDb(levels: Float32Array, { from, to }: Run): Decibels {
  let sum = 0;
  for (let i = from; i < to; i++) sum += exp10(levels[i]! / 10);
  return to > from ? 10 * log10(sum / (to - from)) : -120;
}

export function mostOf(values: Float32Array, { from, to }: Run): number {
  let most = -Infinity;
  for (let i = Math.max(0, from); i < Math.min(values.length, to); i++) most = Math.max(most, values[i]!);
  return most;
}

export const eventOf = ({ hop, frames }: Features, { from, to }: Run, sizeDb: Decibels): DetectedEvent => ({
  start: Math.max(0, from * hop),
  end: Math.min(frames, to * hop),
  sizeDb,
});

/** A voice is heard above this: between the floor and the voice's own level. */
const speechLineDb = ({ speechDb, floorDb }: Features): Decibels => floorDb + Math.max(6, 0.5 * (speechDb - floorDb));

/** Where somebody speaks: phrases, with the short stops within them. */
export function phrasesOf(features: Features): Run[] {
  const line = speechLineDb(features);
  const { middle, voiced } = features;
  const loud = runsOf(middle.length, (hop) => middle[hop]! > line, hops(0.15));
  // Something is said where a voice sounds; consonants without voice go along with it.
  return loud
    .filter((run) => run.to - run.from >= hops(0.09) && mostOf(voiced, run) > 0.75)
    .map((run) => withConsonants(features, run));
}

/** Consonants at the ends of a phrase last no longer than this. */
const CONSONANT: Seconds = 0.22;

function withConsonants({ level, floorDb }: Features, { from, to }: Run): Run {
  const sounds = (hop: number) => hop >= 0 && hop < level.length && level[hop]! > floorDb + 8;
  let [first, last] = [from, to];
  while (from - first < hops(CONSONANT) && sounds(first - 1)) first--;
  while (last - to < hops(CONSONANT) && sounds(last)) last++;
  return { from: first, to: last };
}

/** What lies between phrases. */
export function pausesOf(features: Features): Run[] {
  const phrases = phrasesOf(features);
  const pauses: Run[] = [];
  let from = 0;
  for (const phrase of [...phrases, { from: features.level.length, to: Infinity }]) {
    if (phrase.from > from) pauses.push({ from, to: phrase.from });
    from = Math.max(from, phrase.to);
  }
  return pauses;
}
