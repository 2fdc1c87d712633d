"use client";

/** The programme in hand: its times, its levels, and the join that is looked at. Its levels are there while the stage Sequence is. */
import { createContext, useContext, useMemo, type ReactNode } from "react";
import { specOf, wholeChain, type Item, type ProjectDocument } from "@core/project/document";
import { orderOf, programmeTimeline } from "@core/project/subjects";
import { knownRecordings } from "@core/project/views";
import { levelsAfter } from "@core/delivery/predict-chain";
import { placementOf } from "@core/programme/placement";
import {
  programmeLevels,
  type ItemLevels,
  type JoinLevels,
  type ProgrammeLevels,
} from "@core/programme/programme-levels";
import type { PlacedItem, Timeline } from "@core/programme/timeline";
import { useCurrentItem } from "./current-item";
import { predictableOf, type KnownOf } from "@core/project/known-items";
import { useKnownFigures } from "./use-known-figures";
import { useWorkspace, type WorkspaceState } from "./workspace-store";

export interface ProgrammeInHand {
  /** With a place that is being dragged. */
  items: readonly Item[];
  /** Items of the order. */
  order: readonly Item[];
  /** `null` while a recording is not read, or the order is empty. */
  timeline: Timeline | null;
  /** `null` while curves are on their way. */
  levels: ProgrammeLevels | null;
  /** Whether levels are estimates of what chains make of them. */
  estimated: boolean;
  /** Length in seconds. */
  duration: number;
  /** Names of items whose recordings are not read. */
  unread: readonly string[];
  /** The join before the item in hand, or after it where it is the first. */
  join: JoinLevels | null;
  /** Figures and curves of items before their chains. */
  known: KnownOf;
  placed: (item: string) => PlacedItem | undefined;
  nameOf: (item: string) => string;
}

const ProgrammeContext = createContext<ProgrammeInHand | null>(null);

export function useWholeProgramme(): ProgrammeInHand {
  const programme = useContext(ProgrammeContext);
  if (!programme) throw new Error("outside of the programme");
  return programme;
}

/** Items with a place that is being dragged. */
export function withPending(items: readonly Item[], pending: WorkspaceState["pendingPlacements"]): readonly Item[] {
  if (!pending) return items;
  const byId = new Map(pending.map(({ item, changes }) => [item, changes]));
  return items.map((item) => {
    const changes = byId.get(item.id);
    if (!changes) return item;
    const placement: Record<string, unknown> = { ...placementOf(item), ...changes };
    for (const fade of ["fadeIn", "fadeOut"]) if (placement[fade] === null) delete placement[fade];
    return { ...item, placement };
  });
}

/** Chains of one recording whose levels are kept: items may share it, and settings move. */
const MOST_CHAINS = 40;

/** Levels of items after their chains, kept as long as the item and the programme's chain are the same. */
const keptLevels = new WeakMap<object, Map<string, ItemLevels>>();

export function levelsOfItem(document: ProjectDocument, item: Item, known: KnownOf): ItemLevels | null {
  const facts = known(item);
  if (!facts) return null;
  // A place that is dragged makes another item of it, and changes nothing of its sound.
  const { figures, curves, chain: toCome, known: along } = predictableOf(document, item, facts);
  const key = curves;
  const chain = JSON.stringify(toCome);
  const kept = keptLevels.get(key) ?? new Map<string, ItemLevels>();
  keptLevels.set(key, kept);
  const found = kept.get(chain);
  if (found) return found;
  const after = levelsAfter(figures, curves, toCome, along);
  const peak = after.peakDb.reduce((most, v) => Math.max(most, v), -Infinity);
  const levels: ItemLevels = {
    momentaryLufs: after.momentaryLufs,
    truePeakDbtp: Number.isFinite(peak) ? peak + after.intersampleDb : null,
  };
  if (kept.size > MOST_CHAINS) kept.clear();
  kept.set(chain, levels);
  return levels;
}

/** @param isHeard whether the programme is in hand: its levels are worked out only then */
export function ProgrammeProvider({ isHeard, children }: { isHeard: boolean; children: ReactNode }) {
  const { view, item: inHand } = useCurrentItem();
  const known = useKnownFigures(isHeard);
  const pending = useWorkspace((workspace) => workspace.pendingPlacements);
  const { document } = view;
  const items = useMemo(() => withPending(document.items, pending), [document.items, pending]);
  const timeline = useMemo(
    () => programmeTimeline({ items: [...items], programme: document.programme }, knownRecordings(view.sources)),
    [items, document.programme, view.sources],
  );
  const levels = useMemo(() => {
    if (!timeline || !isHeard) return null;
    const byId = new Map(document.items.map((item) => [item.id, item]));
    return programmeLevels(timeline, items, document.programme.lanes, (id) =>
      levelsOfItem(document, byId.get(id)!, known),
    );
  }, [isHeard, timeline, items, document, known]);
  const programme = useMemo((): ProgrammeInHand => {
    const order = orderOf({ items: [...items] });
    const at = order.findIndex(({ id }) => id === inHand?.id);
    const placed = new Map([...(timeline?.order ?? []), ...(timeline?.onLanes ?? [])].map((one) => [one.item, one]));
    const names = new Map(items.map(({ id, name }) => [id, name]));
    const ready = new Set(view.sources.filter(({ figures }) => figures !== null).map(({ hash }) => hash));
    return {
      items,
      order,
      timeline,
      levels,
      estimated: items.some((item) => {
        const facts = known(item);
        return !facts?.after && wholeChain(document, item).some(({ bypass }) => !bypass);
      }),
      duration: timeline ? timeline.frames / timeline.sampleRate : 0,
      unread: items.filter(({ source }) => !ready.has(source)).map(({ name }) => name),
      join: levels?.joins[Math.max(0, at - 1)] ?? null,
      known,
      placed: (item) => placed.get(item),
      nameOf: (item) => names.get(item) ?? item,
    };
  }, [items, timeline, levels, inHand, view.sources, document, known]);
  return <ProgrammeContext.Provider value={programme}>{children}</ProgrammeContext.Provider>;
}

/** The target band of the deliverable in force, LUFS. */
export function useTargetBand(): { min?: number | undefined; max?: number | undefined } | undefined {
  const { deliverable, view } = useCurrentItem();
  if (!deliverable) return undefined;
  const spec = specOf(view.document, deliverable.spec);
  const limit = spec.limits.find(({ figure, scope }) => figure === "integratedLufs" && scope !== "channel");
  if (limit) return { min: limit.min, max: limit.max };
  return spec.target === null ? undefined : { min: spec.target - 0.5, max: spec.target + 0.5 };
}
