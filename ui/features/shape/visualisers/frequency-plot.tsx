"use client";

import { useCallback, useRef, useState, type PointerEvent, type ReactNode, type WheelEvent } from "react";
import type { Decibels, Hertz } from "@core/audio/units";

/** From frequencies and levels to places in the drawing, and back. */
export interface PlotScale {
  width: number;
  height: number;
  x: (hertz: Hertz) => number;
  hertz: (x: number) => Hertz;
  y: (db: Decibels) => number;
  db: (y: number) => Decibels;
}

const LOWEST: Hertz = 20;
const HIGHEST: Hertz = 22_000;
const TICKS = [20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000];
const RIGHT = 34;
const BOTTOM = 16;

export const hertzTick = (hertz: Hertz): string => (hertz >= 1000 ? `${hertz / 1000}k` : String(hertz));

function scaleOf(width: number, height: number, rangeDb: Decibels): PlotScale {
  const [w, h] = [Math.max(1, width - RIGHT), Math.max(1, height - BOTTOM)];
  const span = Math.log(HIGHEST / LOWEST);
  return {
    width: w,
    height: h,
    x: (hertz) => (w * Math.log(hertz / LOWEST)) / span,
    hertz: (x) => LOWEST * Math.exp((span * x) / w),
    y: (db) => (h / 2) * (1 - db / rangeDb),
    db: (y) => rangeDb * (1 - (2 * y) / h),
  };
}

/** Steps of the level ruler: about four on each side. */
const stepOf = (rangeDb: Decibels): Decibels => [1, 2, 3, 6, 12].find((step) => rangeDb / step <= 4.5) ?? 12;

/** A drawing of gain over frequency: rulers, and in it whatever `children` draws. */
export function FrequencyPlot({
  label,
  rangeDb,
  onPointerDown,
  onPointerMove,
  onPointerUp,
  onDoubleClick,
  onWheel,
  children,
}: {
  label: string;
  /** Up and down to here. */
  rangeDb: Decibels;
  onPointerDown?: (event: PointerEvent, scale: PlotScale) => void;
  onPointerMove?: (event: PointerEvent, scale: PlotScale) => void;
  onPointerUp?: () => void;
  onDoubleClick?: (hertz: Hertz, db: Decibels) => void;
  onWheel?: (event: WheelEvent) => void;
  children: (scale: PlotScale) => ReactNode;
}) {
  const [size, setSize] = useState({ width: 600, height: 260 });
  const observer = useRef<ResizeObserver | null>(null);
  const measured = useCallback((svg: SVGSVGElement | null) => {
    observer.current?.disconnect();
    if (!svg) return;
    observer.current = new ResizeObserver(() => setSize({ width: svg.clientWidth, height: svg.clientHeight }));
    observer.current.observe(svg);
  }, []);
  const scale = scaleOf(size.width, size.height, rangeDb);
  const step = stepOf(rangeDb);
  const levels: number[] = [];
  for (let db = -Math.ceil(rangeDb / step - 1) * step; db < rangeDb; db += step) levels.push(db);
  return (
    <svg
      ref={measured}
      role="group"
      aria-label={label}
      className="h-full min-h-[150px] w-full touch-none select-none"
      onPointerDown={(event) => onPointerDown?.(event, scale)}
      onPointerMove={(event) => onPointerMove?.(event, scale)}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerUp}
      onDoubleClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        onDoubleClick?.(scale.hertz(event.clientX - box.left), scale.db(event.clientY - box.top));
      }}
      onWheel={onWheel}
    >
      {TICKS.map((hertz) => (
        <g key={hertz}>
          <line x1={scale.x(hertz)} x2={scale.x(hertz)} y1={0} y2={scale.height} stroke="var(--grid)" />
          <text x={scale.x(hertz) + 2} y={scale.height + 12} className="figure" fontSize={10} fill="var(--soft)">
            {hertzTick(hertz)}
          </text>
        </g>
      ))}
      {levels.map((db) => (
        <g key={db}>
          <line
            x1={0}
            x2={scale.width}
            y1={scale.y(db)}
            y2={scale.y(db)}
            stroke={db === 0 ? "var(--hair)" : "var(--grid)"}
          />
          <text x={scale.width + 4} y={scale.y(db) + 3} className="figure" fontSize={10} fill="var(--soft)">
            {db > 0 ? `+${db}` : String(db).replace("-", "−")}
          </text>
        </g>
      ))}
      {children(scale)}
    </svg>
  );
}

/** Frequencies at which curves are drawn. */
export const DRAWN: readonly Hertz[] = Array.from({ length: 241 }, (_, n) => LOWEST * 2 ** ((n * 10.1) / 240));

/** A line through levels at frequencies, cut off at the edges of the drawing. */
export function curvePath(scale: PlotScale, points: Iterable<readonly [Hertz, Decibels]>): string {
  let path = "";
  for (const [hertz, db] of points) {
    const y = Math.max(-4, Math.min(scale.height + 4, scale.y(db)));
    path += `${path ? "L" : "M"}${scale.x(hertz).toFixed(1)} ${y.toFixed(1)}`;
  }
  return path;
}
