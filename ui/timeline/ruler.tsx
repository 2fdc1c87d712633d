"use client";

import { useCallback, useRef, type PointerEvent } from "react";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { engine } from "@ui/state/listening-engine";
import type { Context, Colours } from "../canvas/draw";
import { drawRuler } from "./draw-ruler";
import { useLanes } from "../state/lane-settings";
import { secondsAt, windowNow } from "../state/time-window";
import { useWindowCanvas } from "./use-window-canvas";
import { useTimeContext } from "../state/use-time-format";

/** A piece is heard no more often than this while the pointer moves; ms. */
const SCRUB_EVERY_MS = 60;

/** Times, under the flags of markers where there are any; dragging along them lets what lies there be heard. */
export function Ruler({ facts }: { facts: ItemFacts }) {
  const { duration } = facts;
  const marked = useCurrentItem().item?.markers.length;
  const format = useLanes((lanes) => lanes.timeFormat);
  const time = useTimeContext(facts);
  const draw = useCallback(
    (context: Context, size: { width: number; height: number }, inks: Colours) =>
      drawRuler(context, { ...size, view: windowNow(duration), format, time }, inks),
    [duration, format, time],
  );
  const ref = useWindowCanvas(draw);
  const last = useRef(0);
  const scrub = (event: PointerEvent<HTMLCanvasElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const seconds = secondsAt(event.clientX - box.left, windowNow(duration), box.width);
    const cursor = Math.max(0, Math.min(duration, seconds));
    useWorkspace.setState({ cursor });
    if (event.timeStamp - last.current < SCRUB_EVERY_MS) return;
    last.current = event.timeStamp;
    void engine().scrub(itemFrame(facts, cursor));
  };
  return (
    <canvas
      ref={ref}
      role="img"
      aria-label="Time ruler; drag to scrub"
      title="Drag along the times: what lies there is heard"
      className={`w-full shrink-0 cursor-ew-resize border-b border-hair ${marked ? "h-10" : "h-6.5"}`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        engine().pause();
        scrub(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && scrub(event)}
    />
  );
}
