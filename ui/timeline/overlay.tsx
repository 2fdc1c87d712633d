"use client";

import { useCallback, useMemo } from "react";
import { cutsOf } from "@core/edit-list/edits";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { drawGrid } from "./draw-ruler";
import { yOfHertz } from "./draw-spectrogram";
import { line, type Context, type Colours } from "../canvas/draw";
import { axisOf } from "./spectrogram-lanes";
import { useLanes, type LaneId } from "../state/lane-settings";
import { drawMarkerLines, placeMarkers } from "../state/markers";
import type { SelectionRegion } from "../state/selection-region";
import { useTimeContext } from "../state/use-time-format";
import { windowNow, xOf } from "../state/time-window";
import { useWindowCanvas } from "./use-window-canvas";

/** Where the lanes lie over each other, in pixels of the stack. */
function laneBoxes(stack: HTMLElement): { lane: LaneId; top: number; height: number }[] {
  return [...stack.querySelectorAll<HTMLElement>("[data-lane]")].map((element) => ({
    lane: element.dataset.lane as LaneId,
    top: element.offsetTop,
    height: element.offsetHeight,
  }));
}

/** A notch at the top and the bottom, and a fine line between: here the recording is cut. */
function drawJoint(context: Context, at: number, width: number, height: number, inks: Colours): void {
  if (at < -4 || at > width + 4) return;
  const x = Math.max(0.5, Math.min(width - 0.5, Math.round(at) + 0.5));
  context.strokeStyle = context.fillStyle = inks.outside;
  context.setLineDash([2, 4]);
  line(context, x, 0, x, height);
  context.setLineDash([]);
  for (const [edge, tip] of [
    [0, 6],
    [height, height - 6],
  ] as const) {
    context.beginPath();
    context.moveTo(x - 4, edge);
    context.lineTo(x + 4, edge);
    context.lineTo(x, tip);
    context.fill();
  }
}

/** What lies over all lanes: grid, markers, selections; drawn anew when the window moves, outside of React. */
export function Overlay({ facts, held }: { facts: ItemFacts; held: SelectionRegion | null }) {
  const { item } = useCurrentItem();
  const { duration, sampleRate, source } = facts;
  const selection = useWorkspace((workspace) => workspace.selection);
  const others = useWorkspace((workspace) => workspace.otherSelections);
  const { showGrid, timeFormat, picture, lanes } = useLanes();
  const time = useTimeContext(facts);
  const markers = useMemo(() => placeMarkers(item?.markers ?? [], facts), [item, facts]);
  const crossfades = useMemo(() => cutsOf(facts.editList).map(({ at }) => at / facts.sampleRate), [facts]);
  const channels = source.layout?.speakers.length ?? 1;
  const draw = useCallback(
    (context: Context, size: { width: number; height: number }, inks: Colours) => {
      const view = windowNow(duration);
      const { width, height } = size;
      if (showGrid) drawGrid(context, { width, height, view, format: timeFormat, time }, inks);
      drawMarkerLines(context, { width, height, view, markers });
      for (const seconds of crossfades) drawJoint(context, xOf(seconds, view, width), width, height, inks);
      const stack = document.querySelector<HTMLElement>("[data-testid=lanes]");
      const boxes = stack ? laneBoxes(stack) : [];
      const all = [...others, ...(selection ? [selection] : []), ...(held ? [held] : [])];
      all.forEach((region) => {
        const left = Math.round(xOf(region.start, view, width));
        const right = Math.round(xOf(region.end, view, width));
        if (right < 0 || left > width) return;
        for (const { lane, top, height: tall } of boxes) {
          const axis = axisOf(lane, picture, sampleRate);
          let [from, to] = [top, top + tall];
          if (region.band && axis) {
            [from, to] = [
              top + Math.max(0, yOfHertz(region.band.high, axis, tall)),
              top + Math.min(tall, yOfHertz(region.band.low, axis, tall)),
            ];
          } else if (region.channel !== undefined && lane === "waveform") {
            [from, to] = [top + (region.channel / channels) * tall, top + ((region.channel + 1) / channels) * tall];
          }
          context.fillStyle = inks.act;
          context.globalAlpha = axis ? 0.2 : 0.12;
          if (region.outline && axis) {
            context.beginPath();
            region.outline.forEach((corner, i) => {
              const x = xOf(corner.seconds, view, width);
              const y = top + yOfHertz(corner.hertz, axis, tall);
              if (i === 0) context.moveTo(x, y);
              else context.lineTo(x, y);
            });
            context.closePath();
            context.fill();
            context.globalAlpha = 1;
            context.strokeStyle = axis ? "#ffffff" : inks.act;
            context.stroke();
            continue;
          }
          context.fillRect(left, from, Math.max(1, right - left), to - from);
          context.globalAlpha = 1;
          context.strokeStyle = axis ? "#ffffff" : inks.act;
          line(context, left + 0.5, from, left + 0.5, to);
          line(context, right - 0.5, from, right - 0.5, to);
          if (region.band && axis)
            for (const y of [from, to]) line(context, left, Math.round(y) + 0.5, right, Math.round(y) + 0.5);
        }
      });
    },
    // The lanes say where they lie when they are drawn over.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [
      duration,
      showGrid,
      timeFormat,
      time,
      markers,
      crossfades,
      sampleRate,
      picture,
      lanes,
      selection,
      others,
      held,
      channels,
    ],
  );
  const ref = useWindowCanvas(draw);
  return <canvas ref={ref} aria-hidden className="pointer-events-none absolute inset-0 size-full" />;
}
