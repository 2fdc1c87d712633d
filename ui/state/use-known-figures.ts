"use client";

import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import { layoutNamed } from "@core/audio/layout";
import type { Curves, Figures } from "@core/measure";
import type { FoldChange } from "@core/delivery/on-fold-down";
import { measuredLayout } from "@core/delivery/render-plan";
import { PROGRAMME_ID, type Item } from "@core/project/document";
import { sourceInProgramme } from "@core/project/mixes";
import { knownOf, leftOutOf, type KnownOf, type MeasuredOn } from "@core/project/known-items";
import { wantedFigures } from "@core/project/wanted-figures";
import { wantedOvershoots } from "@core/project/wanted-overshoots";
import { knownRecordings, type ProjectView } from "@core/project/views";
import { httpSource } from "@playback/http-source";
import { api, blobUrl } from "@ui/api/api";
import { useFoldChanges } from "./use-fold-changes";
import { useOvershoots } from "./use-overshoots";
import { useCurrentItem } from "./current-item";

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
    // oxlint-disable-next-line react-hooks/exhaustive-deps
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
    const others = [...missing].filter((subject) => subject !== inHand?.id);
    const ask = () => {
      const body = { items: others.length > 0 ? others : [...missing] };
      void api("POST /api/projects/{project}/figures", { params: { project: id }, body }).catch(() => undefined); // estimates stay
    };
    const timer = setTimeout(ask, others.length > 0 ? STILL_MS : IN_HAND_STILL_MS);
    return () => clearTimeout(timer);
    // Of the view, these alone tell what is missing.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [id, document, sources, itemFigures, overshoots, inHand, isWanted]);
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
