"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { FeaturesAnswer, FeaturesRequest } from "@playback/speech-features.worker";
import type { DetectedEvent } from "@core/events/event";
import { askWorker } from "@ui/workers/ask-worker";
import type { ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";

/** What the recording is like from moment to moment, looked through once in the background. */
export function useSpeechFeatures({ source }: ItemFacts) {
  const [fraction, setFraction] = useState(0);
  const pcm = source.pcm_hash;
  const { data, error } = useQuery({
    queryKey: ["look", pcm],
    enabled: pcm !== null,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    queryFn: async ({ signal }) => {
      const worker = new PersistentWorker(
        () => new Worker(new URL("@playback/speech-features.worker.ts", import.meta.url), { type: "module" }),
      );
      const { features } = await askWorker<FeaturesAnswer>(worker, { url: soundUrl(pcm!) } satisfies FeaturesRequest, {
        signal,
        onProgress: (answer) => setFraction(answer.fraction),
      });
      return features;
    },
  });
  return { features: data ?? null, problem: error?.message ?? null, fraction };
}

/** Places that a person wants to hear no more of, by recording, kind and place. */
export const useIgnored = create<{ ignored: Record<string, true> }>()(
  persist(() => ({ ignored: {} as Record<string, true> }), { name: "resonum-left-alone", version: 1 }),
);

export const ignoredKey = ({ source }: ItemFacts, kind: string, { start }: DetectedEvent): string =>
  `${source.hash.slice(0, 16)}/${kind}/${start}`;

export function toggleIgnored(key: string): void {
  const { ignored } = useIgnored.getState();
  const { [key]: was, ...rest } = ignored;
  useIgnored.setState({ ignored: was ? rest : { ...ignored, [key]: true } });
}
