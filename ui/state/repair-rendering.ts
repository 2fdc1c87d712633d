"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import { useEffect, useMemo } from "react";
import type { RepairAnswer, RepairRequest } from "@playback/repair.worker";
import { workerFailure } from "@playback/worker-failure";
import { isActive, type RepairStep } from "@core/repair";
import { WaveformPeakCache } from "@core/measure/waveform-peak-cache";
import { segmentFrames } from "@core/repair/repaired-source";
import { useWorkspace } from "./workspace-store";
import { useCurrentItem } from "./current-item";
import { engine } from "./listening-engine";
import { NOTHING_RENDERED, useRepairProgress } from "./repair-progress";
import { useMonitoredRepairs } from "./use-monitored-repairs";
import { soundUrl } from "./use-range-figures";

const NONE: RepairStep[] = [];

/** Made ahead around the playhead; what lies further off is made when it is gone to. */
const SEGMENTS_AROUND = 48;

/** The repairs that the programme view shows: those that are heard, once they are made. */
export function useShownRepairs(): RepairStep[] {
  const heard = useMonitoredRepairs();
  const original = useWorkspace((workspace) => workspace.monitorSource === "original");
  const made = useRepairProgress(({ made: done, of }) => of > 0 && (done === of || of > 2 * SEGMENTS_AROUND));
  return useMemo(() => (made && !original ? heard.filter(isActive) : NONE), [made, original, heard]);
}

/** Makes the repairs of the item in hand in the background, what lies nearest to the playhead first. */
export function useRepairRendering(): void {
  const { facts, notifyArrival } = useCurrentItem();
  const heard = useMonitoredRepairs();
  const steps = useMemo(() => heard.filter(isActive), [heard]);
  const pcm = facts?.source.pcm_hash ?? null;
  const arrangement = facts?.editList ?? null;
  const sampleRate = facts?.sampleRate ?? 0;
  useEffect(() => {
    if (!pcm || !arrangement || steps.length === 0) {
      useRepairProgress.setState(NOTHING_RENDERED);
      return;
    }
    const length = segmentFrames(sampleRate);
    const worker = new PersistentWorker(
      () => new Worker(new URL("@playback/repair.worker.ts", import.meta.url), { type: "module" }),
    );
    const left = new Set<number>();
    for (const { start, end } of arrangement.stretchesOf(0, arrangement.frames))
      for (let segment = Math.floor(start / length); segment * length < end; segment++) left.add(segment);
    const of = left.size;
    const next = () => {
      const here = arrangement.toRecording(engine().position) / length;
      let nearest: number | null = null;
      let least = SEGMENTS_AROUND;
      for (const segment of left) {
        // What lies ahead is heard sooner than what lies behind.
        const distance = segment + 1 <= here ? 2 * (here - segment) : Math.abs(segment - Math.floor(here));
        if (distance < least) [nearest, least] = [segment, distance];
      }
      if (nearest !== null) worker.postMessage({ url: soundUrl(pcm), steps, segment: nearest } satisfies RepairRequest);
      else waiting = setTimeout(next, 500);
      useRepairProgress.setState({ near: nearest === null });
    };
    let waiting: ReturnType<typeof setTimeout> | undefined;
    worker.onmessage = ({ data }: MessageEvent<RepairAnswer>) => {
      left.delete(data.segment);
      if (data.problem) return useRepairProgress.setState({ problem: data.problem });
      bins.put(data.segment, data.bins);
      useRepairProgress.setState({ made: of - left.size });
      notifyArrival();
      engine().repaired();
      next();
    };
    worker.onerror = (event) => useRepairProgress.setState({ problem: workerFailure(event) });
    const bins = new WaveformPeakCache(length);
    useRepairProgress.setState({ ...NOTHING_RENDERED, steps, of, bins });
    next();
    return () => {
      clearTimeout(waiting);
      worker.terminate();
    };
  }, [pcm, steps, sampleRate, arrangement, notifyArrival]);
}
