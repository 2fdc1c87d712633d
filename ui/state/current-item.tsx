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
import type { DeliverySpec } from "@core/delivery/spec";
import type { LimitedFigures } from "@core/delivery/compliance";
import { ItemOverview } from "@ui/state/item-waveform";
import { OverviewData } from "@ui/state/recording-overview";
import { blobUrl } from "@ui/api/api";
import type { BrowserMeasured } from "@ui/workers/measuring";
import { chainInHand, useDesk } from "./workspace-store";
import { useChainFigures, useRepairedFigures, type Measured } from "./use-range-figures";

/** An item with everything that is known of it. */
export interface ItemFacts {
  item: Item;
  source: Source;
  /** What the item is made of, and its length in seconds. */
  arrangement: EditList;
  duration: number;
  sampleRate: number;
  overview: ItemOverview;
  /** Of the item after its repairs, before its chain; times are seconds of the item. */
  figures: Figures;
  curves: Curves;
  /** Loudness of the item as it came, before its repairs. */
  originalLufs: number | null;
  /** Whether the figures are estimates, still to be measured. */
  estimated: boolean;
  /** Levels that were last measured along its chain: estimates begin where it is still the same. */
  known: KnownLevels | null;
}

interface InHand {
  view: ProjectView;
  edit: (command: Command) => Promise<void>;
  item: Item | null;
  source: Source | null;
  facts: ItemFacts | null;
  /** There before the facts are: what the item's waveform is drawn of. */
  waveform: OverviewData | null;
  /** The item's chain and the programme's, with a setting that is being moved. */
  chain: ChainEntry[];
  /** Figures after the chain: estimated at first, measured once it stands still. */
  now: LimitedFigures | null;
  /** Whether they are measured. */
  nowMeasured: boolean;
  /** Curves after the chain; `null` until they are measured. */
  curvesNow: Curves | null;
  /** What its processors take off over time; `null` until it is measured. */
  reductions: ReductionCurves | null;
  deliverable: Deliverable | null;
  spec: DeliverySpec | null;
  /** Called when something to draw has arrived. */
  onArrival: (listener: () => void) => () => void;
  /** Tells that something to draw has arrived. */
  arrived: () => void;
}

const Context = createContext<InHand | null>(null);

export function useInHand(): InHand {
  const inHand = useContext(Context);
  if (!inHand) throw new Error("outside of a workspace");
  return inHand;
}

/** Opens the overview of a recording and keeps it while it is in hand. */
function useOverview(source: Source | null) {
  const [arrivals] = useState(() => new Set<() => void>());
  const [opened, setOpened] = useState<OverviewData | null>(null);
  const [waveform, setWaveform] = useState<OverviewData | null>(null);
  const arrived = useCallback(() => arrivals.forEach((listener) => listener()), [arrivals]);
  const overviewHash = source?.overview_hash ?? null;
  const pcmHash = source?.pcm_hash ?? null;
  useEffect(() => {
    let current = true;
    if (!overviewHash || !pcmHash) return;
    const early = (data: OverviewData) => current && setWaveform(data);
    OverviewData.open(blobUrl(overviewHash), blobUrl(pcmHash), arrived, early).then(
      (data) => current && setOpened(data),
      () => current && setOpened(null),
    );
    return () => {
      current = false;
      setOpened(null);
      setWaveform(null);
    };
  }, [overviewHash, pcmHash, arrived]);
  const onArrival = useMemo(
    () => (listener: () => void) => {
      arrivals.add(listener);
      return () => void arrivals.delete(listener);
    },
    [arrivals],
  );
  return { overview: opened, waveform, onArrival, arrived };
}

/**
 * Figures and curves of an item: those of its recording, or of what it is made of after its repairs,
 * estimated from the curves as they came until they are measured.
 */
function factsOf(item: Item, source: Source, overview: OverviewData, measured: Measured | null): BareFacts | null {
  if (!source.figures) return null;
  const { sampleRate, frames } = source.figures;
  const arrangement = EditList.of(item.clips, frames);
  const common = {
    item,
    source,
    arrangement,
    duration: arrangement.frames / sampleRate,
    sampleRate,
    overview: new ItemOverview(overview, arrangement),
  };
  const repaired = item.repairs.some(isActive);
  const whole = { figures: source.figures, curves: overview.curves };
  const asItCame = estimatedOf(whole, arrangement, sampleRate);
  const originalLufs = asItCame.figures.integratedLufs;
  if (arrangement.isWhole && !repaired) return { ...common, ...whole, originalLufs, estimated: false };
  if (measured) return { ...common, ...measured, originalLufs, estimated: false };
  return { ...common, ...asItCame, originalLufs, estimated: true };
}

/** Facts before it is known what was measured along the chain. */
type BareFacts = Omit<ItemFacts, "known">;

/** What was last measured along the chain of an item, as long as the sound that comes into it is the same. */
function useKnownLevels(facts: BareFacts | null, after: BrowserMeasured | null): KnownLevels | null {
  const [last, setLast] = useState<{ of: Figures; levels: KnownLevels } | null>(null);
  const levels = after?.along?.known;
  if (facts && levels && last?.levels !== levels) setLast({ of: facts.figures, levels });
  return last && last.of === facts?.figures ? last.levels : null;
}

export function InHandProvider({
  view,
  edit,
  children,
}: {
  view: ProjectView;
  edit: InHand["edit"];
  children: ReactNode;
}) {
  const itemId = useDesk((desk) => desk.item);
  const moving = useDesk((desk) => desk.moving);
  const { document } = view;
  const item = document.items.find(({ id }) => id === itemId) ?? document.items[0] ?? null;
  const source = view.sources.find(({ hash }) => hash === item?.source) ?? null;
  const { overview, waveform, onArrival, arrived } = useOverview(source);
  const measured = useRepairedFigures(source, item);
  const facts = useMemo(
    () => (item && source && overview ? factsOf(item, source, overview, measured) : null),
    [item, source, overview, measured],
  );
  const withoutChain = useDesk((desk) => desk.withoutChain);
  const chain = useMemo(() => {
    const whole = chainInHand(item ? wholeChain(document, item) : [], moving);
    return withoutChain ? whole.map((entry) => ({ ...entry, bypass: true })) : whole;
  }, [document, item, moving, withoutChain]);
  const after = useChainFigures(source, item, chain);
  const known = useKnownLevels(facts, after);
  const knownFacts = useMemo(() => facts && { ...facts, known }, [facts, known]);
  const now = useMemo(() => {
    if (!facts) return null;
    if (chain.every((entry) => entry.bypass)) return facts.figures;
    return after?.figures ?? predictNow(facts.figures, facts.curves, chain, known);
  }, [facts, chain, after, known]);
  const deliverable = deliverableInForce(document) ?? null;
  const spec = useMemo(
    () => (deliverable ? specOf(view.document, deliverable.spec) : null),
    [deliverable, view.document],
  );
  const nowMeasured = after !== null;
  const curvesNow = after?.curves ?? null;
  const reductions = after?.along?.reductions ?? null;
  const inHand = useMemo(
    () => ({
      view,
      edit,
      item,
      source,
      facts: knownFacts,
      waveform,
      chain,
      now,
      nowMeasured,
      curvesNow,
      reductions,
      deliverable,
      spec,
      onArrival,
      arrived,
    }),
    [
      view,
      edit,
      item,
      source,
      knownFacts,
      waveform,
      chain,
      now,
      nowMeasured,
      curvesNow,
      reductions,
      deliverable,
      spec,
      onArrival,
      arrived,
    ],
  );
  return <Context.Provider value={inHand}>{children}</Context.Provider>;
}
