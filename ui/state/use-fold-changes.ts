"use client";

import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";
import { foldChange, type FoldChange } from "@core/delivery/on-fold-down";
import { measuredLayout } from "@core/delivery/render-plan";
import type { DeliverySpec } from "@core/delivery/spec";
import { specOf } from "@core/project/document";
import type { ProjectView } from "@core/project/views";
import { measureInBrowser } from "@ui/workers/measuring";
import { MAX_RANGE_SECONDS, soundUrl } from "./use-range-figures";

type MeasuredOn = DeliverySpec["measuredOn"];

/** How the figures of a recording change where a spec measures them; `null` while that is not known. */
export type FoldChangeOf = (source: string, measuredOn: MeasuredOn) => FoldChange | null;

/** Recordings on the fold-downs that the project's deliverables are measured on, measured in the page, each once. */
export function useFoldChanges(
  { document, sources }: Pick<ProjectView, "document" | "sources">,
  isWanted: boolean,
): FoldChangeOf {
  const folded = useMemo(() => {
    const specs = new Set(document.deliverables.map(({ spec }) => specOf(document, spec).measuredOn));
    return sources.flatMap((source) => {
      const { layout } = source;
      if (!layout) return [];
      return [...specs].flatMap((measuredOn) => {
        const measured = measuredLayout(layout, { measuredOn });
        return measured.fold ? [{ source, measuredOn, layout: measured.layout, fold: measured.fold }] : [];
      });
    });
  }, [document, sources]);
  const changes = useQueries({
    queries: folded.map(({ source: { pcm_hash: pcm, figures }, measuredOn, layout, fold }) => ({
      queryKey: ["folded", pcm, measuredOn],
      enabled: isWanted && pcm !== null && figures !== null && figures.durationSeconds <= MAX_RANGE_SECONDS,
      staleTime: Infinity,
      retry: false,
      queryFn: async ({ signal }: { signal: AbortSignal }) => {
        const measured = await measureInBrowser({ source: { url: soundUrl(pcm!) }, layout, fold }, signal);
        return foldChange(figures!, measured.figures);
      },
    })),
    combine: (results) => results.map(({ data }) => data ?? null),
  });
  return useMemo(() => {
    const known = new Map(
      folded.map(({ source, measuredOn }, n) => [`${source.hash} ${measuredOn}`, changes[n] ?? null]),
    );
    return (source, measuredOn) =>
      known.get(`${source} ${measuredOn}`) ?? (known.has(`${source} ${measuredOn}`) ? null : NONE);
  }, [folded, changes]);
}

/** Of a recording that is measured as it is. */
const NONE: FoldChange = {};
