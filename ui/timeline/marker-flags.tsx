"use client";

import { useEffect, useMemo, useRef, useState } from "react";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { engine } from "@ui/state/listening-engine";
import { itemFrame, recordingFrame } from "@ui/state/item-time";
import { MARKER_STYLES, placeMarkers, type PlacedMarker } from "../state/markers";
import { onWindow, secondsAt, windowNow, xOf } from "../state/time-window";

/** The most flags that are shown at a time: more would lie on each other. */
const MOST_FLAGS = 160;
const DRAG_PIXELS = 3;

/** The markers in the window as flags over the ruler: click goes there, drag moves, double click opens the list. */
export function MarkerFlags({ facts }: { facts: ItemFacts }) {
  const { item, edit } = useCurrentItem();
  const { duration } = facts;
  const row = useRef<HTMLDivElement>(null);
  const [, setMoved] = useState(0);
  const [drag, setDrag] = useState<{ id: string; x: number; seconds: number; moved: boolean } | null>(null);
  // Flags are few: React may place them, a frame behind the lanes.
  useEffect(() => onWindow(() => requestAnimationFrame(() => setMoved((n) => n + 1))), []);
  const view = windowNow(duration);
  const placed = useMemo(() => placeMarkers(item?.markers ?? [], facts), [item, facts]);
  const shown = placed.filter(({ seconds }) => seconds >= view.start && seconds <= view.end).slice(0, MOST_FLAGS);
  const move = ({ id, kind, name, start, end }: PlacedMarker, seconds: number) => {
    const at = recordingFrame(facts, seconds);
    const length = end === undefined ? {} : { end: at + end - start };
    void edit({ type: "setMarker", item: item!.id, marker: { id, kind, name, start: at, ...length } });
  };
  return (
    <div ref={row} className="pointer-events-none absolute inset-x-0 top-0 z-10 h-6.5 overflow-hidden">
      {shown.map((marker) => {
        const look = MARKER_STYLES[marker.kind];
        const seconds = drag?.id === marker.id ? drag.seconds : marker.seconds;
        const words = marker.name || look.words;
        return (
          <button
            key={marker.id}
            type="button"
            title={`${words}: click goes there, drag moves it, double click opens the list`}
            aria-label={`Marker ${words}`}
            className="pointer-events-auto absolute top-0 flex max-w-28 items-center gap-0.5 rounded-b-[3px] bg-sheet pr-1 text-label leading-3.5"
            style={{ left: `${xOf(seconds, view, 100)}%`, color: look.ink }}
            onPointerDown={(event) => {
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              setDrag({ id: marker.id, x: event.clientX, seconds, moved: false });
            }}
            onPointerMove={(event) => {
              event.stopPropagation();
              if (!drag || event.buttons !== 1) return;
              if (!drag.moved && Math.abs(event.clientX - drag.x) < DRAG_PIXELS) return;
              const box = row.current!.getBoundingClientRect();
              setDrag({ ...drag, moved: true, seconds: secondsAt(event.clientX - box.left, view, box.width) });
            }}
            onPointerUp={(event) => {
              event.stopPropagation();
              if (drag?.moved) move(marker, drag.seconds);
              else {
                useWorkspace.setState({ cursor: marker.seconds });
                engine().seek(itemFrame(facts, marker.seconds));
              }
              setDrag(null);
            }}
            onDoubleClick={(event) => {
              event.stopPropagation();
              useWorkspace.setState({ dialog: "markers" });
            }}
          >
            <span aria-hidden>{look.sign}</span>
            <span className="truncate">{words}</span>
          </button>
        );
      })}
    </div>
  );
}
