"use client";

import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";
import { EditList } from "@core/edit-list/edit-list";
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import type { Curves } from "@core/measure";
import { estimatedOf } from "@core/delivery/predict-chain";
import { httpSource } from "@playback/http-source";
import { blobUrl } from "@ui/api/api";
import { useCurrentItem } from "@ui/state/current-item";
import type { KnownOf } from "./board-model";

/**
 * Figures and curves of all items before their chains, so that every cell can be predicted: of the item in hand as it is
 * after its repairs, and after its chain as far as that was measured; of others as they came.
 */
export function useKnownFigures(): KnownOf {
  const { view, facts } = useCurrentItem();
  const ready = view.sources.filter(({ overview_hash }) => overview_hash !== null);
  const read = useQueries({
    queries: ready.map(({ overview_hash: hash }) => ({
      queryKey: ["curves", hash],
      staleTime: Infinity,
      queryFn: async (): Promise<Curves> => {
        const bytes = await httpSource(blobUrl(hash!));
        return readCurves(bytes, await readWaveformPeaksHeader(bytes));
      },
    })),
    combine: (results) => results.map(({ data }) => data),
  });
  return useMemo(() => {
    const curves = new Map(ready.map(({ hash }, index) => [hash, read[index]]));
    return (item) => {
      if (facts?.item === item) return { figures: facts.figures, curves: facts.curves, known: facts.knownLevels };
      const source = ready.find(({ hash }) => hash === item.source);
      const all = curves.get(item.source);
      if (!source?.figures || !all) return null;
      const { sampleRate, frames } = source.figures;
      return estimatedOf({ figures: source.figures, curves: all }, EditList.of(item.clips, frames), sampleRate);
    };
    // `ready` is made anew by each rendering from the same view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [view.sources, read, facts]);
}
