"use client";

import { useCallback, useMemo, useRef } from "react";
import { formatDb } from "@core/audio/format";
import type { Decibels } from "@core/audio/units";
import { useCurrentItem } from "@ui/state/current-item";
import { engine } from "@ui/state/listening-engine";
import { useFrames, type Heard } from "@ui/state/use-frames";
import { moveBar, useBar, Bar, type Scale } from "@ui/meters/bar";

const HEARD: Heard = { ring: () => engine().ring, onActivity: engine().onActivity };
const SCALE: Scale = { low: 0, high: 12 };
/** Less than this is not told. */
const LEAST_DB = 0.05;

const reductionLabel = (db: Decibels): string => `${db < LEAST_DB ? "0.0" : formatDb(-db)} dB`;

/**
 * The most that a processor takes off: at the moment while it is heard, over the item at rest once that is measured. It
 * is never estimated here: cards stand beside sliders that move.
 */
export function CardReduction({ entryId, name }: { entryId: string; name: string }) {
  const rows = useCurrentItem().reductions?.of[entryId];
  const deepest = useMemo(
    () => rows && rows.reduce((most, row) => row.reduce((higher, db) => Math.max(higher, db), most), 0),
    [rows],
  );
  const fill = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const draw = useCallback(() => {
    const live = engine().reductionsOf(entryId);
    const db = live.length > 0 ? Math.max(...live) : deepest;
    if (fill.current) {
      fill.current.style.transform = `scaleX(${Math.min(1, (db ?? 0) / SCALE.high)})`;
      fill.current.style.opacity = live.length > 0 ? "1" : "0.4";
    }
    const shown = db === undefined ? "—" : reductionLabel(db);
    if (text.current && text.current.textContent !== shown) text.current.textContent = shown;
  }, [entryId, deepest]);
  useFrames(HEARD, draw);
  return (
    <span
      className="mt-0.5 flex w-full items-center gap-1"
      title={`Gain reduction of the ${name.toLowerCase()} in dB, 12 dB wide: now while it is heard; at rest the most over the item, once it is measured`}
      data-testid="card-reduction"
    >
      <span className="relative block h-1 flex-1 bg-grid">
        <span
          ref={fill}
          className="absolute inset-0 origin-right will-change-transform"
          style={{ transform: "scaleX(0)", background: "var(--peak)" }}
        />
      </span>
      <span ref={text} className="figure w-[54px] text-right text-label leading-3 text-soft">
        —
      </span>
    </span>
  );
}

/** Gain reduction of the processor in hand while it is heard: a bar for the whole, or for each band. */
export function LiveReductions({ entryId, names }: { entryId: string; names: readonly string[] }) {
  return (
    <div
      className="grid auto-cols-fr grid-flow-col gap-x-3 px-3 [&_.figure]:whitespace-nowrap"
      data-testid="live-reduction"
    >
      {names.map((name, row) => (
        <LiveReduction
          key={name}
          entryId={entryId}
          row={row}
          name={name}
          short={names.length > 1 ? String(row + 1) : "now"}
        />
      ))}
    </div>
  );
}

interface LiveReductionProps {
  entryId: string;
  row: number;
  /** What is reduced; empty for the whole. */
  name: string;
  /** Where there is little room. */
  short: string;
}

function LiveReduction({ entryId, row, name, short }: LiveReductionProps) {
  const bar = useBar();
  useFrames(HEARD, () => {
    const db = engine().reductionsOf(entryId)[row];
    moveBar(bar, db ?? 0, SCALE, { shown: db === undefined ? "—" : reductionLabel(db) });
  });
  return (
    <Bar
      parts={bar}
      name={short}
      label={`Gain reduction${name ? ` of ${name}` : ""}, dB`}
      meter={`reduction-${row}`}
      scale={SCALE}
      thin
      fromRight
      hint={`What is taken off ${name ? `of ${name} ` : ""}at the moment, in dB, 12 dB wide; told while it is heard`}
    />
  );
}
