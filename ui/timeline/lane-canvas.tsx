"use client";

import { useCallback, type ReactNode } from "react";
import { useWorkspace, type TimeRange } from "@ui/state/workspace-store";
import { useRepairProgress } from "@ui/state/repair-progress";
import type { ItemFacts } from "@ui/state/current-item";
import type { Context, Colours } from "../canvas/draw";
import { RecordingOverview } from "../state/recording-overview";
import { windowNow } from "../state/time-window";
import { useWindowCanvas } from "./use-window-canvas";

export interface Size {
  width: number;
  height: number;
}

/** A canvas over the window on the item: drawn anew when the window moves or something arrives, outside of React. */
export function LaneCanvas({
  label,
  facts,
  draw,
}: {
  label: string;
  facts: ItemFacts;
  draw: (context: Context, size: Size, inks: Colours, view: TimeRange) => void;
}) {
  const { duration } = facts;
  const drawNow = useCallback(
    (context: Context, size: Size, inks: Colours) => draw(context, size, inks, windowNow(duration)),
    [draw, duration],
  );
  const ref = useWindowCanvas(drawNow);
  return <canvas ref={ref} role="img" aria-label={label} className="absolute inset-0 size-full" />;
}

export function LaneName({ children, low }: { children: ReactNode; low?: boolean }) {
  return (
    <div
      className={`pointer-events-none absolute ${low ? "bottom-0.5 left-1" : "top-0.5 left-9"} rounded-[2px] bg-sheet/80 px-1 text-label text-soft`}
    >
      {children}
    </div>
  );
}

/** What of the overview lies in the window, for a waveform `width` pixels wide. */
export function waveModel(
  { overview, sampleRate, source }: ItemFacts,
  view: TimeRange,
  width: number,
  folded: boolean,
) {
  const start = view.start * sampleRate;
  const framesPerPixel = ((view.end - view.start) * sampleRate) / width;
  // Drawn as it is heard: with its repairs, unless the original is.
  const repaired = useWorkspace.getState().monitorSource === "original" ? null : useRepairProgress.getState().bins;
  const columns = overview.columns(start, framesPerPixel, width, repaired);
  const labels = source.layout?.speakers.map(({ label }) => label) ?? [];
  return {
    start,
    framesPerPixel,
    columns: folded ? RecordingOverview.folded(columns) : columns,
    labels: folded && columns.length > 1 ? ["all"] : labels,
  };
}
