"use client";

import { useQuery } from "@tanstack/react-query";
import type { Curves, Figures } from "@core/measure";
import type { Source } from "@core/project/views";
import type { StreamRange } from "@core/render/stage";
import type { MeasureAnswer, MeasureRequest } from "@audio/measure.worker";
import { blobUrl } from "@ui/shared/api";

export interface Measured {
  figures: Figures;
  curves: Curves;
}

/** One measurement in a worker of its own, which ends with it or when it is no longer wanted. */
function measured(request: MeasureRequest, signal: AbortSignal): Promise<Measured> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL("../../audio/measure.worker.ts", import.meta.url), { type: "module" });
    const end = () => worker.terminate();
    signal.addEventListener("abort", () => {
      end();
      reject(new DOMException("no longer wanted", "AbortError"));
    });
    worker.onmessage = ({ data }: MessageEvent<MeasureAnswer>) => {
      end();
      if (data.type === "done") resolve({ figures: data.figures, curves: data.curves });
      else reject(new Error(data.message));
    };
    worker.onerror = () => {
      end();
      reject(new Error("The measuring worker could not start."));
    };
    worker.postMessage(request);
  });
}

/**
 * Figures of a stretch of a recording, measured in the browser; `null` while there are none, or no stretch. Times in
 * the figures are those of the stretch.
 */
export function useStretchFigures(source: Source | null, range: StreamRange | null): Measured | null {
  const pcm = source?.pcm_hash ?? null;
  const layout = source?.layout ?? null;
  const { data } = useQuery({
    queryKey: ["stretch", pcm, layout?.name, range?.start, range?.end],
    enabled: pcm !== null && layout !== null && range !== null,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    queryFn: ({ signal }) =>
      measured({ url: new URL(blobUrl(pcm!), location.href).href, layout: layout!, range: range! }, signal),
  });
  return data ?? null;
}
