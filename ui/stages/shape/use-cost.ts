"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { CostAnswer, CostRequest } from "@audio/cost.worker";
import type { ChainEntry } from "@core/process";
import { askWorker } from "@ui/shared/ask-worker";
import type { ItemFacts } from "@ui/workspace/in-hand";

/** Settings must have stood still for so long before their cost is looked at. */
const STILL_MS = 600;

/** What a processor costs on this machine and how much it delays; `null` until it was tried. */
export function useCost(entry: ChainEntry, facts: ItemFacts | null) {
  const layout = facts?.source.layout ?? null;
  const still = useStill(entry);
  const { data } = useQuery({
    queryKey: ["cost", still, layout?.name, facts?.sampleRate],
    enabled: layout !== null,
    staleTime: Infinity,
    retry: false,
    queryFn: ({ signal }) =>
      askWorker<CostAnswer>(
        new Worker(new URL("../../../audio/cost.worker.ts", import.meta.url), { type: "module" }),
        { entry: still, sampleRate: facts!.sampleRate, layout: layout! } satisfies CostRequest,
        { signal },
      ),
  });
  return data ?? null;
}

function useStill(entry: ChainEntry): ChainEntry {
  const [still, setStill] = useState(entry);
  useEffect(() => {
    const timer = setTimeout(() => setStill(entry), STILL_MS);
    return () => clearTimeout(timer);
  }, [entry]);
  return still;
}
