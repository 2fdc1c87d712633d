"use client";

import { useEffect, type RefObject } from "react";
import { useCurrentItem } from "@ui/state/current-item";
import { onWindow } from "../state/time-window";
import { useCanvas, type Draw } from "../canvas/use-canvas";

/** A canvas over the window on the item: drawn anew when it moves, and when something to draw arrives. */
export function useWindowCanvas(draw: Draw): RefObject<HTMLCanvasElement | null> {
  const { onArrival } = useCurrentItem();
  const { ref, redraw } = useCanvas(draw);
  useEffect(() => {
    const ends = [onArrival(redraw), onWindow(redraw)];
    return () => ends.forEach((end) => end());
  }, [onArrival, redraw]);
  return ref;
}
