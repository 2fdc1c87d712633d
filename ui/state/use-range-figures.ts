"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { MeasureRequest } from "@playback/measure.worker";
import { EditList } from "@core/edit-list/edit-list";
import type { Measured } from "@core/measure";
import type { ChainEntry } from "@core/processors";
import type { Source } from "@core/project/views";
import { isActive, type RepairStep } from "@core/repair";
import type { Item } from "@core/project/document";
import type { StreamRange } from "@core/audio/stage";
import { blobUrl } from "@ui/api/api";
import { useEngineState } from "./listening-engine";
import { useRenderedRepairs } from "./repair-progress";
import { measureInBrowser, type BrowserMeasured } from "@ui/workers/measuring";

export type { Measured };

/** What is done to a recording on the way to an item: it is repaired, then arranged. */
type Made = Partial<Pick<MeasureRequest, "repairs" | "clips" | "chain">>;

const NO_STEPS: RepairStep[] = [];
const NO_CHAIN: ChainEntry[] = [];

/** Where the sound of a recording lies, for workers: they know no page that a path could be relative to. */
export const soundUrl = (pcmHash: string): string => new URL(blobUrl(pcmHash), location.href).href;

/**
 * Figures of a stretch of an item, measured in the browser; `null` while there are none, or no stretch. Times in the
 * figures are those of the stretch.
 */
export function useRangeFigures(
  source: Source | null,
  range: StreamRange | null,
  { repairs = [], clips = null, chain = NO_CHAIN }: Made,
  part: MeasureRequest["part"] = {},
  wanted = true,
): BrowserMeasured | null {
  const whole = part.band === undefined && part.channels === undefined;
  const pcm = source?.pcm_hash ?? null;
  const layout = source?.layout ?? null;
  const { data } = useQuery({
    queryKey: ["stretch", pcm, layout?.name, range?.start, range?.end, part, repairs, clips, chain],
    enabled: wanted && pcm !== null && layout !== null && range !== null,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    queryFn: ({ signal }) =>
      measureInBrowser(
        {
          source: { url: soundUrl(pcm!) },
          layout: layout!,
          range: range!,
          ...(whole ? {} : { part }),
          repairs,
          clips,
          chain,
        },
        signal,
      ),
  });
  return data ?? null;
}

/** Figures of an item after its repairs; `null` while there are none, or where its recording's figures are its own. */
export function useRepairedFigures(source: Source | null, item: Item | null): Measured | null {
  const repairs = useMemo(() => item?.repairs.filter(isActive) ?? NO_STEPS, [item]);
  const clips = item?.clips ?? null;
  const recorded = source?.figures?.frames;
  const range = useMemo(
    () => ((repairs.length > 0 || clips) && recorded ? { start: 0, end: EditList.of(clips, recorded).frames } : null),
    [repairs, clips, recorded],
  );
  // What is made in the background is not made a second time to be measured.
  return useRangeFigures(source, range, { repairs, clips }, undefined, useRenderedRepairs(repairs));
}

/** A chain must have stood still for so long before its item is measured after it. */
const CHAIN_STILL_MS = 1500;
/** Longer items stay estimated: reading them through a chain takes too long beside other work. */
export const MAX_RANGE_SECONDS = 1200;

/**
 * Figures of an item after its chain, measured in the background once the chain stands still and nothing plays;
 * `null` while there are none.
 */
export function useChainFigures(source: Source | null, item: Item | null, chain: ChainEntry[]): BrowserMeasured | null {
  const [still, setStill] = useState<ChainEntry[]>(NO_CHAIN);
  useEffect(() => {
    const timer = setTimeout(() => setStill(chain.filter(({ bypass }) => !bypass)), CHAIN_STILL_MS);
    return () => clearTimeout(timer);
  }, [chain]);
  const repairs = useMemo(() => item?.repairs.filter(isActive) ?? NO_STEPS, [item]);
  const clips = item?.clips ?? null;
  const figures = source?.figures;
  const range = useMemo(() => {
    if (!figures || still.length === 0) return null;
    const { frames } = EditList.of(clips, figures.frames);
    return frames / figures.sampleRate > MAX_RANGE_SECONDS ? null : { start: 0, end: frames };
  }, [figures, still, clips]);
  const made = useRenderedRepairs(repairs);
  const { playing } = useEngineState();
  const measured = useRangeFigures(source, range, { repairs, clips, chain: still }, undefined, made && !playing);
  const current = JSON.stringify(still) === JSON.stringify(chain.filter(({ bypass }) => !bypass));
  return current ? measured : null;
}
