"use client";

import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { EditList } from "@core/edit-list/edit-list";
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import type { Curves, Measured } from "@core/measure";
import type { ChainEntry } from "@core/processors";
import { isActive } from "@core/repair";
import { estimatedOf, type KnownLevels } from "@core/delivery/predict-chain";
import { onFoldDown, type FoldChange } from "@core/delivery/on-fold-down";
import type { DeliverySpec } from "@core/delivery/spec";
import { wholeChain, type Item, type ProjectDocument } from "@core/project/document";
import { processedItem } from "@core/project/item-render-inputs";
import { knownRecordings, type ProjectView } from "@core/project/views";
import { httpSource } from "@playback/http-source";
import { api, blobUrl } from "@ui/api/api";
import { useFoldChanges } from "./use-fold-changes";
import { useCurrentItem } from "./current-item";

/** What is known of an item's sound. */
export interface KnownItem extends Measured {
  /** Levels that were measured along its chain. */
  known?: KnownLevels | null;
  /** After repairs, cuts and chain, as it was measured on all of the sound; `null` until then. */
  after?: Measured | null;
  /** What the figures before the chain leave out; `null` where they are measured. */
  leftOut?: string | null;
  /** How loudness changes where a spec measures it; `null` while that is not known. */
  foldedOn?: (measuredOn: DeliverySpec["measuredOn"]) => FoldChange | null;
}

/** Figures and curves of an item before its chain, and after it where that was measured. */
export type KnownOf = (item: Item) => KnownItem | null;

/**
 * What predictions begin with: what was measured after the chain, with nothing more to come, or all of the chain still.
 * @param measuredOn where the spec measures loudness
 */
export function predictableOf(
  document: Pick<ProjectDocument, "chain">,
  item: Item,
  facts: KnownItem,
  measuredOn: DeliverySpec["measuredOn"] = "programme",
): Measured & { chain: readonly ChainEntry[]; known: KnownLevels | null } {
  const change = facts.foldedOn?.(measuredOn) ?? {};
  const { figures, curves } = facts.after ?? facts;
  const measured = { figures: onFoldDown(figures, change), curves };
  if (facts.after) return { ...measured, chain: [], known: null };
  return { ...measured, chain: wholeChain(document, item), known: facts.known ?? null };
}

/** What figures as they came leave out of an item. */
function leftOutOf({ repairs, clips }: Item): string | null {
  const active = repairs.filter(isActive).length;
  const words = [
    ...(active > 0 ? [active === 1 ? "its repair" : `its ${active} repairs`] : []),
    ...(clips ? ["what its cuts do to peaks"] : []),
  ];
  return words.length > 0 ? words.join(" and ") : null;
}

/** Curves that are read from blobs, by hash; each is read once. */
function useCurves(hashes: readonly string[], isWanted: boolean): ReadonlyMap<string, Curves> {
  const read = useQueries({
    queries: hashes.map((hash) => ({
      queryKey: ["curves", hash],
      enabled: isWanted,
      staleTime: Infinity,
      queryFn: async (): Promise<Curves> => {
        const bytes = await httpSource(blobUrl(hash));
        return readCurves(bytes, await readWaveformPeaksHeader(bytes));
      },
    })),
    combine: (results) => results.map(({ data }) => data),
  });
  return useMemo(
    () => new Map(hashes.flatMap((hash, index) => (read[index] ? [[hash, read[index]] as const] : []))),
    // The hashes are made anew by each rendering; what was read tells when they are others.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [read],
  );
}

/** Settings that stand still for so long are measured on the server. */
const STILL_MS = 2500;

/** Asks the server for the figures of items that something is done to, once they are left alone. */
function useAskedFigures(view: ProjectView, inHand: Item | null, isWanted: boolean): void {
  const { id, document, sources, itemFigures } = view;
  useEffect(() => {
    if (!isWanted) return;
    const known = knownRecordings(sources);
    const there = new Set(itemFigures.map(({ hash }) => hash));
    const missing = document.items.filter((item) => {
      const processed = item === inHand ? null : processedItem(document, item, known);
      return processed && !there.has(processed.hash);
    });
    if (missing.length === 0) return;
    const ask = () => {
      const body = { items: missing.map((item) => item.id) };
      void api(`projects/${id}/figures`, { method: "POST", body }).catch(() => undefined); // estimates stay
    };
    const timer = setTimeout(ask, STILL_MS);
    return () => clearTimeout(timer);
  }, [id, document, sources, itemFigures, inHand, isWanted]);
}

/** What the server knows of items: after all that is done to them, or as they came. Each is opened once. */
function knownOf(
  { document, sources, itemFigures }: Pick<ProjectView, "document" | "sources" | "itemFigures">,
  curves: ReadonlyMap<string, Curves>,
): KnownOf {
  const known = knownRecordings(sources);
  const byHash = new Map(sources.map((source) => [source.hash, source]));
  const measured = new Map(itemFigures.map((one) => [one.hash, one]));
  const made = new WeakMap<Item, KnownItem | null>();
  const open = (item: Item): KnownItem | null => {
    const source = byHash.get(item.source);
    const own = curves.get(source?.overview_hash ?? "");
    if (!source?.figures || !own) return null;
    const { sampleRate, frames } = source.figures;
    const asItCame = estimatedOf({ figures: source.figures, curves: own }, EditList.of(item.clips, frames), sampleRate);
    const processed = processedItem(document, item, known);
    const render = processed && measured.get(processed.hash);
    const after = render && curves.get(render.overview_hash);
    return {
      ...asItCame,
      after: after ? { figures: render.figures, curves: after } : null,
      leftOut: after ? null : leftOutOf(item),
    };
  };
  return (item) => {
    if (!made.has(item)) made.set(item, open(item));
    return made.get(item)!;
  };
}

/**
 * Figures and curves of all items, so that every cell can be predicted: of the item in hand as the page measured it, of
 * others as the server did after repairs, cuts and chain, and until then as they came.
 */
export function useKnownFigures(isWanted = true): KnownOf {
  const { view, facts, item: inHand } = useCurrentItem();
  const { document, sources, itemFigures } = view;
  useAskedFigures(view, inHand, isWanted);
  const hashes = [...new Set([...sources, ...itemFigures].flatMap(({ overview_hash: hash }) => hash ?? []))];
  const curves = useCurves(hashes, isWanted);
  const foldChangeOf = useFoldChanges(view, isWanted);
  // Which item is in hand changes nothing of the others.
  const ofOthers = useMemo(
    () => knownOf({ document, sources, itemFigures }, curves),
    [document, sources, itemFigures, curves],
  );
  return useMemo((): KnownOf => {
    const inHandNow = facts && {
      figures: facts.figures,
      curves: facts.curves,
      known: facts.knownLevels,
      leftOut: facts.estimated ? leftOutOf(facts.item) : null,
    };
    return (item) => {
      const known = facts?.item === item ? inHandNow : ofOthers(item);
      return known && { ...known, foldedOn: (measuredOn) => foldChangeOf(item.source, measuredOn) };
    };
  }, [ofOthers, facts, foldChangeOf]);
}
