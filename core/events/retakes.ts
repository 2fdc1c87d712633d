import type { Frames, Seconds } from "../audio/units";
import type { Features } from "./speech-features";
import { hops, mostOf, pausesOf, phrasesOf, eventOf, type Run } from "./runs";
import { type DetectedEvent } from "./event";

/** A clap or a click rises by this within 15 ms … */
const RISE_DB = 15;
/** … and is over after so long. */
const SHORT: Seconds = 0.09;
/** The two of a mark lie so far apart, and are about as loud. */
const NEAREST: Seconds = 0.1;
const FURTHEST: Seconds = 0.75;
const ALIKE_DB = 12;

/** Snaps in pauses: sharp, short, above everything around them. */
function snapsOf(features: Features): Run[] {
  const { high, peak } = features;
  const snaps: Run[] = [];
  for (const pause of pausesOf(features)) {
    for (let hop = Math.max(8, pause.from); hop < pause.to; hop++) {
      const before = mostOf(high, { from: hop - 8, to: hop - 1 });
      if (high[hop]! - before < RISE_DB || mostOf(high, { from: hop + 1, to: hop + 3 }) > high[hop]! + 1) continue;
      if (peak[hop]! < features.speechDb) continue;
      let to = hop + 1;
      while (to < high.length && high[to]! > high[hop]! - RISE_DB) to++;
      if (to - hop > hops(SHORT)) continue;
      snaps.push({ from: hop, to });
      hop = to + hops(0.03);
    }
  }
  return snaps;
}

/** Marks that a reader gave for "again": two claps or clicks of a clicker, one shortly after the other. */
export function retakeMarks(features: Features): DetectedEvent[] {
  const snaps = snapsOf(features);
  const { peak } = features;
  const marks: DetectedEvent[] = [];
  for (let i = 0; i + 1 < snaps.length; i++) {
    const [first, second] = [snaps[i]!, snaps[i + 1]!];
    const apart = second.from - first.from;
    const sizes = [mostOf(peak, first), mostOf(peak, second)] as const;
    if (apart < hops(NEAREST) || apart > hops(FURTHEST) || Math.abs(sizes[0] - sizes[1]) > ALIKE_DB) continue;
    marks.push(eventOf(features, { from: first.from - 2, to: second.to + 2 }, Math.max(...sizes)));
    i++;
  }
  return marks;
}

/** A way to take a retake in: what to cut out, from the phrase that failed to the one that replaces it. */
export interface RetakeCut {
  start: Frames;
  end: Frames;
  /** The phrase that is replaced, and the one that replaces it. */
  before: { start: Frames; end: Frames };
  after: { start: Frames; end: Frames };
  /** How alike the beginnings of both are, 0…1: the same words give about 0.8. */
  alike: number;
}

/** Phrases that could be replaced lie within this before the mark. */
const BACK: Seconds = 40;
const MOST_CUTS = 8;
/** A phrase is over when this long nothing is said. */
const PHRASE_GAP: Seconds = 0.32;
/** Of the pause before a phrase so much stays. */
const LEAD: Seconds = 0.3;

/** All ways to take in the retake behind a mark, the likeliest first. */
export function retakeCuts(features: Features, mark: DetectedEvent): RetakeCut[] {
  const { hop } = features;
  const markRun = { from: Math.floor(mark.start / hop), to: Math.ceil(mark.end / hop) };
  const phrases = joinedPhrases(features);
  const again = phrases.find(({ from }) => from >= markRun.to);
  if (!again) return [];
  const before = phrases.filter(({ from, to }) => to <= markRun.from + 2 && from >= markRun.from - hops(BACK));
  const leadOf = (phrase: Run): number => {
    const previous = phrases.filter(({ to }) => to <= phrase.from).at(-1)?.to ?? 0;
    const least = phrase === again ? Math.max(previous, markRun.to) : previous;
    return Math.max(least, phrase.from - hops(LEAD), Math.ceil((least + phrase.from) / 2));
  };
  const frames = ({ from, to }: Run) => ({ start: from * hop, end: Math.min(features.frames, to * hop) });
  return before
    .slice(-MOST_CUTS)
    .map((phrase) => {
      const [start, end] = [leadOf(phrase), leadOf(again)];
      const alike = likeness(features, phrase, again);
      return { start: start * hop, end: end * hop, before: frames(phrase), after: frames(again), alike };
    })
    .sort((a, b) => b.alike - a.alike || b.start - a.start);
}

function joinedPhrases(features: Features): Run[] {
  const joined: Run[] = [];
  for (const phrase of phrasesOf(features)) {
    const last = joined.at(-1);
    if (last && phrase.from - last.to < hops(PHRASE_GAP)) last.to = phrase.to;
    else joined.push({ ...phrase });
  }
  return joined;
}

/** Compared over this much of both beginnings, shifted by up to so much. */
const COMPARED: Seconds = 0.9;
const SHIFT: Seconds = 0.12;

/** Correlation of the three bands' levels over the beginnings of two phrases, the best of small shifts. */
function likeness(features: Features, a: Run, b: Run): number {
  const length = Math.min(hops(COMPARED), a.to - a.from, b.to - b.from);
  if (length < hops(0.15)) return 0;
  let best = 0;
  for (let shift = -hops(SHIFT); shift <= hops(SHIFT); shift++) {
    let sum = 0;
    for (const band of [features.low, features.middle, features.high])
      sum += correlation(band, a.from, band, b.from + shift, length);
    best = Math.max(best, sum / 3);
  }
  return best;
}

function correlation(x: Float32Array, i: number, y: Float32Array, j: number, length: number): number {
  if (j < 0 || i + length > x.length || j + length > y.length) return 0;
  const mean = (z: Float32Array, k: number) => z.subarray(k, k + length).reduce((sum, v) => sum + v, 0) / length;
  const [mx, my] = [mean(x, i), mean(y, j)];
  let [cross, a, b] = [0, 1e-9, 1e-9];
  for (let k = 0; k < length; k++) {
    const [u, v] = [x[i + k]! - mx, y[j + k]! - my];
    cross += u * v;
    a += u * u;
    b += v * v;
  }
  return cross / Math.sqrt(a * b);
}
