"use client";

import type { WorkerLike } from "@playback/persistent-worker";
import { workerFailure } from "@playback/worker-failure";

/** What workers that do one thing answer: progress, then what came out or what is wrong. */
export type WorkerAnswer = { type: "progress" } | { type: "done" } | { type: "failed"; message: string };

/**
 * One piece of work in a worker of its own, which ends with it or when it is no longer wanted.
 * @throws Error with what is wrong; DOMException AbortError
 */
export function askWorker<Answer extends WorkerAnswer>(
  worker: WorkerLike,
  request: unknown,
  {
    signal,
    onProgress,
    failure = (answer) => new Error(answer.message),
  }: {
    signal?: AbortSignal | undefined;
    onProgress?: ((answer: Extract<Answer, { type: "progress" }>) => void) | undefined;
    failure?: (answer: Extract<Answer, { type: "failed" }>) => Error;
  } = {},
): Promise<Extract<Answer, { type: "done" }>> {
  return new Promise((resolve, reject) => {
    const end = () => worker.terminate();
    signal?.addEventListener("abort", () => {
      end();
      reject(new DOMException("no longer wanted", "AbortError"));
    });
    worker.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (data.type === "progress") return onProgress?.(data as Extract<Answer, { type: "progress" }>);
      end();
      if (data.type === "done") resolve(data as Extract<Answer, { type: "done" }>);
      else reject(failure(data as Extract<Answer, { type: "failed" }>));
    };
    worker.onerror = (event) => {
      end();
      reject(new Error(workerFailure(event)));
    };
    worker.postMessage(request);
  });
}
