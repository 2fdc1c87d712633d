"use client";

import { useRef, type RefObject } from "react";
import type { Context, Colours } from "@ui/canvas/draw";
import { coloursOf } from "@ui/canvas/use-canvas";
import { useFrames } from "./meter-source";

/** Inks are looked up again after so long: the sheet may have changed. */
const INKS_EVERY_MS = 500;

/** A canvas that is drawn every frame. */
export function useMeterCanvas(
  draw: (context: Context, size: { width: number; height: number }, inks: Colours) => void,
): RefObject<HTMLCanvasElement | null> {
  const ref = useRef<HTMLCanvasElement>(null);
  const held = useRef<{ inks: Colours; at: number } | null>(null);
  useFrames(() => {
    const canvas = ref.current;
    const context = canvas?.getContext("2d");
    if (!canvas || !context) return;
    const { clientWidth: width, clientHeight: height } = canvas;
    if (width === 0 || height === 0) return;
    const ratio = canvas.ownerDocument.defaultView?.devicePixelRatio || 1;
    if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
    }
    const now = performance.now();
    if (!held.current || now - held.current.at >= INKS_EVERY_MS) held.current = { inks: coloursOf(canvas), at: now };
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, width, height);
    draw(context, { width, height }, held.current.inks);
  });
  return ref;
}
