"use client";

import { useCallback } from "react";
import { EditList } from "@core/edit-list/edit-list";
import { useCurrentItem } from "@ui/state/current-item";
import type { Context, Colours } from "../canvas/draw";
import { drawWaveform } from "./draw-waveform";
import { ItemWaveform } from "../state/item-waveform";
import type { RecordingOverview } from "../state/recording-overview";
import { useCanvas } from "../canvas/use-canvas";

/** The whole item, drawn at once while everything else about it is still under way. */
export function ProvisionalWaveform({ overview }: { overview: RecordingOverview }) {
  const { item, source } = useCurrentItem();
  const { frames } = overview.header;
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Colours) => {
      const shown = new ItemWaveform(overview, EditList.of(item?.clips, frames));
      const columns = shown.columns(0, shown.arrangement.frames / width, width);
      const labels = source?.layout?.speakers.map(({ label }) => label) ?? [];
      drawWaveform(context, { width, height, columns, labels, scale: 1 }, inks);
    },
    [overview, item, source, frames],
  );
  const { ref } = useCanvas(draw);
  return (
    <div data-lane="waveform" className="relative h-full">
      <canvas ref={ref} role="img" aria-label="Waveform" className="absolute inset-0 size-full" />
    </div>
  );
}
