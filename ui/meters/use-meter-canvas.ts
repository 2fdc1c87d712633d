"use client";

import { useCallback, useEffect, useRef, type RefObject } from "react";
import type { Context, Colours } from "@ui/canvas/draw";
import { clearedContext, useCanvasSize, type CanvasSize } from "@ui/canvas/canvas-size";
import { coloursOf } from "@ui/canvas/use-canvas";
import { useMeterFrames } from "./meter-source";

/** Inks are looked up again after so long: the sheet may have changed. */
const INKS_EVERY_MS = 500;

/** A canvas that is drawn every frame while something is heard, and when its size or the sheet is another one. */
export function useMeterCanvas(
  draw: (context: Context, size: CanvasSize, inks: Colours) => void,
): RefObject<HTMLCanvasElement | null> {
  const ref = useRef<HTMLCanvasElement>(null);
  const wake = useRef(() => {});
  const resized = useCallback(() => wake.current(), []);
  const size = useCanvasSize(ref, resized);
  const held = useRef<{ inks: Colours; at: number } | null>(null);
  useEffect(() => {
    // A layer of its own: what stands around it is not painted again with each frame.
    if (ref.current) ref.current.style.willChange = "transform";
    const sheet = new MutationObserver(resized);
    sheet.observe(document.documentElement, { attributeFilter: ["data-sheet"] });
    return () => sheet.disconnect();
  }, [resized]);
  const drawn = useMeterFrames(() => {
    const context = clearedContext(ref.current, size.current);
    if (!context) return;
    const now = performance.now();
    if (!held.current || now - held.current.at >= INKS_EVERY_MS)
      held.current = { inks: coloursOf(context.canvas), at: now };
    draw(context, size.current, held.current.inks);
  });
  useEffect(() => void (wake.current = drawn), [drawn]);
  return ref;
}
