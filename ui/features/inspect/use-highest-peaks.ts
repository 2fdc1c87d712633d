"use client";

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { isActive } from "@core/repair";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import { measureInBrowser } from "@ui/workers/measuring";
import { highestPeaks, peakWindows, type HighPeak, type MeasuredPeak } from "./highest-peaks";
import type { MeasuredRange } from "./use-measured";

/** Windows that are measured: more than are shown, as a lower sample may have the higher true peak. */
const WINDOWS = 12;
const WINDOW_SECONDS = 0.1;
/** Measured on each side of a window's middle. */
const REACH_SECONDS = WINDOW_SECONDS / 2 + 0.005;

/** The highest true peaks of a stretch at their very places; lower bounds until they are measured. */
export function useHighestPeaks(facts: ItemFacts, { figures, curves, offset }: MeasuredRange): HighPeak[] {
  const { source } = useCurrentItem();
  const { item, sampleRate, editList } = facts;
  const windows = useMemo(() => peakWindows(curves.samplePeakDbfs, WINDOWS), [curves]);
  const pcm = source?.pcm_hash ?? null;
  const layout = source?.layout ?? null;
  const repairs = item.repairs.filter(isActive);
  const clips = item.clips ?? null;
  const { data } = useQuery({
    queryKey: ["true peaks", pcm, layout?.name, offset, windows, repairs, clips],
    enabled: pcm !== null && layout !== null && windows.length > 0,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    async queryFn({ signal }): Promise<MeasuredPeak[]> {
      const found: MeasuredPeak[] = [];
      for (const { seconds } of windows) {
        const frame = (at: number) => Math.max(0, Math.min(editList.frames, Math.round(at * sampleRate)));
        const range = { start: frame(offset + seconds - REACH_SECONDS), end: frame(offset + seconds + REACH_SECONDS) };
        const made = { source: { url: soundUrl(pcm!) }, layout: layout!, repairs, clips };
        const { truePeakDbtp, truePeakSeconds } = (await measureInBrowser({ ...made, range }, signal)).figures;
        if (truePeakDbtp === null || truePeakSeconds === null) continue;
        const at = range.start / sampleRate + truePeakSeconds - offset;
        // Nearer to the edges the sound begins and ends abruptly, which is no peak of its own.
        if (Math.abs(at - seconds) <= WINDOW_SECONDS / 2) found.push({ truePeakDbtp, seconds: at });
      }
      return found;
    },
  });
  return useMemo(() => {
    const { truePeakDbtp, truePeakSeconds } = figures;
    const highest =
      truePeakDbtp === null || truePeakSeconds === null ? [] : [{ truePeakDbtp, seconds: truePeakSeconds }];
    return highestPeaks(windows, [...highest, ...(data ?? [])]);
  }, [windows, figures, data]);
}
