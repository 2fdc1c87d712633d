"use client";

import { useCallback, useEffect, useRef, type RefObject } from "react";
import type { Context, Colours } from "./draw";

/** The inks of the sheet in use, from its stylesheet. */
export function coloursOf(element: Element): Colours {
  const style = getComputedStyle(element);
  const ink = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    ink: ink("ink"),
    soft: ink("soft"),
    peak: ink("peak"),
    hair: ink("hair"),
    grid: ink("grid"),
    band: ink("band"),
    act: ink("act"),
    actGround: ink("act-ground"),
    outside: ink("outside"),
    sheet: ink("sheet"),
  };
}

export type Draw = (context: Context, size: { width: number; height: number }, inks: Colours) => void;

/** A canvas that draws itself anew when it is asked to, at most once a frame, outside of React. */
export function useCanvas(draw: Draw): { ref: RefObject<HTMLCanvasElement | null>; redraw: () => void } {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(draw);
  const frame = useRef(0);

  const paint = useCallback(() => {
    frame.current = 0;
    const canvas = ref.current;
    const context = canvas?.getContext("2d");
    if (!canvas || !context) return;
    const { clientWidth: width, clientHeight: height } = canvas;
    const ratio = window.devicePixelRatio || 1;
    if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
    }
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, width, height);
    if (width > 0 && height > 0) latest.current(context, { width, height }, coloursOf(canvas));
  }, []);

  const redraw = useCallback(() => {
    if (frame.current === 0) frame.current = requestAnimationFrame(paint);
  }, [paint]);

  useEffect(() => {
    latest.current = draw;
    redraw();
  }, [draw, redraw]);

  useEffect(() => {
    const canvas = ref.current;
    if (!canvas) return;
    const resized = new ResizeObserver(redraw);
    resized.observe(canvas);
    const sheet = new MutationObserver(redraw);
    sheet.observe(document.documentElement, { attributeFilter: ["data-sheet"] });
    void document.fonts.ready.then(redraw);
    return () => {
      resized.disconnect();
      sheet.disconnect();
      if (frame.current !== 0) cancelAnimationFrame(frame.current);
      frame.current = 0;
    };
  }, [redraw]);

  return { ref, redraw };
}
