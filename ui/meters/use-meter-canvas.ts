"use client";

import { useEffect, useRef, type RefObject } from "react";
import type { Context, Colours } from "@ui/canvas/draw";
import { clearedContext, useCanvasSize, type CanvasSize } from "@ui/canvas/canvas-size";
import { coloursOf } from "@ui/canvas/use-canvas";
import { useFrames } from "./meter-source";

/** Inks are looked up again after so long: the sheet may have changed. */
const INKS_EVERY_MS = 500;

/** A canvas that is drawn every frame. */
export function useMeterCanvas(
  draw: (context: Context, size: CanvasSize, inks: Colours) => void,
): RefObject<HTMLCanvasElement | null> {
  const ref = useRef<HTMLCanvasElement>(null);
  const size = useCanvasSize(ref);
  const held = useRef<{ inks: Colours; at: number } | null>(null);
  useEffect(() => {
    // A layer of its own: what stands around it is not painted again with each frame.
    if (ref.current) ref.current.style.willChange = "transform";
  }, []);
  useFrames(() => {
    const context = clearedContext(ref.current, size.current);
    if (!context) return;
    const now = performance.now();
    if (!held.current || now - held.current.at >= INKS_EVERY_MS)
      held.current = { inks: coloursOf(context.canvas), at: now };
    draw(context, size.current, held.current.inks);
  });
  return ref;
}
