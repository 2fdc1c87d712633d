"use client";

import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from "react";
import { dbToGain } from "@core/signal/decibel";
import { formatTime } from "@core/signal/format";
import { useDesk, type Stretch } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { engine, useEngineState } from "@ui/workspace/listening";
import { drawLoudness, drawOverviewStrip, drawRuler, drawWaveform, type Context, type Inks } from "./draw";
import { SAMPLES_BELOW_FRAMES_PER_PIXEL } from "./overview-data";
import { following, scrolled, secondsAt, xOf, zoomed } from "./time-window";
import { useCanvas } from "./use-canvas";

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
        {dragging && (
          <div className="figure pointer-events-none absolute top-8 left-1/2 -translate-x-1/2 rounded-[4px] border border-hair bg-sheet px-2 py-0.5 text-label whitespace-nowrap">
            {dragging}
          </div>
        )}
      </div>
    </div>
  );
}

const TALLER_STEP_DB = 3;
const TALLEST_DB = 60;

/** Draws the waveform a step taller or lower. */
export function stretchWaveform(steps: number): void {
  const { tallerDb } = useDesk.getState();
  useDesk.setState({ tallerDb: Math.max(0, Math.min(TALLEST_DB, tallerDb + steps * TALLER_STEP_DB)) });
}

function select(a: number, b: number): void {
  useDesk.setState({ selection: { start: Math.min(a, b), end: Math.max(a, b) } });
}

function useRedrawOnArrival(redraw: () => void): void {
  const { onArrival } = useInHand();
  useEffect(() => onArrival(redraw), [onArrival, redraw]);
}

const stripWindow = (clientX: number, element: HTMLElement, view: Stretch, duration: number): Stretch => {
  const box = element.getBoundingClientRect();
  const middle = ((clientX - box.left) / box.width) * duration;
  return scrolled(view, middle - (view.start + view.end) / 2, duration);
};

function OverviewStrip({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const { duration, overview, range, sampleRate } = facts;
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Inks) => {
      const columns = overview.columns(range.start, (duration * sampleRate) / width, width);
      drawOverviewStrip(context, { width, height, columns, window: view, duration }, inks);
    },
    [overview, range.start, duration, sampleRate, view],
  );
  const { ref, redraw } = useCanvas(draw);
  useRedrawOnArrival(redraw);
  const move = (event: PointerEvent<HTMLCanvasElement>) =>
    useDesk.setState({ view: stripWindow(event.clientX, event.currentTarget, view, duration) });
  return (
    <canvas
      ref={ref}
      aria-label="The whole item; drag to move the window"
      className="h-7 w-full shrink-0 cursor-grab border-b border-hair bg-paper"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        move(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && move(event)}
    />
  );
}

function Ruler({ view }: { view: Stretch }) {
  const draw = useCallback(
    (context: Context, size: { width: number; height: number }, inks: Inks) =>
      drawRuler(context, { ...size, view }, inks),
    [view],
  );
  const { ref } = useCanvas(draw);
  return <canvas ref={ref} aria-label="Time ruler" className="h-6.5 w-full shrink-0 border-b border-hair" />;
}

function WaveLane({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const { chain } = useInHand();
  const tallerDb = useDesk((desk) => desk.tallerDb);
  const limiter = chain.findLast((entry) => entry.type === "limiter" && !entry.bypass);
  const ceilingDb = typeof limiter?.ceilingDbtp === "number" ? limiter.ceilingDbtp : null;
  const gainDb = chain.reduce(
    (sum, entry) =>
      entry.type === "gain" && !entry.bypass && typeof entry.gainDb === "number" ? sum + entry.gainDb : sum,
    0,
  );
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Inks) => {
      const { overview, range, sampleRate, source } = facts;
      const start = range.start + view.start * sampleRate;
      const framesPerPixel = ((view.end - view.start) * sampleRate) / width;
      const close =
        framesPerPixel < SAMPLES_BELOW_FRAMES_PER_PIXEL
          ? overview.samples(Math.floor(start), Math.ceil(start + width * framesPerPixel))
          : undefined;
      drawWaveform(
        context,
        {
          width,
          height,
          columns: overview.columns(start, framesPerPixel, width),
          labels: source.layout?.speakers.map(({ label }) => label) ?? [],
          scale: dbToGain(tallerDb),
          samples: close && { block: close.block, first: close.start, framesPerPixel, start },
          // The waveform is drawn as it came; what the limiter will cut of it lies above the ceiling less the gain.
          ceiling: ceilingDb === null ? undefined : Math.min(1, dbToGain(ceilingDb - gainDb)),
        },
        inks,
      );
    },
    [facts, view, ceilingDb, gainDb, tallerDb],
  );
  const { ref, redraw } = useCanvas(draw);
  useRedrawOnArrival(redraw);
  return (
    <div className="relative min-h-0 flex-1">
      <canvas ref={ref} aria-label="Waveform, peak and RMS" className="absolute inset-0 size-full" />
      <LaneName>
        Waveform · peak and RMS
        {tallerDb !== 0 && ` · drawn ${tallerDb} dB taller`}
        {ceilingDb !== null && <span className="text-outside"> · above the dashed line the limiter cuts</span>}
      </LaneName>
    </div>
  );
}

function LaneName({ children, low }: { children: React.ReactNode; low?: boolean }) {
  return (
    <div
      className={`pointer-events-none absolute ${low ? "bottom-0.5 left-1" : "top-0.5 left-9"} rounded-[2px] bg-sheet/80 px-1 text-label text-soft`}
    >
      {children}
    </div>
  );
}

function LoudnessLane({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const { spec, now } = useInHand();
  const shiftDb = (now?.integratedLufs ?? 0) - (facts.figures.integratedLufs ?? 0);
  const draw = useCallback(
    (context: Context, size: { width: number; height: number }, inks: Inks) => {
      const limitOf = (figure: string) => spec?.limits.find((limit) => limit.figure === figure);
      const { momentaryLufs, shortTermLufs } = facts.curves;
      drawLoudness(
        context,
        {
          ...size,
          view,
          hopSeconds: momentaryLufs.hopSeconds,
          momentary: momentaryLufs.values,
          shortTerm: shortTermLufs.values,
          offset: 0,
          shiftDb,
          target: limitOf("integratedLufs"),
          shortTermMax: limitOf("shortTermMaxLufs")?.max,
        },
        inks,
      );
    },
    [facts, view, spec, shiftDb],
  );
  const { ref } = useCanvas(draw);
  return (
    <div className="relative h-22 shrink-0 border-t border-hair">
      <canvas ref={ref} aria-label="Loudness over time" className="absolute inset-0 size-full" />
      <LaneName low>
        Loudness · short-term ink, momentary grey{spec ? ` · band: ${spec.name}` : ""}
        {Math.abs(shiftDb) > 0.05 && " · after the chain, estimated"}
      </LaneName>
    </div>
  );
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
