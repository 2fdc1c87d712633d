"use client";

import { ITEM_COLOURS } from "@core/project/document";
import { useCallback, useEffect, useRef, type RefObject } from "react";
import { clearedContext, useCanvasSize, type CanvasSize } from "./canvas-size";
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
    items: Object.fromEntries(ITEM_COLOURS.map((colour) => [colour, ink(`item-${colour}`)])) as Colours["items"],
  };
}

export type Draw = (context: Context, size: CanvasSize, inks: Colours) => void;

/** A canvas that draws itself anew when it is asked to, at most once a frame, outside of React. */
export function useCanvas(draw: Draw): { ref: RefObject<HTMLCanvasElement | null>; redraw: () => void } {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(draw);
  const frame = useRef(0);
  const paint = useRef(() => {});

  const redraw = useCallback(() => {
    if (frame.current === 0) frame.current = requestAnimationFrame(() => paint.current());
  }, []);
  const size = useCanvasSize(ref, redraw);

  useEffect(() => {
    paint.current = () => {
      frame.current = 0;
      const context = clearedContext(ref.current, size.current);
      if (context) latest.current(context, size.current, coloursOf(ref.current!));
    };
  }, [size]);

  useEffect(() => {
    latest.current = draw;
    redraw();
  }, [draw, redraw]);

  useEffect(() => {
    const sheet = new MutationObserver(redraw);
    sheet.observe(document.documentElement, { attributeFilter: ["data-sheet"] });
    void document.fonts.ready.then(redraw);
    return () => {
      sheet.disconnect();
      if (frame.current !== 0) cancelAnimationFrame(frame.current);
      frame.current = 0;
    };
  }, [redraw]);

  return { ref, redraw };
}
