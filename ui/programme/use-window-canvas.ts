"use client";

import { useEffect, type RefObject } from "react";
import { useInHand } from "@ui/workspace/in-hand";
import { onWindow } from "./time-window";
import { useCanvas, type Draw } from "./use-canvas";

/** A canvas over the window on the item: drawn anew when it moves, and when something to draw arrives. */
export function useWindowCanvas(draw: Draw): RefObject<HTMLCanvasElement | null> {
  const { onArrival } = useInHand();
  const { ref, redraw } = useCanvas(draw);
  useEffect(() => {
    const ends = [onArrival(redraw), onWindow(redraw)];
    return () => ends.forEach((end) => end());
  }, [onArrival, redraw]);
  return ref;
}
