"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import { workerFailure } from "@playback/worker-failure";
import type { ConformanceAnswer, ConformanceRequest } from "@playback/conformance.worker";
import type { ConformanceResult } from "@core/conformance/run";
import { saveAs } from "@ui/api/save-as";

const start = () =>
  new PersistentWorker(
    () => new Worker(new URL("@playback/conformance.worker.ts", import.meta.url), { type: "module" }),
  );

/** Runs all cases at a rate; tells results as they come. Ends early when `signal` is aborted. */
export function runConformance(
  sampleRate: number,
  signal: AbortSignal,
  onResults: (results: ConformanceResult[]) => void,
): Promise<void> {
  return new Promise((resolve, reject) => {
    const worker = start();
    const end = () => {
      worker.terminate();
      resolve();
    };
    signal.addEventListener("abort", end);
    worker.onmessage = ({ data }: MessageEvent<ConformanceAnswer>) => {
      if (data.type === "results") onResults(data.results);
      else if (data.type === "done") end();
    };
    worker.onerror = (event) => {
      worker.terminate();
      reject(new Error(workerFailure(event)));
    };
    worker.postMessage({ type: "run", sampleRate } satisfies ConformanceRequest);
  });
}

/** Gives a case's signal as a WAV file. */
export function saveSignal(sampleRate: number, id: string, signal: number): void {
  const worker = start();
  worker.onmessage = ({ data }: MessageEvent<ConformanceAnswer>) => {
    if (data.type !== "signal") return;
    saveAs(data.name, "audio/wav", data.bytes);
    worker.terminate();
  };
  worker.postMessage({ type: "write", sampleRate, id, signal } satisfies ConformanceRequest);
}
