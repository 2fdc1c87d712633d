"use client";

import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { X } from "lucide-react";
import { formatDb, formatTime } from "@core/audio/format";
import { envelopeAt } from "@core/parameters/breakpoints";
import { placementOf } from "@core/programme/placement";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { secondsAt, xOf } from "@ui/state/time-window";
import { useWorkspace, type TimeRange } from "@ui/state/workspace-store";
import { dbOfShare, shareOfDb, withPoint, withPointMoved, type Point } from "./gain-line";

/** Arrow keys move a point by these. */
const STEP = { seconds: 0.1, db: 0.5 };

/** What a line belongs to, where that begins in the programme, and how the line is kept. */
interface GainLine {
  name: string;
  line: readonly Point[];
  start: number;
  length: number;
  keep: (line: Point[], what: string) => void;
  /** Heard and drawn while a point is held; lanes are heard once it is let go. */
  tryOut?: (line: Point[]) => void;
}

function useGainLine(): GainLine | null {
  const { view, edit } = useCurrentItem();
  const { items, placed, timeline, duration } = useWholeProgramme();
  const of = useWorkspace(({ gainLineOf }) => gainLineOf);
  if (!of || !timeline) return null;
  if (of.kind === "lane") {
    const lane = view.document.programme.lanes.find(({ id }) => id === of.id);
    if (!lane) return null;
    const keep = (envelope: Point[]) => void edit({ type: "changeLane", lane: lane.id, changes: { envelope } });
    return { name: `the lane ${lane.name}`, line: lane.envelope, start: 0, length: duration, keep };
  }
  const item = items.find(({ id }) => id === of.id);
  const at = placed(of.id);
  if (!item || !at) return null;
  return {
    name: item.name,
    line: placementOf(item).envelope,
    start: at.start / timeline.sampleRate,
    length: (at.end - at.start) / timeline.sampleRate,
    keep: (envelope, what) =>
      void edit({ type: "placeItems", items: [{ item: item.id, changes: { envelope } }], what }),
    tryOut: (envelope) => useWorkspace.setState({ pendingPlacements: [{ item: item.id, changes: { envelope } }] }),
  };
}

/** The gain line that is drawn over the map: a double click sets a point, points are dragged or moved by arrow keys. */
export function GainLineOverlay({ view, strips }: { view: TimeRange; strips: number }) {
  const gain = useGainLine();
  const ref = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<{ index: number; line: Point[] } | null>(null);
  if (!gain) return null;
  const { name, start, length, keep, tryOut } = gain;
  const line = held?.line ?? gain.line;
  const x = (seconds: number) => xOf(start + seconds, view, 100);
  const pointAt = (event: { clientX: number; clientY: number }): Point => {
    const box = ref.current!.getBoundingClientRect();
    const seconds = secondsAt(event.clientX - box.left, view, box.width) - start;
    return [
      Number(Math.max(0, Math.min(length, seconds)).toFixed(3)),
      dbOfShare((event.clientY - box.top) / box.height),
    ];
  };
  const addAtPlayhead = () => {
    const seconds = Math.max(0, Math.min(length, useWorkspace.getState().programmeCursor - start));
    const point: Point = [Number(seconds.toFixed(3)), envelopeAt(line, seconds)];
    keep(withPoint(line, point), `gain line ${words(point)}`);
  };
  const words = ([seconds, db]: Point) => `${formatDb(db, { sign: true })} dB at ${formatTime(seconds, 1)}`;
  const onKeyDown = (event: KeyboardEvent, index: number) => {
    const [seconds, db] = line[index]!;
    const to: Record<string, Point> = {
      ArrowLeft: [seconds - STEP.seconds, db],
      ArrowRight: [seconds + STEP.seconds, db],
      ArrowUp: [seconds, db + STEP.db],
      ArrowDown: [seconds, db - STEP.db],
    };
    const next = to[event.key];
    if (next) keep(withPointMoved(line, index, next, length), `gain line ${words(next)}`);
    else if (event.key === "Delete" || event.key === "Backspace")
      keep(
        line.filter((_, i) => i !== index),
        "a point of the gain line less",
      );
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onPointerMove = (event: PointerEvent) => {
    if (!held) return;
    const moved = withPointMoved(held.line, held.index, pointAt(event), length);
    setHeld({ ...held, line: moved });
    tryOut?.(moved);
  };
  const onPointerUp = () => {
    if (held) keep(held.line, `gain line ${words(held.line[held.index]!)}`);
    setHeld(null);
    useWorkspace.setState({ pendingPlacements: null });
  };
  const ends: Point[] = [[0, envelopeAt(line, 0)], ...line, [length, envelopeAt(line, length)]];
  const path = ends.map(([at, db]) => `${x(at)},${100 * shareOfDb(db)}`).join(" ");
  return (
    <div
      ref={ref}
      role="group"
      aria-label={`Gain line of ${name}: double click sets a point`}
      className="absolute inset-x-0 z-[5] cursor-crosshair overflow-hidden"
      style={{ top: 18, height: `calc((100% - ${36 + 20 * strips}px) * 0.56)` }}
      onPointerDown={(event) => event.stopPropagation()}
      onDoubleClick={(event) => {
        event.stopPropagation();
        const point = pointAt(event);
        keep(withPoint(line, point), `gain line ${words(point)}`);
      }}
    >
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="absolute inset-0 h-full w-full">
        <line
          x1={0}
          x2={100}
          y1={100 * shareOfDb(0)}
          y2={100 * shareOfDb(0)}
          stroke="var(--hair)"
          vectorEffect="non-scaling-stroke"
        />
        <polyline points={path} fill="none" stroke="var(--sheet)" strokeWidth={5} vectorEffect="non-scaling-stroke" />
        <polyline points={path} fill="none" stroke="var(--act)" strokeWidth={2} vectorEffect="non-scaling-stroke" />
      </svg>
      <span className="absolute top-0 right-1 flex items-center rounded-[3px] bg-sheet/90 pl-2 text-label text-soft">
        gain of {name}, {line.length === 0 ? "no point yet: double click" : "12 to −36 dB"}
        <Button
          kind="quiet"
          className="h-5 px-1"
          onClick={addAtPlayhead}
          hint="Where the playhead stands, at the gain there"
        >
          + point
        </Button>
        <IconButton label="Put the gain line away" onClick={() => useWorkspace.setState({ gainLineOf: null })}>
          <X size={12} />
        </IconButton>
      </span>
      {line.map((point, index) => (
        <button
          key={index}
          type="button"
          aria-label={`Point ${index + 1} of the gain line: ${words(point)}`}
          title="Drag, or arrow keys: 100 ms, half a dB; Delete takes it away"
          className="absolute size-3 -translate-1/2 cursor-move touch-none rounded-full border-2 border-act bg-sheet focus-visible:bg-act"
          style={{ left: `${x(point[0])}%`, top: `${100 * shareOfDb(point[1])}%` }}
          onPointerDown={(event) => {
            event.stopPropagation();
            event.currentTarget.setPointerCapture(event.pointerId);
            setHeld({ index, line: [...line] });
          }}
          onPointerMove={onPointerMove}
          onPointerUp={onPointerUp}
          onPointerCancel={() => {
            setHeld(null);
            useWorkspace.setState({ pendingPlacements: null });
          }}
          onDoubleClick={(event) => event.stopPropagation()}
          onKeyDown={(event) => onKeyDown(event, index)}
        />
      ))}
    </div>
  );
}
