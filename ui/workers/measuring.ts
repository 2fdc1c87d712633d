"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import type { AlongChain, MeasureAnswer, MeasuredFile, MeasureRequest } from "@playback/measure.worker";
import type { Alignment } from "@core/compare/alignment";
import type { LinearPart } from "@core/compare/linear-part";
import type { Measured } from "@core/measure";
import { askWorker } from "./ask-worker";

/** What a measurement in the browser gives. */
export interface BrowserMeasured extends Measured {
  file: MeasuredFile;
  alignment: Alignment | null;
  /** Of a difference: what a filter explains of it. */
  linear: LinearPart | null;
  along: AlongChain | null;
}

/** The core does not read this format itself. */
export class UnreadableFormat extends Error {
  override name = "ForeignFormat";
}

/**
 * One measurement in a worker of its own, which ends with it or when it is no longer wanted.
 * @throws ForeignFormat; Error with what is wrong; DOMException AbortError
 */
export async function measureInBrowser(
  request: MeasureRequest,
  signal: AbortSignal,
  onProgress?: (fraction: number, soFar: Measured | null) => void,
): Promise<BrowserMeasured> {
  const worker = new PersistentWorker(
    () => new Worker(new URL("@playback/measure.worker.ts", import.meta.url), { type: "module" }),
  );
  const { measured, ...rest } = await askWorker<MeasureAnswer>(
    worker,
    { ...request, reportsProgress: onProgress !== undefined } satisfies MeasureRequest,
    {
      signal,
      onProgress: ({ fraction, soFar }) => onProgress?.(fraction, soFar),
      failure: ({ message, foreign }) => (foreign ? new UnreadableFormat(message) : new Error(message)),
    },
  );
  return { ...measured, file: rest.file, alignment: rest.alignment, linear: rest.linear, along: rest.along };
}
