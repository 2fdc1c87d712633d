"use client";

import { useRef, useState, type PointerEvent } from "react";
import type { Breakpoint } from "@core/parameters/parameter";
import { envelopeAt } from "@core/parameters/breakpoints";
import { formatTime } from "@core/audio/format";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import { snapTime } from "@ui/timeline/snap-time";
import { useTimeContext } from "@ui/state/use-time-format";

const WIDTH = 1000;
const HEIGHT = 150;
const LOUDNESS_FLOOR = -60;
const NEAR_PX = 12;
/** Points are drawn one by one while there are no more of them in view. */
const MOST_DRAWN = 120;

/** From values to the height of the drawing, 0 at the bottom to 1 at the top, and back. */
export interface PlotAxis {
  toShare: (value: number) => number;
  fromShare: (share: number) => number;
}

/** A line over the part of the item that is in view: points are dragged, set by a click, taken away by Alt and a click. */
export function BreakpointPlot({
  label,
  line,
  ruler,
  resting,
  facts,
  momentaryLufs,
  words,
  onMove,
  onCommit,
}: {
  label: string;
  line: Breakpoint[];
  ruler: PlotAxis;
  /** What holds where there is no line. */
  resting: number;
  facts: ItemFacts;
  /** Laid under the line. */
  momentaryLufs: Float32Array;
  words: string;
  /** While a point is dragged. */
  onMove?: (line: Breakpoint[]) => void;
  onCommit: (line: Breakpoint[]) => void;
}) {
  const window_ = useWorkspace((workspace) => workspace.view);
  const time = useTimeContext(facts);
  const held = useRef<{ line: Breakpoint[]; index: number } | null>(null);
  const [dragged, setDragged] = useState<Breakpoint[] | null>(null);
  const shownLine = dragged ?? line;
  const [from, to] = window_ ? [window_.start, window_.end] : [0, facts.duration];
  const x = (seconds: number) => (WIDTH * (seconds - from)) / (to - from);
  const y = (value: number) => HEIGHT * (1 - ruler.toShare(value));

  const place = (event: PointerEvent<SVGSVGElement>): Breakpoint => {
    const box = event.currentTarget.getBoundingClientRect();
    const seconds = from + ((event.clientX - box.left) / box.width) * (to - from);
    const value = ruler.fromShare(Math.max(0, Math.min(1, 1 - (event.clientY - box.top) / box.height)));
    return [Math.max(0, Number(snapTime(facts, time, seconds, box.width).toFixed(3))), value];
  };
  const take = (event: PointerEvent<SVGSVGElement>) => {
    const [seconds, value] = place(event);
    const box = event.currentTarget.getBoundingClientRect();
    const near = (NEAR_PX / box.width) * (to - from);
    const index = line.findIndex(([at]) => Math.abs(at - seconds) < near);
    if (event.altKey && index >= 0) return onCommit(line.filter((_, i) => i !== index));
    event.currentTarget.setPointerCapture(event.pointerId);
    const next: Breakpoint[] =
      index >= 0 ? [...line] : [...line, [seconds, value] as Breakpoint].sort(([a], [b]) => a - b);
    held.current = { line: next, index: index >= 0 ? index : next.findIndex(([at]) => at === seconds) };
  };
  const drag = (event: PointerEvent<SVGSVGElement>) => {
    const now = held.current;
    if (!now) return;
    const [seconds, value] = place(event);
    const low = now.line[now.index - 1]?.[0] ?? -0.002;
    const high = now.line[now.index + 1]?.[0] ?? Infinity;
    const at = Number(Math.max(low + 0.001, Math.min(high - 0.001, seconds)).toFixed(3));
    now.line = now.line.map((point, i) => (i === now.index ? [at, value] : point));
    setDragged(now.line);
    onMove?.(now.line);
  };
  const drop = () => {
    if (held.current) onCommit(held.current.line);
    held.current = null;
    setDragged(null);
  };
  const shown = shownLine.filter(([at]) => at >= from && at <= to);
  const valueAt = (seconds: number) => (shownLine.length === 0 ? resting : envelopeAt(shownLine, seconds));
  const path = [from, ...shown.map(([at]) => at), to]
    .map((at, n) => `${n ? "L" : "M"}${x(at).toFixed(1)} ${y(valueAt(at)).toFixed(1)}`)
    .join("");
  return (
    <>
      <svg
        role="group"
        aria-label={label}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="min-h-[110px] w-full flex-1 touch-none border border-grid bg-sheet select-none"
        onPointerDown={take}
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <path d={loudnessPath(momentaryLufs, from, to)} fill="var(--grid)" />
        <line
          x1={0}
          x2={WIDTH}
          y1={y(resting)}
          y2={y(resting)}
          stroke="var(--hair)"
          vectorEffect="non-scaling-stroke"
        />
        <path d={path} fill="none" stroke="var(--act)" strokeWidth={2} vectorEffect="non-scaling-stroke" />
        {shown.length < MOST_DRAWN &&
          shown.map(([at, value]) => (
            <rect
              key={at}
              x={x(at) - 2.5}
              y={y(value) - 2.5}
              width={5}
              height={5}
              fill="var(--sheet)"
              stroke="var(--act)"
              vectorEffect="non-scaling-stroke"
            />
          ))}
      </svg>
      <p className="figure flex justify-between text-label text-soft">
        <span>{formatTime(from)}</span>
        <span>{words}</span>
        <span>{formatTime(to)}</span>
      </p>
    </>
  );
}

function loudnessPath(momentary: Float32Array, from: number, to: number): string {
  const [first, last] = [Math.floor(from * 10), Math.min(momentary.length, Math.ceil(to * 10))];
  const step = Math.max(1, Math.floor((last - first) / WIDTH));
  let path = `M0 ${HEIGHT}`;
  for (let i = first; i < last; i += step) {
    const lufs = Math.max(LOUDNESS_FLOOR, momentary[i] ?? LOUDNESS_FLOOR);
    path += `L${((WIDTH * (i - first)) / (last - first)).toFixed(1)} ${(HEIGHT * (lufs / LOUDNESS_FLOOR)).toFixed(1)}`;
  }
  return `${path}L${WIDTH} ${HEIGHT}Z`;
}
