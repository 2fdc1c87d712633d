"use client";

import { useRef, type KeyboardEvent, type PointerEvent as ReactPointerEvent } from "react";
import type { PlacementChanges } from "@core/programme/placement";
import type { Item } from "@core/project/document";
import { useWorkspace } from "@ui/state/workspace-store";
import type { JoinModel } from "./draw-join";
import { joinHandles, type Drag, type Handle } from "./join-handles";

interface Props {
  model: JoinModel;
  outgoing: Item;
  incoming: Item;
  /** Keeps a place; `what` says in words what was done. */
  place: (target: Item, changes: PlacementChanges, what: string) => void;
}

/** Squares over the picture of a join. While one is dragged, what comes of it is drawn and heard, and not kept. */
export function JoinHandles({ model, outgoing, incoming, place }: Props) {
  const secondsPerPixel = (model.reach.before + model.reach.after) / Math.max(1, model.width);
  return joinHandles(model, outgoing, incoming).map((handle) => (
    <JoinHandle
      key={handle.id}
      handle={handle}
      secondsPerPixel={secondsPerPixel}
      rowHeight={model.height / 2}
      place={place}
    />
  ));
}

/** Steps of arrow keys: plain, with Shift, with Alt. */
const SECONDS = { plain: 0.01, shift: 0.1, alt: 0.001 };
const GAINS = { plain: 0.01, shift: 0.1, alt: 0.001 };

interface HandleProps extends Pick<Props, "place"> {
  handle: Handle;
  secondsPerPixel: number;
  rowHeight: number;
}

function JoinHandle({ handle, secondsPerPixel, rowHeight, place }: HandleProps) {
  /** As it was when it was taken, and where; `null` while it is not held. */
  const held = useRef<{ handle: Handle; x: number; y: number; isMoved: boolean } | null>(null);
  const keep = ({ item, words }: Handle, changes: PlacementChanges) => place(item, changes, words(changes));
  const end = () => {
    held.current = null;
    useWorkspace.setState({ pendingPlacements: null });
  };
  const dragged = (event: ReactPointerEvent): Drag => ({
    seconds: (event.clientX - held.current!.x) * secondsPerPixel,
    gain: (held.current!.y - event.clientY) / rowHeight,
    free: event.altKey,
  });
  const onPointerDown = (event: ReactPointerEvent<HTMLButtonElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { handle, x: event.clientX, y: event.clientY, isMoved: false };
  };
  const onPointerMove = (event: ReactPointerEvent) => {
    const taken = held.current;
    if (!taken || (!taken.isMoved && event.clientX === taken.x && event.clientY === taken.y)) return;
    taken.isMoved = true;
    const changes = taken.handle.moved(dragged(event));
    useWorkspace.setState({ pendingPlacements: [{ item: taken.handle.item.id, changes }] });
  };
  const onPointerUp = (event: ReactPointerEvent) => {
    const taken = held.current;
    if (taken?.isMoved) keep(taken.handle, taken.handle.moved(dragged(event)));
    end();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape" && held.current) return end();
    if ((event.key === "Delete" || event.key === "Backspace") && handle.removed) {
      event.preventDefault();
      event.stopPropagation();
      return keep(handle, handle.removed);
    }
    const size = event.shiftKey ? "shift" : event.altKey ? "alt" : "plain";
    const across = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    const up = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (across === 0 && up === 0) return;
    event.preventDefault();
    event.stopPropagation();
    keep(handle, handle.moved({ seconds: across * SECONDS[size], gain: up * GAINS[size], free: true }));
  };
  return (
    <button
      type="button"
      aria-label={handle.label}
      title={`${handle.label}: drag, or arrow keys for 10 ms, with Shift 100 ms, with Alt 1 ms${handle.toggled ? "; double click: another shape" : ""}${handle.removed ? "; Delete takes it away" : ""}`}
      className={`absolute size-3 -translate-1/2 touch-none border-2 border-act bg-sheet focus-visible:bg-act ${handle.id.includes("point") ? "cursor-move rounded-full" : "cursor-ew-resize"}`}
      style={{ left: handle.x, top: handle.y }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={end}
      onKeyDown={onKeyDown}
      onDoubleClick={() => handle.toggled && keep(handle, handle.toggled)}
    />
  );
}
