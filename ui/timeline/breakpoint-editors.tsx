"use client";

import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from "react";
import { gainPoints, envelopeDb, type GainPoint } from "@core/repair/gain-envelope";
import type { RepairStep } from "@core/repair";
import { dbToGain, gainToDb } from "@core/audio/decibel";
import { counted, formatDb, formatTime } from "@core/audio/format";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { recordingFrame, secondsOfRecording } from "@ui/state/item-time";
import { channelRow } from "./draw-waveform";
import { snapTime } from "./snap-time";
import { onWindow, secondsAt, windowNow, xOf } from "../state/time-window";
import { useTimeContext } from "../state/use-time-format";

/** Lines that are drawn over the waveform while the step that they belong to is in hand. */
export function BreakpointEditors({ facts }: { facts: ItemFacts }) {
  const { item } = useCurrentItem();
  const shown = useWorkspace((workspace) => workspace.stage === "repair");
  const id = useWorkspace((workspace) => workspace.step);
  const step = shown ? item?.repairs.find((one) => one.id === id) : undefined;
  if (step?.type === "gain-envelope") return <GainLineEditor step={step} facts={facts} />;
  if (step?.type === "spikes") return <SpikeLine step={step} facts={facts} />;
  return null;
}

/** Draws anew when the window moves, and tells how large the lane is. */
function useLane(ref: RefObject<HTMLDivElement | null>) {
  const [size, setSize] = useState({ width: 1, height: 1 });
  const [, redraw] = useState(0);
  useEffect(() => {
    const element = ref.current!;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    const end = onWindow(() => requestAnimationFrame(() => redraw((n) => n + 1)));
    return () => {
      observer.disconnect();
      end();
    };
  }, [ref]);
  return size;
}

/** dB at the top and the bottom of the lane. */
const TOP_DB = 12;
const BOTTOM_DB = -30;
const POINT_STEP_DB = 0.5;
/** Pixels between the places at which the line is worked out. */
const LINE_PIXELS = 4;

function GainLineEditor({ step, facts }: { step: RepairStep; facts: ItemFacts }) {
  const { item, edit } = useCurrentItem();
  const ref = useRef<HTMLDivElement>(null);
  const { width, height } = useLane(ref);
  const time = useTimeContext(facts);
  const [drag, setDrag] = useState<{ index: number; points: GainPoint[] } | null>(null);
  const kept = useMemo(() => gainPoints(step.learned), [step.learned]);
  const points = drag?.points ?? kept;
  const view = windowNow(facts.duration);
  const yOf = (db: number) => ((TOP_DB - db) / (TOP_DB - BOTTOM_DB)) * height;
  const dbOf = (y: number) =>
    Math.max(BOTTOM_DB, Math.min(TOP_DB, Math.round(2 * (TOP_DB - (y / height) * (TOP_DB - BOTTOM_DB))) / 2));
  const place = (event: { clientX: number; clientY: number; altKey: boolean }): GainPoint => {
    const box = ref.current!.getBoundingClientRect();
    const pointed = secondsAt(event.clientX - box.left, view, box.width);
    const seconds = event.altKey ? pointed : snapTime(facts, time, pointed, box.width);
    return {
      frame: recordingFrame(facts, Math.max(0, Math.min(facts.duration, seconds))),
      gainDb: dbOf(event.clientY - box.top),
    };
  };
  const keep = (next: GainPoint[], what: string) => {
    if (item) void edit({ type: "setRepair", item: item.id, step: step.id!, changes: { learned: next }, what });
  };
  const add = (point: GainPoint) => {
    if (points.some(({ frame }) => frame === point.frame)) return;
    keep(
      [...points, point].sort((a, b) => a.frame - b.frame),
      `a point at ${formatDb(point.gainDb, { sign: true })} dB`,
    );
  };
  /** A point moved, kept between its neighbours. */
  const moved = (from: GainPoint[], index: number, to: GainPoint): GainPoint[] => {
    const least = (from[index - 1]?.frame ?? -1) + 1;
    const most = (from[index + 1]?.frame ?? Infinity) - 1;
    return from.map((one, i) => (i === index ? { ...to, frame: Math.max(least, Math.min(most, to.frame)) } : one));
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    const point = points[index]!;
    const frames = Math.round(((view.end - view.start) / 200) * facts.sampleRate);
    const next = {
      ArrowUp: { ...point, gainDb: Math.min(24, point.gainDb + POINT_STEP_DB) },
      ArrowDown: { ...point, gainDb: Math.max(-60, point.gainDb - POINT_STEP_DB) },
      ArrowLeft: { ...point, frame: Math.max(0, point.frame - frames) },
      ArrowRight: { ...point, frame: point.frame + frames },
    }[event.key];
    if (next) keep(moved(points, index, next), "a point moved");
    else if (event.key === "Delete")
      keep(
        points.filter((_, i) => i !== index),
        "a point less",
      );
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const path = Array.from({ length: Math.ceil(width / LINE_PIXELS) + 1 }, (_, i) => {
    const x = i * LINE_PIXELS;
    const frame = recordingFrame(facts, Math.max(0, secondsAt(x, view, width)));
    return `${i === 0 ? "M" : "L"}${x},${yOf(envelopeDb(points, frame)).toFixed(1)}`;
  }).join("");
  return (
    <div
      ref={ref}
      role="group"
      aria-label="Gain envelope: double click sets a point"
      data-testid="gain-line"
      className="absolute inset-0 z-[5] cursor-crosshair"
      // What is drawn here is no selection.
      onPointerDown={(event) => event.stopPropagation()}
      onDoubleClick={(event) => {
        event.stopPropagation();
        add(place(event));
      }}
    >
      <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden>
        {[0, -12, -24].map((db) => (
          <g key={db}>
            <line
              x1={0}
              x2={width}
              y1={yOf(db)}
              y2={yOf(db)}
              stroke="var(--act)"
              strokeOpacity={0.35}
              strokeDasharray="2 4"
            />
            <text
              x={34}
              y={yOf(db) - 3}
              className="figure fill-act stroke-sheet stroke-3 text-[10px] [paint-order:stroke]"
            >
              {formatDb(db, { digits: 0 })} dB
            </text>
          </g>
        ))}
        <path d={path} fill="none" stroke="var(--act)" strokeWidth={1.5} />
      </svg>
      <p className="pointer-events-none absolute right-10 bottom-1 rounded-[2px] bg-sheet/80 px-1 text-label text-act">
        Double click sets a point; drag moves it, drawn to markers and playhead unless Alt is held; arrows and Delete
        too
      </p>
      {points.map((point, index) => {
        const seconds = secondsOfRecording(facts, point.frame);
        if (seconds === null || seconds < view.start || seconds > view.end) return null;
        const words = `Point at ${formatTime(seconds, 2)}, ${formatDb(point.gainDb, { sign: true })} dB`;
        return (
          <button
            key={index}
            type="button"
            aria-label={words}
            title={words}
            style={{ left: xOf(seconds, view, width), top: yOf(point.gainDb) }}
            className="absolute size-3 -translate-1/2 cursor-move rounded-full border-2 border-sheet bg-act"
            onKeyDown={(event) => onKey(event, index)}
            onDoubleClick={(event) => event.stopPropagation()}
            onPointerDown={(event: PointerEvent) => {
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              setDrag({ index, points });
            }}
            onPointerMove={(event) => drag && setDrag({ index, points: moved(drag.points, index, place(event)) })}
            onPointerUp={() => {
              if (drag && drag.points !== kept) keep(drag.points, "a point moved");
              setDrag(null);
            }}
          >
            {drag?.index === index && (
              <span className="figure absolute bottom-4 left-1/2 -translate-x-1/2 rounded-[3px] border border-hair bg-sheet px-1 text-label whitespace-nowrap text-ink">
                {formatTime(seconds, 2)} · {formatDb(point.gainDb, { sign: true })} dB
              </span>
            )}
          </button>
        );
      })}
    </div>
  );
}

const LINE_LOWEST_DBFS = -60;

/** What lies above a line: how many places, how much at most, and how loud the rest may then be. */
export function aboveLine(
  { curves, figures }: Pick<ItemFacts, "curves" | "figures">,
  thresholdDbfs: number,
  ceilingDbtp: number,
): { places: number; cutDb: number; roomDb: number; lufs: number | null } {
  const { values } = curves.samplePeakDbfs;
  let places = 0;
  let highest = -Infinity;
  values.forEach((db, i) => {
    highest = Math.max(highest, db);
    if (db > thresholdDbfs && !(i > 0 && values[i - 1]! > thresholdDbfs)) places++;
  });
  const roomDb = ceilingDbtp - Math.min(thresholdDbfs, highest);
  return {
    places,
    cutDb: Math.max(0, highest - thresholdDbfs),
    roomDb,
    lufs: figures.integratedLufs === null ? null : figures.integratedLufs + roomDb,
  };
}

function SpikeLine({ step, facts }: { step: RepairStep; facts: ItemFacts }) {
  const { item, edit, spec } = useCurrentItem();
  const ref = useRef<HTMLDivElement>(null);
  const { height } = useLane(ref);
  const tallerDb = useWorkspace((workspace) => workspace.waveformZoomDb);
  const [moving, setMoving] = useState<number | null>(null);
  const kept = Number(step.thresholdDbfs ?? 0);
  const line = moving ?? kept;
  const channels = facts.source.layout?.speakers.length ?? 1;
  const ceiling = spec?.ceilingDbtp ?? -1;
  const told = useMemo(() => aboveLine(facts, line, ceiling), [facts, line, ceiling]);
  // Keys may come faster than what they did is drawn.
  const latest = useRef(kept);
  useEffect(() => void (latest.current = kept), [kept]);
  const keep = (next: number) => {
    setMoving(null);
    const thresholdDbfs = Math.round(Math.max(LINE_LOWEST_DBFS, Math.min(0, next)) * 10) / 10;
    latest.current = thresholdDbfs;
    if (item && thresholdDbfs !== kept)
      void edit({
        type: "setRepair",
        item: item.id,
        step: step.id!,
        changes: { thresholdDbfs },
        what: `${formatDb(thresholdDbfs)} dBFS`,
      });
  };
  const lineAt = (event: PointerEvent): number => {
    const box = ref.current!.getBoundingClientRect();
    const y = event.clientY - box.top;
    const channel = Math.max(0, Math.min(channels - 1, Math.floor((y / box.height) * channels)));
    const { middle, half } = channelRow(channel, channels, box.height);
    return gainToDb(Math.max(1e-3, Math.min(1, Math.abs(y - middle) / half))) - tallerDb;
  };
  return (
    <div ref={ref} className="pointer-events-none absolute inset-0 z-[5]" data-testid="spike-line">
      {Array.from({ length: channels }, (_, channel) =>
        [-1, 1].map((side) => {
          const { middle, half } = channelRow(channel, channels, height);
          const reach = half * Math.min(1, dbToGain(line + tallerDb));
          return (
            <div
              key={`${channel}/${side}`}
              role="slider"
              tabIndex={side < 0 && channel === 0 ? 0 : -1}
              aria-label="Line above which spikes are tamed"
              aria-valuenow={line}
              aria-valuemin={LINE_LOWEST_DBFS}
              aria-valuemax={0}
              aria-valuetext={`${formatDb(line)} dBFS, ${counted(told.places, "place")} above it`}
              style={{ top: middle + side * reach - 4 }}
              className="pointer-events-auto absolute h-2 w-full cursor-row-resize before:absolute before:top-1 before:w-full before:border-t before:border-outside hover:bg-outside/10"
              onPointerDown={(event) => {
                event.stopPropagation();
                event.currentTarget.setPointerCapture(event.pointerId);
                setMoving(line);
              }}
              onPointerMove={(event) => moving !== null && setMoving(lineAt(event))}
              onPointerUp={(event) => {
                // The keys go back to the workspace.
                event.currentTarget.blur();
                if (moving !== null) keep(moving);
              }}
              onKeyDown={(event) => {
                const by = { ArrowUp: 0.5, ArrowDown: -0.5 }[event.key];
                if (!by) return;
                event.preventDefault();
                event.stopPropagation();
                keep(latest.current + by);
              }}
            />
          );
        }),
      )}
      <p className="figure absolute right-10 bottom-1 rounded-[2px] bg-sheet/85 px-1 text-label text-outside">
        {formatDb(line)} dBFS · {told.places} {told.places === 1 ? "place" : "places"} above it · at most{" "}
        {formatDb(told.cutDb)} dB cut · then the rest may rise by {formatDb(told.roomDb)} dB
        {told.lufs !== null && `, to ${formatDb(told.lufs)} LUFS`}, under {formatDb(ceiling)} dBTP
      </p>
    </div>
  );
}
