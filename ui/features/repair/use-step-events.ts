"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { DetectionAnswer, DetectionRequest } from "@playback/event-detection.worker";
import type { FoundRepairEvents } from "@core/repair/find-events";
import type { RepairStep } from "@core/repair";
import { askWorker } from "@ui/workers/ask-worker";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";

const MOST = 2000;

/** What a step would do something at, looked for in the background and anew when the step changes. */
export function useStepEvents(step: RepairStep, facts: ItemFacts) {
  const { item } = useCurrentItem();
  const [fraction, setFraction] = useState(0);
  const repairs = item?.repairs ?? [];
  const before = repairs.slice(
    0,
    repairs.findIndex(({ id }) => id === step.id),
  );
  const { source, editList } = facts;
  const ranges = useMemo(() => editList.stretchesOf(0, editList.frames), [editList]);
  // What is left alone, and whether the step is on, changes nothing of what there is.
  const sought = { ...step, enabled: true, excludedRegions: [] };
  const { data, error, isFetching } = useQuery({
    queryKey: ["places", source.pcm_hash, ranges, before, sought],
    enabled: source.pcm_hash !== null,
    staleTime: Infinity,
    retry: false,
    queryFn: ({ signal }) =>
      findInBrowser({ url: soundUrl(source.pcm_hash!), before, step: sought, ranges, most: MOST }, signal, setFraction),
  });
  return { found: data ?? null, problem: error?.message ?? null, busy: isFetching, fraction };
}

async function findInBrowser(
  request: DetectionRequest,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): Promise<FoundRepairEvents> {
  const worker = new PersistentWorker(
    () => new Worker(new URL("@playback/event-detection.worker.ts", import.meta.url), { type: "module" }),
  );
  const { found } = await askWorker<DetectionAnswer>(worker, request, {
    signal,
    onProgress: ({ fraction }) => onProgress(fraction),
  });
  return found;
}
