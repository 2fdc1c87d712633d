"use client";

import { useRef, type RefObject } from "react";
import { formatDb } from "@core/audio/format";
import { Hint } from "@ui/design-system/hint";
import { FIGURES_EVERY_MS, SPOKEN_EVERY_MS } from "./meter-source";

export interface Scale {
  low: number;
  high: number;
}

/** Place of a level on a scale, from 0 to 1. */
export const share = (level: number, { low, high }: Scale): number =>
  Math.max(0, Math.min(1, (level - low) / (high - low)));

export interface BarParts {
  root: RefObject<HTMLDivElement | null>;
  fill: RefObject<HTMLSpanElement | null>;
  held: RefObject<HTMLSpanElement | null>;
  text: RefObject<HTMLElement | null>;
  /** When its number was changed last, and what readers of the screen are told. */
  toldAt: RefObject<number>;
  spokenAt: RefObject<number>;
}

export function useBar(): BarParts {
  return {
    root: useRef<HTMLDivElement>(null),
    fill: useRef<HTMLSpanElement>(null),
    held: useRef<HTMLSpanElement>(null),
    text: useRef<HTMLElement>(null),
    toldAt: useRef(0),
    spokenAt: useRef(0),
  };
}

export function setText(element: HTMLElement | null, text: string): void {
  if (element && element.textContent !== text) element.textContent = text;
}

/** Moves a bar; hot: runs every frame. */
export function moveBar(
  { root, fill, held, text, toldAt, spokenAt }: BarParts,
  level: number,
  scale: Scale,
  options: { held?: number; shown?: string; ink?: string | undefined } = {},
): void {
  if (fill.current) {
    fill.current.style.transform = `scaleX(${share(level, scale)})`;
    if (options.ink !== undefined) fill.current.style.background = options.ink;
  }
  if (held.current && options.held !== undefined) {
    held.current.style.transform = `translateX(${100 * share(options.held, scale)}%)`;
    held.current.style.visibility = options.held > scale.low ? "visible" : "hidden";
  }
  const now = performance.now();
  if (now - toldAt.current < FIGURES_EVERY_MS) return;
  toldAt.current = now;
  const shown = options.shown ?? formatDb(level);
  setText(text.current, shown);
  if (!root.current || now - spokenAt.current < SPOKEN_EVERY_MS) return;
  spokenAt.current = now;
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
      <span className={`relative block bg-grid [overflow-x:clip] ${thin ? "h-1.5" : "h-2.5"}`}>
        <span
          ref={parts.fill}
          data-meter={meter}
          className={`absolute inset-0 bg-ink will-change-transform ${fromRight ? "origin-right" : "origin-left"}`}
          style={{ transform: "scaleX(0)" }}
        />
        <span
          ref={parts.held}
          className="absolute inset-x-0 -inset-y-0.5 border-l border-soft will-change-transform"
          style={{ visibility: "hidden" }}
        />
        {mark !== undefined && mark > scale.low && mark < scale.high && (
          <span className="absolute -inset-y-0.5 w-0.5 bg-outside" style={{ left: `${100 * share(mark, scale)}%` }} />
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
