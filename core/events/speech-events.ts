/** What lies between and in the words: long pauses, breaths, coughs, blows of air, a floor that is too high. */
import type { Decibels, Seconds } from "../audio/units";
import type { Features } from "./speech-features";
import { hops, meanDb, mostOf, pausesOf, phrasesOf, eventOf, runsOf, type Run } from "./runs";
import { type DetectedEvent } from "./event";

/** Edges of what is found are taken this much wider. */
const MARGIN: Seconds = 0.015;

/** Nearer than this to what was said it is the end of a word. */
const AFTER: Seconds = 0.12;
const BEFORE: Seconds = 0.02;

const widened = ({ from, to }: Run): Run => ({ from: from - hops(MARGIN), to: to + hops(MARGIN) });

/** Pauses longer than a listener waits. Size: the level of what sounds in them. */
export const longPauses = (features: Features, seconds: Seconds): DetectedEvent[] =>
  pausesOf(features)
    .filter(({ from, to }) => to - from >= hops(seconds))
    .map((run) => eventOf(features, run, meanDb(features.level, run)));

/** Something in a pause that stands out of the floor, apart from what is said before and after. */
function sounds(features: Features): Run[] {
  const { level, floorDb } = features;
  return pausesOf(features).flatMap(({ from, to }) =>
    runsOf(to - from, (hop) => level[from + hop]! > floorDb + 5, hops(0.04))
      .map((run) => ({ from: from + run.from, to: from + run.to }))
      .filter((run) => (from === 0 || run.from - from >= hops(AFTER)) && to - run.to >= hops(BEFORE)),
  );
}

/** Breaths: soft noise in pauses, neither sharp nor voiced, longer than a click. Size: level under the voice's. */
export const breaths = (features: Features): DetectedEvent[] =>
  sounds(features)
    .filter((run) => {
      const long = run.to - run.from;
      if (long < hops(0.11) || long > hops(1.2)) return false;
      const level = meanDb(features.level, run);
      const sharp = mostOf(features.peak, run) - level > 24;
      return !sharp && level < features.speechDb - 6 && mean(features.voiced, run) < 0.62 && isAiry(features, run);
    })
    .map((run) => eventOf(features, widened(run), meanDb(features.level, run)));

/** Most of a breath lies in the middle and above, not in the rumble. */
const isAiry = ({ low, middle, high }: Features, run: Run): boolean =>
  Math.max(meanDb(middle, run), meanDb(high, run)) > meanDb(low, run) + 3;

/** Coughs and the like: loud, short and toneless, apart from what is said. */
export const coughs = (features: Features): DetectedEvent[] => {
  const line = features.speechDb - 3;
  const phrases = phrasesOf(features);
  return runsOf(features.level.length, (hop) => features.level[hop]! > line, hops(0.06))
    .filter((run) => {
      const long = run.to - run.from;
      if (long < hops(0.08) || long > hops(0.8)) return false;
      const inPhrase = phrases.some(({ from, to }) => from - hops(0.05) < run.to && to + hops(0.05) > run.from);
      return !inPhrase && mean(features.voiced, run) < 0.7;
    })
    .map((run) => eventOf(features, widened(run), meanDb(features.level, run)));
};

/** Blows of air into the microphone at p and b: short swells below 150 Hz, far above the voice's own. */
export const plosives = (features: Features): DetectedEvent[] => {
  const { low, middle } = features;
  const inPhrases = phrasesOf(features).flatMap(({ from, to }) => Array.from(low.subarray(from, to)));
  inPhrases.sort((a, b) => a - b);
  const usual = inPhrases[Math.floor(0.9 * inPhrases.length)] ?? 0;
  return runsOf(low.length, (hop) => low[hop]! > usual + 6 && low[hop]! > middle[hop]!, hops(0.01))
    .filter(({ from, to }) => to - from >= 2 && to - from <= hops(0.2))
    .map((run) => eventOf(features, widened(run), mostOf(low, run) - usual));
};

/** Half seconds of pauses in which the floor lies above a limit. Size: by how much. */
export const highFloors = (features: Features, limitDb: Decibels): DetectedEvent[] => {
  const half = hops(0.5);
  return pausesOf(features)
    .filter(({ from, to }) => to - from >= half)
    .flatMap((pause) => {
      // Breaths and the like are not the floor.
      const levels = features.level.slice(pause.from, pause.to).sort();
      const level = levels[Math.floor(levels.length / 3)]!;
      return level > limitDb ? [eventOf(features, pause, level - limitDb)] : [];
    });
};

function mean(values: Float32Array, { from, to }: Run): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += values[i]!;
  return to > from ? sum / (to - from) : 0;
}
