"use client";

import type { MeasureAnswer, MeasuredFile, MeasureRequest } from "@audio/measure.worker";
import type { Alignment } from "@core/compare/alignment";
import type { Measured } from "@core/measure";

/** What a measurement in the browser gives. */
export interface BrowserMeasured extends Measured {
  file: MeasuredFile;
  alignment: Alignment | null;
}

/** The core does not read this format itself. */
export class ForeignFormat extends Error {
  override name = "ForeignFormat";
}

/**
 * One measurement in a worker of its own, which ends with it or when it is no longer wanted.
 * @throws ForeignFormat; Error with what is wrong; DOMException AbortError
 */
export function measureInBrowser(
  request: MeasureRequest,
  signal: AbortSignal,
  onProgress?: (fraction: number, soFar: Measured | null) => void,
): Promise<BrowserMeasured> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL("../../audio/measure.worker.ts", import.meta.url), { type: "module" });
    const end = () => worker.terminate();
    signal.addEventListener("abort", () => {
      end();
      reject(new DOMException("no longer wanted", "AbortError"));
    });
    worker.onmessage = ({ data }: MessageEvent<MeasureAnswer>) => {
      if (data.type === "progress") return onProgress?.(data.fraction, data.soFar);
      end();
      if (data.type === "done") return resolve({ ...data.measured, file: data.file, alignment: data.alignment });
      reject(data.foreign ? new ForeignFormat(data.message) : new Error(data.message));
    };
    worker.onerror = () => {
      end();
      reject(new Error("The measuring worker could not start."));
    };
    worker.postMessage({ ...request, tellProgress: onProgress !== undefined } satisfies MeasureRequest);
  });
}
