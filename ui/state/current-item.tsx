"use client";

import { createContext, useCallback, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import { EditList } from "@core/edit-list/edit-list";
import type { Curves, Figures } from "@core/measure";
import type { ChainEntry } from "@core/processors";
import { isActive } from "@core/repair";
import { deliverableInForce, specOf, wholeChain, type Deliverable, type Item } from "@core/project/document";
import type { Command } from "@core/project/commands";
import type { ProjectView, Source } from "@core/project/views";
import type { ReductionCurves } from "@core/render/reduction-history";
import { estimatedOf, predictNow, type KnownLevels } from "@core/delivery/predict-chain";
import { sampled, type Predictable } from "@core/delivery/sampled-curves";
import type { DeliverySpec } from "@core/delivery/spec";
import type { LimitedFigures } from "@core/delivery/compliance";
import { ItemWaveform } from "@ui/state/item-waveform";
import { RecordingOverview } from "@ui/state/recording-overview";
import { blobUrl } from "@ui/api/api";
import type { BrowserMeasured } from "@ui/workers/measuring";
import { chainWithPending, useWorkspace } from "./workspace-store";
import { useChainFigures, useRepairedFigures, type Measured } from "./use-range-figures";

/** An item with everything that is known of it. */
export interface ItemFacts {
  item: Item;
  source: Source;
  /** What the item is made of, and its length in seconds. */
  editList: EditList;
  duration: number;
  sampleRate: number;
  overview: ItemWaveform;
  /** Of the item after its repairs, before its chain; times are seconds of the item. */
  figures: Figures;
  curves: Curves;
  /** Loudness of the item as it came, before its repairs. */
  originalLufs: number | null;
  /** Whether the figures are estimates, still to be measured. */
  estimated: boolean;
  /** Levels that were last measured along its chain: estimates begin where it is still the same. */
  knownLevels: KnownLevels | null;
}

export interface CurrentItem {
  view: ProjectView;
  edit: (command: Command) => Promise<void>;
  item: Item | null;
  source: Source | null;
  facts: ItemFacts | null;
  /** There before the facts are: what the item's waveform is drawn of. */
  waveform: RecordingOverview | null;
  /** The item's chain and the programme's, with a setting that is being moved. */
  chain: ChainEntry[];
  /** What predictions after the chain begin with: of hours, stretches while a setting moves. */
  predictable: Predictable | null;
  /** Figures after the chain: estimated at first, measured once it stands still. */
  chainFigures: LimitedFigures | null;
  /** Whether they are measured. */
  chainMeasured: boolean;
  /** Curves after the chain; `null` until they are measured. */
  chainCurves: Curves | null;
  /** What its processors take off over time; `null` until it is measured. */
  reductions: ReductionCurves | null;
  deliverable: Deliverable | null;
  spec: DeliverySpec | null;
  /** Called when something to draw has notifyArrival. */
  onArrival: (listener: () => void) => () => void;
  /** Tells that something to draw has notifyArrival. */
  notifyArrival: () => void;
}

export const CurrentItemContext = createContext<CurrentItem | null>(null);

export function useCurrentItem(): CurrentItem {
  const current = useContext(CurrentItemContext);
  if (!current) throw new Error("outside of a workspace");
  return current;
}

/** Overviews that stay open: going from item to item and back fetches nothing again. */
const MOST_OVERVIEWS = 12;

/** Opens the overview of a recording, and keeps those that were in hand last. */
function useOverview(source: Source | null) {
  const [arrivals] = useState(() => new Set<() => void>());
  const [kept] = useState(() => new Map<string, RecordingOverview>());
  const [opened, setOpened] = useState<RecordingOverview | null>(null);
  const [waveform, setWaveform] = useState<RecordingOverview | null>(null);
  const notifyArrival = useCallback(() => arrivals.forEach((listener) => listener()), [arrivals]);
  const overviewHash = source?.overview_hash ?? null;
  const pcmHash = source?.pcm_hash ?? null;
  useEffect(() => {
    let current = true;
    if (!overviewHash || !pcmHash) return;
    const known = kept.get(overviewHash + pcmHash);
    const show = (data: RecordingOverview) => {
      // Last in the map is last in hand.
      kept.delete(overviewHash + pcmHash);
      kept.set(overviewHash + pcmHash, data);
      if (kept.size > MOST_OVERVIEWS) kept.delete(kept.keys().next().value!);
      if (!current) return;
      setWaveform(data);
      setOpened(data);
    };
    const early = (data: RecordingOverview) => current && setWaveform(data);
    if (known) show(known);
    else
      RecordingOverview.open(blobUrl(overviewHash), blobUrl(pcmHash), notifyArrival, early).then(
        show,
        () => current && setOpened(null),
      );
    return () => {
      current = false;
      setOpened(null);
      setWaveform(null);
    };
  }, [overviewHash, pcmHash, notifyArrival, kept]);
  const onArrival = useMemo(
    () => (listener: () => void) => {
      arrivals.add(listener);
      return () => void arrivals.delete(listener);
    },
    [arrivals],
  );
  return { overview: opened, waveform, onArrival, notifyArrival };
}

/**
 * Figures and curves of an item: those of its recording, or of what it is made of after its repairs,
 * estimated from the curves as they came until they are measured.
 */
function factsOf(item: Item, source: Source, overview: RecordingOverview, measured: Measured | null): BareFacts | null {
  if (!source.figures) return null;
  const { sampleRate, frames } = source.figures;
  const editList = EditList.of(item.clips, frames);
  const common = {
    item,
    source,
    editList,
    duration: editList.frames / sampleRate,
    sampleRate,
    overview: new ItemWaveform(overview, editList),
  };
  const repaired = item.repairs.some(isActive);
  const whole = { figures: source.figures, curves: overview.curves };
  const asItCame = estimatedOf(whole, editList, sampleRate);
  const originalLufs = asItCame.figures.integratedLufs;
  if (editList.isWhole && !repaired) return { ...common, ...whole, originalLufs, estimated: false };
  if (measured) return { ...common, ...measured, originalLufs, estimated: false };
  return { ...common, ...asItCame, originalLufs, estimated: true };
}

/** Facts before it is known what was measured along the chain. */
type BareFacts = Omit<ItemFacts, "knownLevels">;

/** What was last measured along the chain of an item, as long as the sound that comes into it is the same. */
function useKnownLevels(facts: BareFacts | null, after: BrowserMeasured | null): KnownLevels | null {
  const [last, setLast] = useState<{ of: Figures; levels: KnownLevels } | null>(null);
  const levels = after?.along?.known;
  if (facts && levels && last?.levels !== levels) setLast({ of: facts.figures, levels });
  return last && last.of === facts?.figures ? last.levels : null;
}

export function CurrentItemProvider({
  view,
  edit,
  children,
}: {
  view: ProjectView;
  edit: CurrentItem["edit"];
  children: ReactNode;
}) {
  const itemId = useWorkspace((workspace) => workspace.item);
  const moving = useWorkspace((workspace) => workspace.pendingParameter);
  const { document } = view;
  const item = document.items.find(({ id }) => id === itemId) ?? document.items[0] ?? null;
  const source = view.sources.find(({ hash }) => hash === item?.source) ?? null;
  const { overview, waveform, onArrival, notifyArrival } = useOverview(source);
  const measured = useRepairedFigures(source, item);
  const facts = useMemo(
    () => (item && source && overview ? factsOf(item, source, overview, measured) : null),
    [item, source, overview, measured],
  );
  const withoutChain = useWorkspace((workspace) => workspace.chainBypassed);
  const chain = useMemo(() => {
    const whole = chainWithPending(item ? wholeChain(document, item) : [], moving);
    return withoutChain ? whole.map((entry) => ({ ...entry, bypass: true })) : whole;
  }, [document, item, moving, withoutChain]);
  const after = useChainFigures(source, item, chain);
  const knownLevels = useKnownLevels(facts, after);
  const knownFacts = useMemo(() => facts && { ...facts, knownLevels }, [facts, knownLevels]);
  const whole = useMemo(
    () => facts && { figures: facts.figures, curves: facts.curves, known: knownLevels },
    [facts, knownLevels],
  );
  const coarse = useMemo(() => whole && sampled(whole), [whole]);
  const predictable = moving ? coarse : whole;
  const chainFigures = useMemo(() => {
    if (!predictable) return null;
    const { figures, curves, known } = predictable;
    if (chain.every((entry) => entry.bypass)) return figures;
    return after?.figures ?? predictNow(figures, curves, chain, known);
  }, [predictable, chain, after]);
  const deliverable = deliverableInForce(document) ?? null;
  const spec = useMemo(
    () => (deliverable ? specOf(view.document, deliverable.spec) : null),
    [deliverable, view.document],
  );
  const chainMeasured = after !== null;
  const chainCurves = after?.curves ?? null;
  const reductions = after?.along?.reductions ?? null;
  const current = useMemo(
    () => ({
      view,
      edit,
      item,
      source,
      facts: knownFacts,
      waveform,
      chain,
      predictable,
      chainFigures,
      chainMeasured,
      chainCurves,
      reductions,
      deliverable,
      spec,
      onArrival,
      notifyArrival,
    }),
    [
      view,
      edit,
      item,
      source,
      knownFacts,
      waveform,
      chain,
      predictable,
      chainFigures,
      chainMeasured,
      chainCurves,
      reductions,
      deliverable,
      spec,
      onArrival,
      notifyArrival,
    ],
  );
  return <CurrentItemContext.Provider value={current}>{children}</CurrentItemContext.Provider>;
}
