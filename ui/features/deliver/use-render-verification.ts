"use client";

import { workerFailure } from "@playback/worker-failure";
import { PersistentWorker, type WorkerLike } from "@playback/persistent-worker";
import { useEffect, useRef, useState } from "react";
import type { Master, Source } from "@core/project/views";
import type { VerificationAnswer, VerificationRequest } from "@playback/render-verification.worker";
import { blobUrl } from "@ui/api/api";

export type VerificationState =
  | { status: "idle" }
  | { status: "running"; fraction: number }
  | { status: "same" }
  | { status: "different" }
  | { status: "failed"; message: string };

/** More than this is not rendered in a browser's memory. */
const LARGEST_BYTES = 700_000_000;

/** Renders a master in the browser and compares its bytes with the server's. */
export function useRenderVerification(): { state: VerificationState; start: (master: Master, source: Source) => void } {
  const worker = useRef<WorkerLike | null>(null);
  const [state, setState] = useState<VerificationState>({ status: "idle" });
  useEffect(() => () => worker.current?.terminate(), []);
  const start = (master: Master, source: Source) => {
    if (!source.pcm_hash || !source.overview_hash || !source.figures || !master.result) return;
    if ((master.file_bytes ?? 0) > LARGEST_BYTES)
      return setState({ status: "failed", message: "This master is too long to be rendered in a browser's memory." });
    worker.current?.terminate();
    const proving = new PersistentWorker(
      () => new Worker(new URL("@playback/render-verification.worker.ts", import.meta.url), { type: "module" }),
    );
    worker.current = proving;
    setState({ status: "running", fraction: 0 });
    proving.onerror = (event) => setState({ status: "failed", message: workerFailure(event) });
    proving.onmessage = ({ data }: MessageEvent<VerificationAnswer>) => {
      if (data.type === "progress") setState({ status: "running", fraction: data.fraction });
      else if (data.type === "failed") setState({ status: "failed", message: data.message });
      else setState({ status: data.hash === (master.sound_hash ?? master.file_hash) ? "same" : "different" });
    };
    const request: VerificationRequest = {
      pcmUrl: new URL(blobUrl(source.pcm_hash), location.href).href,
      overviewUrl: new URL(blobUrl(source.overview_hash), location.href).href,
      figures: source.figures,
      sourceBits: source.bits,
      inputs: master.inputs,
      settings: master.result,
      albumGainDb: master.result.albumGainDb,
    };
    proving.postMessage(request);
  };
  return { state, start };
}
