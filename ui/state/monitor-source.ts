/** From what a person wants to hear to what the listening engine plays. */
import type { PlaybackPlan, PlaybackSource } from "@playback/playback-reader";
import type { Clip } from "@core/edit-list/clip";
import type { ChainEntry } from "@core/processors";
import type { RepairStep } from "@core/repair";

export const MONITOR_SOURCES = [
  "original",
  "before",
  "now",
  "removed",
  "detector",
  "reference",
  "first",
  "second",
  "difference",
] as const;
export type MonitorSourceName = (typeof MONITOR_SOURCES)[number];

/** A state that is kept to be compared with: an item's recording through a chain, as it was then. */
export interface CompareSlot {
  label: string;
  /** Where its sound is. */
  url: string;
  repairs: RepairStep[];
  clips: Clip[] | null;
  chain: ChainEntry[];
  /** Loudness of what is heard; `null` where it is not known. */
  lufs: number | null;
}

export interface MonitorModel {
  source: MonitorSourceName;
  levelMatched: boolean;
  repairs: RepairStep[];
  clips: Clip[] | null;
  chain: ChainEntry[];
  /** So many of its first processors are made ahead. */
  frozen: number;
  /** The repair or the processor in hand, whose work is heard apart. */
  step: string | null;
  /** Integrated loudness of the original. */
  originalLufs: number | null;
  /** Integrated loudness after all repairs and the first `entries` of the chain. */
  lufsAfter: (entries: number) => number | null;
  reference: CompareSlot | null;
  slots: readonly [CompareSlot | null, CompareSlot | null];
  /** Whether "first" is slot 2, as a blind test may have it. */
  swapped: boolean;
}

/** Gain that brings `lufs` to the loudness `to`. */
const match = (matched: boolean, lufs: number | null, to: number | null): number =>
  matched && lufs !== null && to !== null ? to - lufs : 0;

const slotTake = (
  { url, repairs, clips, chain, lufs }: CompareSlot,
  { levelMatched, originalLufs }: MonitorModel,
): PlaybackSource => ({
  url,
  repairs,
  clips,
  chain,
  frozen: 0,
  gainDb: match(levelMatched, lufs, originalLufs),
});

/** What is heard, all at the loudness of the original if levels are matched. The original where something is missing. */
export function playbackPlanOf(model: MonitorModel): PlaybackPlan {
  const { source, levelMatched, repairs, clips, chain, step, originalLufs, lufsAfter, swapped } = model;
  // The original, too, is heard as it is arranged: places would not match otherwise.
  const ownTake = (steps: RepairStep[], entries: ChainEntry[], gainDb: number): PlaybackSource => ({
    url: null,
    repairs: steps,
    clips,
    chain: entries,
    // A part of what is frozen was not made by itself.
    frozen: entries.length >= model.frozen ? model.frozen : 0,
    gainDb,
  });
  const original = ownTake([], [], 0);
  const alone = (main: PlaybackSource): PlaybackPlan => ({ main, subtract: null });
  const at = step === null ? -1 : chain.findIndex(({ id }) => id === step);
  const [before, after] = at < 0 ? [0, chain.length] : [at, at + 1];
  const through = (entries: number) =>
    ownTake(repairs, chain.slice(0, entries), match(levelMatched, lufsAfter(entries), originalLufs));
  const repair = repairs.findIndex(({ id }) => id === step);
  const mended = (steps: number) => ownTake(repairs.slice(0, steps), [], 0);
  const [first, second] = swapped ? [model.slots[1], model.slots[0]] : model.slots;
  switch (source) {
    case "now":
      return alone(through(chain.length));
    case "before":
      return alone(repair >= 0 ? mended(repair) : through(before));
    case "removed":
      // With nothing in hand: all that the repairs take away, if there are any.
      if (repair >= 0) return { main: mended(repair), subtract: mended(repair + 1) };
      if (at < 0 && chain.length === 0) return { main: original, subtract: mended(repairs.length) };
      return { main: through(before), subtract: through(after) };
    case "detector": {
      // At its own level: what a detector hears is no version of the programme.
      const entry = chain[at];
      const listening = entry && [...chain.slice(0, at), { ...entry, bypass: false, monitored: "detector" as const }];
      if (!listening) return alone(through(chain.length));
      return alone({ ...ownTake(repairs, listening, 0), frozen: at < model.frozen ? 0 : model.frozen });
    }
    case "reference":
      return alone(model.reference ? slotTake(model.reference, model) : original);
    case "first":
      return alone(first ? slotTake(first, model) : original);
    case "second":
      return alone(second ? slotTake(second, model) : original);
    case "difference":
      return first && second ? { main: slotTake(first, model), subtract: slotTake(second, model) } : alone(original);
    default:
      return alone(original);
  }
}
