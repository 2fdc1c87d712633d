"use client";

import { useQuery } from "@tanstack/react-query";
import type { MeasureRequest } from "@audio/measure.worker";
import type { Measured } from "@core/measure";
import type { Source } from "@core/project/views";
import type { StreamRange } from "@core/render/stage";
import { blobUrl } from "@ui/shared/api";
import { measureInBrowser } from "@ui/shared/measuring";

export type { Measured };

/** Where the sound of a recording lies, for workers: they know no page that a path could be relative to. */
export const soundUrl = (pcmHash: string): string => new URL(blobUrl(pcmHash), location.href).href;

/**
 * Figures of a stretch of a recording, measured in the browser; `null` while there are none, or no stretch. Times in
 * the figures are those of the stretch.
 */
export function useStretchFigures(
  source: Source | null,
  range: StreamRange | null,
  part: MeasureRequest["part"] = {},
): Measured | null {
  const whole = part.band === undefined && part.channel === undefined;
  const pcm = source?.pcm_hash ?? null;
  const layout = source?.layout ?? null;
  const { data } = useQuery({
    queryKey: ["stretch", pcm, layout?.name, range?.start, range?.end, part],
    enabled: pcm !== null && layout !== null && range !== null,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    queryFn: ({ signal }) =>
      measureInBrowser(
        { source: { url: soundUrl(pcm!) }, layout: layout!, range: range!, ...(whole ? {} : { part }) },
        signal,
      ),
  });
  return data ?? null;
}
