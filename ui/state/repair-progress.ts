"use client";

import { create } from "zustand";
import type { WaveformPeakCache } from "@core/measure/waveform-peak-cache";
import type { RepairStep } from "@core/repair";

/** How far the repairs of the item in hand are made. */
interface Repairing {
  /** What is being made. */
  steps: RepairStep[];
  made: number;
  of: number;
  /** Whether what lies around the playhead is made; the rest of a long item follows when it is gone to. */
  near: boolean;
  problem: string | null;
  /** What the waveform of what is made is drawn of. */
  bins: WaveformPeakCache | null;
}

const NONE: RepairStep[] = [];
export const NOTHING_RENDERED: Repairing = { steps: NONE, made: 0, of: 0, near: false, problem: null, bins: null };

export const useRepairProgress = create<Repairing>(() => NOTHING_RENDERED);

/** Whether these repairs can be read through without making much of them: they are made, or are too long to wait for. */
export const useRenderedRepairs = (steps: readonly RepairStep[]): boolean =>
  useRepairProgress(
    ({ steps: now, made, of, near, problem }) =>
      steps.length === 0 || problem !== null || (of > 0 && (made === of || near) && sameSteps(now, steps)),
  );

const sameSteps = (a: readonly RepairStep[], b: readonly RepairStep[]): boolean =>
  a === b || JSON.stringify(a) === JSON.stringify(b);
