"use client";

import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { EditList } from "@core/edit-list/edit-list";
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import { layoutNamed } from "@core/audio/layout";
import type { Curves, Figures, Measured } from "@core/measure";
import type { ChainEntry } from "@core/processors";
import { isActive } from "@core/repair";
import { estimatedOf, type KnownLevels } from "@core/delivery/predict-chain";
import { onFoldDown, type FoldChange } from "@core/delivery/on-fold-down";
import { measuredLayout } from "@core/delivery/render-plan";
import type { MasterFormat } from "@core/delivery/recipe";
import type { DeliverySpec } from "@core/delivery/spec";
import { PROGRAMME_ID, wholeChain, type Item, type ProjectDocument } from "@core/project/document";
import { processedItem } from "@core/project/item-render-inputs";
import { itemInMix, sourceInProgramme } from "@core/project/mixes";
import { processedProgramme } from "@core/project/programme-inputs";
import { wantedFigures } from "@core/project/wanted-figures";
import { wantedOvershoots, type MeasuredOvershoot } from "@core/project/wanted-overshoots";
import { knownRecordings, type ProjectView } from "@core/project/views";
import { httpSource } from "@playback/http-source";
import { api, blobUrl } from "@ui/api/api";
import { useFoldChanges } from "./use-fold-changes";
import { useOvershoots } from "./use-overshoots";
import { useCurrentItem } from "./current-item";

type MeasuredOn = DeliverySpec["measuredOn"];

/** What is known of an item's sound. */
export interface KnownItem extends Measured {
  /** Levels that were measured along its chain. */
  known?: KnownLevels | null;
  /** After repairs, cuts and chain, as it was measured on all of the sound; `null` until then. */
  after?: Measured | null;
  /** What the figures before the chain leave out; `null` where they are measured. */
  leftOut?: string | null;
  /** How loudness changes where a spec measures it; `null` while that is not known. */
  foldedOn?: (measuredOn: MeasuredOn) => FoldChange | null;
  /** What encoding adds to its peaks, as far as it was tried. */
  overshootOf?: (format: MasterFormat) => MeasuredOvershoot | null;
}

/**
 * Figures and curves of an item before its chain, and after it where that was measured; of the programme after its own.
 * @param mix that they are those of; the one in force without
 */
export type KnownOf = (item: Item, mix?: string) => KnownItem | null;

/**
 * What predictions begin with: what was measured after the chain, with nothing more to come, or all of the chain still.
 * @param measuredOn where the spec measures loudness
 */
export function predictableOf(
  document: Pick<ProjectDocument, "chain">,
  item: Item,
  facts: KnownItem,
  measuredOn: MeasuredOn = "programme",
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

/** Settings that stand still for so long are measured on the server: those of the item in hand change most. */
const [STILL_MS, IN_HAND_STILL_MS] = [2500, 8000];

/** Items of which the server has not measured the figures, or what their encoder adds. */
function missingFigures({ document, sources, itemFigures, overshoots }: ProjectView, inHand: string | undefined) {
  const known = knownRecordings(sources);
  const there = new Set([
    ...itemFigures.map(({ hash }) => hash),
    ...overshoots.filter(({ isExact }) => isExact).map(({ hash, encoding }) => `${hash} ${encoding}`),
  ]);
  return new Set([
    // The figures of the item in hand are the page's.
    ...wantedFigures(document, known).flatMap(({ subject, hash }) =>
      subject === inHand || there.has(hash) ? [] : [subject],
    ),
    ...wantedOvershoots(document, known).flatMap(({ subject, hash, encoding }) =>
      there.has(`${hash} ${encoding}`) ? [] : [subject],
    ),
  ]);
}

/** Asks the server for what it has not measured, once items are left alone. */
function useAskedFigures(view: ProjectView, inHand: Item | null, isWanted: boolean): void {
  const { id, document, sources, itemFigures, overshoots } = view;
  useEffect(() => {
    if (!isWanted) return;
    const missing = missingFigures(view, inHand?.id);
    if (missing.size === 0) return;
    const ask = () => {
      const body = { items: [...missing] };
      void api(`projects/${id}/figures`, { method: "POST", body }).catch(() => undefined); // estimates stay
    };
    const isOther = [...missing].some((subject) => subject !== inHand?.id);
    const timer = setTimeout(ask, isOther ? STILL_MS : IN_HAND_STILL_MS);
    return () => clearTimeout(timer);
    // Of the view, these alone tell what is missing.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, document, sources, itemFigures, overshoots, inHand, isWanted]);
}

/** What the server knows: of items after all that is done to them, or as they came, of programmes after their chains. Each is opened once. */
function knownOf(
  { document, sources, itemFigures }: Pick<ProjectView, "document" | "sources" | "itemFigures">,
  curves: ReadonlyMap<string, Curves>,
): KnownOf {
  const known = knownRecordings(sources);
  const byHash = new Map(sources.map((source) => [source.hash, source]));
  const measured = new Map(itemFigures.map((one) => [one.hash, one]));
  const made = new Map<string, KnownItem | null>();
  const measuredAs = (hash: string | undefined): Measured | null => {
    const found = hash === undefined ? undefined : measured.get(hash);
    const own = found && curves.get(found.overview_hash);
    return own ? { figures: found.figures, curves: own } : null;
  };
  const openProgramme = (mix: string | undefined): KnownItem | null => {
    const after = measuredAs(processedProgramme(document, mix, known)?.hash);
    return after && { ...after, after, leftOut: null };
  };
  const openItem = (item: Item): KnownItem | null => {
    const source = byHash.get(item.source);
    const own = curves.get(source?.overview_hash ?? "");
    if (!source?.figures || !own) return null;
    const { sampleRate, frames } = source.figures;
    const asItCame = estimatedOf({ figures: source.figures, curves: own }, EditList.of(item.clips, frames), sampleRate);
    const after = measuredAs(processedItem(document, item, known)?.hash);
    return { ...asItCame, after, leftOut: after ? null : leftOutOf(item) };
  };
  return (item, mix) => {
    const key = `${item.id} ${mix ?? ""}`;
    if (!made.has(key))
      made.set(key, item.id === PROGRAMME_ID ? openProgramme(mix) : openItem(itemInMix(item, mix, known)));
    return made.get(key)!;
  };
}

/** The whole is measured as it is: how it changes where it is folded down is not known. */
const unfolded = ({ layout }: Figures, measuredOn: MeasuredOn): FoldChange | null =>
  measuredLayout(layoutNamed(layout)!, { measuredOn }).fold ? null : {};

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
  const overshootOf = useOvershoots(view);
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
    return (item, mix) => {
      const source = sourceInProgramme(item, mix);
      const known = facts?.item === item && source === item.source ? inHandNow : ofOthers(item, mix);
      if (!known) return null;
      const foldedOn = (measuredOn: MeasuredOn) =>
        item.id === PROGRAMME_ID ? unfolded(known.figures, measuredOn) : foldChangeOf(source, measuredOn);
      return { ...known, foldedOn, overshootOf: (format) => overshootOf(item, format, mix) };
    };
  }, [ofOthers, facts, foldChangeOf, overshootOf]);
}
