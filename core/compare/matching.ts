/** Which of some later recordings belongs to which of the earlier ones: by sound, by length, by name. */
import type { Seconds } from "../audio/units";
import { resemblance, type Fingerprint } from "./fingerprint";

export interface Candidate {
  id: string;
  name: string;
  seconds: Seconds;
  /** `null` while it is not known. */
  fingerprint: Fingerprint | null;
}

export interface Match {
  /** Of the later one. */
  id: string;
  /** Of the earlier one; `null` where none is like it. */
  of: string | null;
  /** Likeness of the sound, 0…1; `null` where it could not be compared. */
  likeness: number | null;
}

/** Words of a name, without its ending and what often changes from one version to the next. */
const wordsOf = (name: string): string[] =>
  name
    .toLowerCase()
    .replace(/\.[a-z0-9]{2,4}$/, "")
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word.length > 1 && !/^(\d{1,3}|v\d+|mix|master|final|new|wav)$/.test(word));

/** Share of words that two names have in common. */
export function nameLikeness(a: string, b: string): number {
  const [one, other] = [new Set(wordsOf(a)), new Set(wordsOf(b))];
  if (one.size === 0 || other.size === 0) return 0;
  const shared = [...one].filter((word) => other.has(word)).length;
  return shared / Math.max(one.size, other.size);
}

const lengthLikeness = (a: Seconds, b: Seconds): number =>
  Math.max(0, 1 - Math.abs(a - b) / Math.max(1, Math.min(a, b)));

/** Sound counts most: names may be anything, and lengths are much alike. */
const WEIGHTS = { sound: 0.7, length: 0.15, name: 0.15 };
/** Below this, two are not taken for one thing. */
const LEAST = 0.35;

/** Pairs the most alike first, each once. */
export function matched(later: readonly Candidate[], earlier: readonly Candidate[]): Match[] {
  const pairs = later.flatMap((one) =>
    earlier.map((other) => {
      const likeness =
        one.fingerprint && other.fingerprint ? resemblance(other.fingerprint, one.fingerprint).likeness : null;
      const score =
        WEIGHTS.sound * (likeness ?? 0) +
        WEIGHTS.length * lengthLikeness(one.seconds, other.seconds) +
        WEIGHTS.name * nameLikeness(one.name, other.name);
      return { id: one.id, of: other.id, likeness, score };
    }),
  );
  pairs.sort((a, b) => b.score - a.score);
  const taken = new Map<string, (typeof pairs)[number]>();
  const used = new Set<string>();
  for (const pair of pairs) {
    if (taken.has(pair.id) || used.has(pair.of) || pair.score < LEAST) continue;
    taken.set(pair.id, pair);
    used.add(pair.of);
  }
  return later.map(({ id }) => {
    const pair = taken.get(id);
    return { id, of: pair?.of ?? null, likeness: pair?.likeness ?? null };
  });
}
