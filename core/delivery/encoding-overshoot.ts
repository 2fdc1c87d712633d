/** How far encoding with loss lifts the true peak of a sound, as it was measured. */
import type { Decibels } from "../audio/units";

/** What encoding puts over a ceiling, by how deep the limiter under it cuts; depths rise from 0. */
export interface EncodingOvershoot {
  limitingDb: readonly Decibels[];
  overshootDb: readonly Decibels[];
}

/** Overshoot at a depth of limiting: linear between those that were measured, the last beyond them. */
export function overshootAt({ limitingDb, overshootDb }: EncodingOvershoot, depth: Decibels): Decibels {
  const next = limitingDb.findIndex((measured) => measured >= depth);
  if (next === 0) return overshootDb[0]!;
  if (next === -1) return overshootDb.at(-1)!;
  const [low, high] = [limitingDb[next - 1]!, limitingDb[next]!];
  const share = (depth - low) / (high - low);
  return overshootDb[next - 1]! * (1 - share) + overshootDb[next]! * share;
}
