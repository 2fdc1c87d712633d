"use client";

import { useRef, type RefObject } from "react";
import { formatDb } from "@core/audio/format";
import { Hint } from "@ui/design-system/hint";
import { SPOKEN_EVERY_MS } from "./meter-source";

export interface Scale {
  low: number;
  high: number;
}

/** Place of a level on a scale, per cent. */
export const share = (level: number, { low, high }: Scale): number =>
  Math.max(0, Math.min(100, ((level - low) / (high - low)) * 100));

export interface BarParts {
  root: RefObject<HTMLDivElement | null>;
  fill: RefObject<HTMLSpanElement | null>;
  held: RefObject<HTMLSpanElement | null>;
  text: RefObject<HTMLElement | null>;
  spoken: RefObject<number>;
}

export function useBar(): BarParts {
  return {
    root: useRef<HTMLDivElement>(null),
    fill: useRef<HTMLSpanElement>(null),
    held: useRef<HTMLSpanElement>(null),
    text: useRef<HTMLElement>(null),
    spoken: useRef(0),
  };
}

export function setText(element: HTMLElement | null, text: string): void {
  if (element && element.textContent !== text) element.textContent = text;
}

/** Moves a bar; hot: runs every frame. */
export function moveBar(
  { root, fill, held, text, spoken }: BarParts,
  level: number,
  scale: Scale,
  options: { held?: number; shown?: string; ink?: string | undefined } = {},
): void {
  const shown = options.shown ?? formatDb(level);
  if (fill.current) {
    fill.current.style.width = `${share(level, scale)}%`;
    if (options.ink !== undefined) fill.current.style.background = options.ink;
  }
  if (held.current && options.held !== undefined) {
    held.current.style.left = `${share(options.held, scale)}%`;
    held.current.style.visibility = options.held > scale.low ? "visible" : "hidden";
  }
  setText(text.current, shown);
  const now = performance.now();
  if (!root.current || now - spoken.current < SPOKEN_EVERY_MS) return;
  spoken.current = now;
  root.current.setAttribute("aria-valuenow", String(Number.isFinite(level) ? Math.round(level * 10) / 10 : scale.low));
  root.current.setAttribute("aria-valuetext", shown);
}

/** A level on a scale with its limit and its number. */
export function Bar({
  parts,
  name,
  label,
  scale,
  mark,
  thin,
  fromRight,
  hint,
  meter,
}: {
  parts: BarParts;
  name: string;
  /** For readers of the screen. */
  label: string;
  scale: Scale;
  mark?: number | undefined;
  thin?: boolean;
  fromRight?: boolean;
  hint?: string;
  meter: string;
}) {
  const bar = (
    <div
      ref={parts.root}
      role="meter"
      aria-label={label}
      aria-valuemin={scale.low}
      aria-valuemax={scale.high}
      aria-valuenow={scale.low}
      className={`grid grid-cols-[30px_1fr_46px] items-center gap-1 ${thin ? "h-[13px]" : "h-[18px]"}`}
    >
      <span className="truncate text-label text-soft">{name}</span>
      <span className={`relative block bg-grid ${thin ? "h-1.5" : "h-2.5"}`}>
        <span
          ref={parts.fill}
          data-meter={meter}
          className={`absolute inset-y-0 bg-ink ${fromRight ? "right-0" : "left-0"}`}
          style={{ width: "0%" }}
        />
        <span ref={parts.held} className="absolute -inset-y-0.5 w-px bg-soft" style={{ visibility: "hidden" }} />
        {mark !== undefined && mark > scale.low && mark < scale.high && (
          <span className="absolute -inset-y-0.5 w-0.5 bg-outside" style={{ left: `${share(mark, scale)}%` }} />
        )}
      </span>
      <span
        ref={parts.text as RefObject<HTMLSpanElement | null>}
        data-meter={`${meter}-text`}
        className={`figure text-right text-label ${thin ? "leading-3" : ""}`}
      >
        −∞
      </span>
    </div>
  );
  return hint ? <Hint text={hint}>{bar}</Hint> : bar;
}
