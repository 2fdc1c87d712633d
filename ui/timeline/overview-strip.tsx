"use client";

import { useCallback, type PointerEvent } from "react";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import type { Context, Colours } from "../canvas/draw";
import { drawOverviewStrip } from "./draw-overview-strip";
import { scrolled, windowNow } from "../state/time-window";
import { useWindowCanvas } from "./use-window-canvas";

/** The whole item with the window on it; dragging moves the window. */
export function OverviewStrip({ facts }: { facts: ItemFacts }) {
  const { duration, overview, sampleRate } = facts;
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Colours) => {
      const columns = overview.columns(0, (duration * sampleRate) / width, width);
      drawOverviewStrip(context, { width, height, columns, window: windowNow(duration), duration }, inks);
    },
    [overview, duration, sampleRate],
  );
  const ref = useWindowCanvas(draw);
  const move = (event: PointerEvent<HTMLCanvasElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const middle = ((event.clientX - box.left) / box.width) * duration;
    const view = windowNow(duration);
    useWorkspace.setState({ view: scrolled(view, middle - (view.start + view.end) / 2, duration) });
  };
  return (
    <canvas
      ref={ref}
      role="img"
      aria-label="The whole item; drag to move the window"
      title="The whole item: drag to move the window"
      className="h-6 w-full shrink-0 cursor-grab border-b border-hair bg-paper"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        move(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && move(event)}
    />
  );
}
