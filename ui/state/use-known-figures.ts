"use client";

import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";
import { EditList } from "@core/edit-list/edit-list";
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import type { Curves, Figures } from "@core/measure";
import { httpSource } from "@playback/http-source";
import { blobUrl } from "@ui/api/api";
import { useCurrentItem } from "./current-item";
import { estimatedOf, type KnownLevels } from "@core/delivery/predict-chain";
import type { Item } from "@core/project/document";

/** Figures and curves of an item before its chain. */
export type KnownOf = (item: Item) => { figures: Figures; curves: Curves; known?: KnownLevels | null } | null;

/**
 * Figures and curves of all items before their chains, so that every cell can be predicted: of the item in hand as it is
 * after its repairs, and after its chain as far as that was measured; of others as they came.
 */
export function useKnownFigures(isWanted = true): KnownOf {
  const { view, facts } = useCurrentItem();
  const ready = view.sources.filter(({ overview_hash }) => overview_hash !== null);
  const read = useQueries({
    queries: ready.map(({ overview_hash: hash }) => ({
      queryKey: ["curves", hash],
      enabled: isWanted,
      staleTime: Infinity,
      queryFn: async (): Promise<Curves> => {
        const bytes = await httpSource(blobUrl(hash!));
        return readCurves(bytes, await readWaveformPeaksHeader(bytes));
      },
    })),
    combine: (results) => results.map(({ data }) => data),
  });
  // Which item is in hand changes nothing of the others.
  const asTheyCame = useMemo((): KnownOf => {
    const sources = new Map(ready.map((source, index) => [source.hash, { source, curves: read[index] }]));
    const made = new WeakMap<Item, ReturnType<KnownOf>>();
    return (item) => {
      const found = made.get(item);
      if (found) return found;
      const { source, curves } = sources.get(item.source) ?? {};
      const figures = source?.figures;
      if (!figures || !curves) return null;
      const { sampleRate, frames } = figures;
      const whole = { figures, curves };
      const estimate = estimatedOf(whole, EditList.of(item.clips, frames), sampleRate);
      made.set(item, estimate);
      return estimate;
    };
    // `ready` is made anew by each rendering from the same view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [view.sources, read]);
  return useMemo(
    (): KnownOf => (item) =>
      facts?.item === item
        ? { figures: facts.figures, curves: facts.curves, known: facts.knownLevels }
        : asTheyCame(item),
    [asTheyCame, facts],
  );
}
