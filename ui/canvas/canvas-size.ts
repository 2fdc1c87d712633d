"use client";

import { useEffect, useRef, type RefObject } from "react";

/** CSS pixels. */
export interface CanvasSize {
  width: number;
  height: number;
}

/**
 * Size of a canvas as its observer last told it. Asked of the element in each frame, it would cost a layout of the page
 * each time a figure beside it has changed.
 * @param onResize called after the size has changed, and once at the beginning
 */
export function useCanvasSize(
  canvas: RefObject<HTMLCanvasElement | null>,
  onResize?: () => void,
): RefObject<CanvasSize> {
  const size = useRef<CanvasSize>({ width: 0, height: 0 });
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const measure = () => {
      size.current = { width: element.clientWidth, height: element.clientHeight };
      onResize?.();
    };
    // Meters in a window of their own are observed by that window.
    const { ResizeObserver } = element.ownerDocument.defaultView ?? window;
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    measure();
    return () => observer.disconnect();
  }, [canvas, onResize]);
  return size;
}

/** Clears a canvas for a drawing in CSS pixels; `null` where there is nothing to draw on. */
export function clearedContext(
  canvas: HTMLCanvasElement | null,
  { width, height }: CanvasSize,
): CanvasRenderingContext2D | null {
  const context = canvas?.getContext("2d");
  if (!canvas || !context || width === 0 || height === 0) return null;
  const ratio = canvas.ownerDocument.defaultView?.devicePixelRatio || 1;
  const [columns, rows] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (canvas.width !== columns || canvas.height !== rows) {
    canvas.width = columns;
    canvas.height = rows;
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  return context;
}
