"use client";

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { MeasureRequest } from "@audio/measure.worker";
import { Arrangement } from "@core/arrange/arrangement";
import type { Measured } from "@core/measure";
import type { Source } from "@core/project/views";
import { isAtWork, type RepairStep } from "@core/repair";
import type { Item } from "@core/project/document";
import type { StreamRange } from "@core/render/stage";
import { blobUrl } from "@ui/shared/api";
import { useMade } from "./repairs-made";
import { measureInBrowser } from "@ui/shared/measuring";

export type { Measured };

/** What is done to a recording on the way to an item: it is repaired, then arranged. */
type Made = Partial<Pick<MeasureRequest, "repairs" | "pieces">>;

/** Where the sound of a recording lies, for workers: they know no page that a path could be relative to. */
export const soundUrl = (pcmHash: string): string => new URL(blobUrl(pcmHash), location.href).href;

/**
 * Figures of a stretch of an item, measured in the browser; `null` while there are none, or no stretch. Times in the
 * figures are those of the stretch.
 */
export function useStretchFigures(
  source: Source | null,
  range: StreamRange | null,
  { repairs = [], pieces = null }: Made,
  part: MeasureRequest["part"] = {},
  wanted = true,
): Measured | null {
  const whole = part.band === undefined && part.channel === undefined;
  const pcm = source?.pcm_hash ?? null;
  const layout = source?.layout ?? null;
  const { data } = useQuery({
    queryKey: ["stretch", pcm, layout?.name, range?.start, range?.end, part, repairs, pieces],
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
          pieces,
        },
        signal,
      ),
  });
  return data ?? null;
}

const NO_STEPS: RepairStep[] = [];

/** Figures of an item after its repairs; `null` while there are none, or where its recording's figures are its own. */
export function useRepairedFigures(source: Source | null, item: Item | null): Measured | null {
  const repairs = useMemo(() => item?.repairs.filter(isAtWork) ?? NO_STEPS, [item]);
  const pieces = item?.pieces ?? null;
  const recorded = source?.figures?.frames;
  const range = useMemo(
    () =>
      (repairs.length > 0 || pieces) && recorded ? { start: 0, end: Arrangement.of(pieces, recorded).frames } : null,
    [repairs, pieces, recorded],
  );
  // What is made in the background is not made a second time to be measured.
  return useStretchFigures(source, range, { repairs, pieces }, undefined, useMade(repairs));
}
