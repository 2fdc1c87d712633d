"use client";

import { useEffect, useMemo, useRef, useState, type PointerEvent, type RefObject } from "react";
import type { Curve } from "@core/measure/measurement";
import { formatDb, formatTime } from "@core/signal/format";
import { useDesk, type Stretch } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { engine, useEngineState } from "@ui/workspace/listening";
import { LoudnessLane, OverviewStrip, Ruler, WaveLane } from "./lanes";
import { following, scrolled, secondsAt, xOf, zoomed } from "./time-window";
import { stretchWaveform } from "./waveform-height";

const WHEEL_ZOOM = 0.0022;
/** Pixels that a pointer must move before a click becomes a drag. */
const DRAG_PIXELS = 3;

/** All lanes on one time axis, with the window, the selection and the playhead. */
export function ProgrammeView() {
  const { facts, source } = useInHand();
  if (!facts)
    return <EmptyProgramme reading={source !== null && source.state !== "failed"} problem={source?.problem ?? null} />;
  return <Lanes key={facts.item.id + facts.source.overview_hash} facts={facts} />;
}

function EmptyProgramme({ reading, problem }: { reading: boolean; problem: string | null }) {
  const text =
    problem ??
    (reading
      ? "The recording is being read; its waveform appears here."
      : "Drop a recording anywhere on this page to begin.");
  return <div className="flex h-full items-center justify-center px-8 text-center text-soft">{text}</div>;
}

function Lanes({ facts }: { facts: ItemFacts }) {
  const { duration } = facts;
  const kept = useDesk((desk) => desk.view);
  const view = useMemo(() => kept ?? { start: 0, end: duration }, [kept, duration]);
  const surface = useRef<HTMLDivElement>(null);
  const [dragging, setDragging] = useState<string | null>(null);
  const drag = useRef<{ x: number; seconds: number; moved: boolean; fixed: number } | null>(null);

  useEffect(() => {
    const element = surface.current;
    if (!element) return;
    // Wheel events must be cancelled, which React's own passive listeners cannot do.
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const now = useDesk.getState().view ?? { start: 0, end: duration };
      const width = element.clientWidth;
      if (event.altKey) return stretchWaveform(event.deltaY < 0 ? 1 : -1);
      const perPixel = (now.end - now.start) / width;
      const sideways = event.shiftKey ? event.deltaY || event.deltaX : event.deltaX;
      const next =
        event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)
          ? scrolled(now, sideways * perPixel, duration)
          : zoomed(
              now,
              Math.exp(-event.deltaY * WHEEL_ZOOM),
              secondsAt(event.clientX - element.getBoundingClientRect().left, now, width),
              duration,
            );
      useDesk.setState({ view: next });
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [duration]);

  const secondsOf = (event: PointerEvent) => {
    const box = surface.current!.getBoundingClientRect();
    return Math.max(0, Math.min(duration, secondsAt(event.clientX - box.left, view, box.width)));
  };
  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const seconds = secondsOf(event);
    const { selection, cursor } = useDesk.getState();
    const far =
      selection && Math.abs(seconds - selection.start) < Math.abs(seconds - selection.end)
        ? selection.end
        : selection?.start;
    drag.current = {
      x: event.clientX,
      seconds,
      moved: event.shiftKey,
      fixed: event.shiftKey ? (far ?? cursor) : seconds,
    };
    if (event.shiftKey) select(drag.current.fixed, seconds);
  };
  const onPointerMove = (event: PointerEvent) => {
    const held = drag.current;
    if (!held) return;
    if (!held.moved && Math.abs(event.clientX - held.x) < DRAG_PIXELS) return;
    held.moved = true;
    const seconds = secondsOf(event);
    const snapped = event.altKey ? Math.round(seconds * 10) / 10 : seconds;
    select(held.fixed, snapped);
    const { start, end } = useDesk.getState().selection!;
    setDragging(
      `${formatTime(start, 3)} – ${formatTime(end, 3)} · ${(end - start).toFixed(3)} s · Alt: to tenths of a second · Shift at the start: from the nearer end`,
    );
  };
  const onPointerUp = (event: PointerEvent) => {
    const held = drag.current;
    drag.current = null;
    setDragging(null);
    if (!held || held.moved) return;
    const seconds = secondsOf(event);
    useDesk.setState({ cursor: seconds, selection: null });
    engine().seek(facts.range.start + Math.round(seconds * facts.sampleRate));
  };

  return (
    <div className="flex h-full min-h-0 flex-col">
      <OverviewStrip facts={facts} view={view} />
      <div
        ref={surface}
        role="application"
        aria-label="Programme view: drag to select, click to move the playhead, wheel to zoom"
        data-testid="programme"
        className="relative flex min-h-0 flex-1 touch-none flex-col select-none"
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={() => (drag.current = null)}
        onDoubleClick={() => useDesk.setState({ view: null })}
      >
        <Ruler view={view} />
        <WaveLane facts={facts} view={view} />
        <LoudnessLane facts={facts} view={view} />
        <Selection view={view} />
        <Playhead facts={facts} view={view} />
        <Reading facts={facts} view={view} surface={surface} />
        {dragging && (
          <div className="figure pointer-events-none absolute top-8 left-1/2 -translate-x-1/2 rounded-[4px] border border-hair bg-sheet px-2 py-0.5 text-label whitespace-nowrap">
            {dragging}
          </div>
        )}
      </div>
    </div>
  );
}

function select(a: number, b: number): void {
  useDesk.setState({ selection: { start: Math.min(a, b), end: Math.max(a, b) } });
}

function Selection({ view }: { view: Stretch }) {
  const selection = useDesk((desk) => desk.selection);
  if (!selection || selection.end < view.start || selection.start > view.end) return null;
  const share = (seconds: number) => `${Math.max(0, Math.min(100, xOf(seconds, view, 100)))}%`;
  const left = share(selection.start);
  return (
    <div
      data-testid="selection"
      className="pointer-events-none absolute inset-y-0 border-x border-act bg-act/12"
      style={{ left, width: `calc(${share(selection.end)} - ${left})` }}
    />
  );
}

/** Moved by the audio thread's own count, outside of React. */
function Playhead({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const ref = useRef<HTMLDivElement>(null);
  const { playing } = useEngineState();
  const cursor = useDesk((desk) => desk.cursor);
  const { range, sampleRate, duration } = facts;
  useEffect(() => {
    let frame = 0;
    const place = () => {
      const seconds = playing ? (engine().position - range.start) / sampleRate : cursor;
      const now = useDesk.getState().view ?? { start: 0, end: duration };
      const x = xOf(seconds, now, 100);
      if (ref.current) {
        ref.current.style.left = `${x}%`;
        ref.current.style.visibility = x < 0 || x > 100 ? "hidden" : "visible";
      }
      if (!playing) return;
      const next = following(now, seconds, duration);
      // Follows only when the playhead has just run off the right edge, so that looking elsewhere is possible.
      if (next !== now && seconds > now.end && seconds - now.end < 0.25) useDesk.setState({ view: next });
      frame = requestAnimationFrame(place);
    };
    place();
    return () => cancelAnimationFrame(frame);
  }, [playing, cursor, view, range.start, sampleRate, duration]);
  return (
    <div
      ref={ref}
      data-testid="playhead"
      className="pointer-events-none absolute inset-y-0 w-px bg-act before:absolute before:top-0 before:-left-1 before:border-x-4 before:border-t-6 before:border-x-transparent before:border-t-act"
    />
  );
}

/** Time and loudness under the pointer. */
function Reading({
  facts,
  view,
  surface,
}: {
  facts: ItemFacts;
  view: Stretch;
  surface: RefObject<HTMLDivElement | null>;
}) {
  const [pointer, setPointer] = useState<{ x: number; width: number } | null>(null);
  useEffect(() => {
    const element = surface.current;
    if (!element) return;
    const move = (event: globalThis.PointerEvent) => {
      const { left, width } = element.getBoundingClientRect();
      setPointer({ x: event.clientX - left, width });
    };
    const leave = () => setPointer(null);
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerleave", leave);
    return () => {
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerleave", leave);
    };
  }, [surface]);
  if (!pointer || pointer.width === 0) return null;
  const seconds = secondsAt(pointer.x, view, pointer.width);
  if (seconds < 0 || seconds > facts.duration) return null;
  const { shortTermLufs, samplePeakDbfs } = facts.curves;
  const at = (curve: Curve) => curve.values[Math.floor(seconds / curve.hopSeconds)] ?? -Infinity;
  const decimals = view.end - view.start < 2 ? 4 : 2;
  return (
    <p
      className="figure pointer-events-none absolute right-1 top-7 rounded-[2px] bg-sheet/85 px-1 text-label text-soft"
      data-testid="reading"
    >
      {formatTime(seconds, decimals)} · S {formatDb(at(shortTermLufs))} LUFS · peak {formatDb(at(samplePeakDbfs))} dBFS
    </p>
  );
}
