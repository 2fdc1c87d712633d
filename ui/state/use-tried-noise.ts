"use client";

import { useQueries } from "@tanstack/react-query";
import type { Decibels } from "@core/audio/units";
import { isActive, type RepairStep } from "@core/repair";
import type { Item } from "@core/project/document";
import type { Source } from "@core/project/views";
import { measureInBrowser } from "@ui/workers/measuring";
import { soundUrl } from "./use-range-figures";

/** Tried on so much to each side of the quietest half second: a repair that follows the noise must find it there. */
const AROUND_SECONDS = 8;

export interface TriedNoise {
  /** By how much each step lowers the floor; `null` where that cannot be told, or not yet. */
  lowersDb: readonly (Decibels | null)[];
  isTrying: boolean;
}

/**
 * By how much each step lowers the noise floor, tried on the sound around the quietest half second of the recording,
 * after the repairs that it has.
 */
export function useTriedNoise(source: Source | undefined, item: Item, steps: readonly RepairStep[]): TriedNoise {
  const { pcm_hash: pcm, layout, figures } = source ?? { pcm_hash: null, layout: null, figures: null };
  const at = figures?.noiseFloorSeconds ?? null;
  const before = item.repairs.filter(isActive);
  const tried = steps.length === 0 ? [] : [null, ...steps];
  return useQueries({
    queries: tried.map((step) => ({
      queryKey: ["tried noise", pcm, layout?.name, at, before, step],
      enabled: pcm !== null && layout !== null && at !== null,
      staleTime: Infinity,
      retry: false,
      queryFn: async ({ signal }: { signal: AbortSignal }) => {
        const { frames, sampleRate } = figures!;
        const range = {
          start: Math.max(0, Math.round((at! - AROUND_SECONDS) * sampleRate)),
          end: Math.min(frames, Math.round((at! + AROUND_SECONDS) * sampleRate)),
        };
        const measured = await measureInBrowser(
          { source: { url: soundUrl(pcm!) }, layout, range, repairs: step ? [...before, step] : before },
          signal,
        );
        return measured.figures.noiseFloorDbfs;
      },
    })),
    combine: triedOf,
  });
}

function triedOf(results: readonly { data?: Decibels | null | undefined; isFetching: boolean }[]): TriedNoise {
  const [unmended = null, ...mended] = results.map(({ data }) => data ?? null);
  return {
    lowersDb: mended.map((floor) => (floor === null || unmended === null ? null : unmended - floor)),
    isTrying: results.some(({ isFetching }) => isFetching),
  };
}
