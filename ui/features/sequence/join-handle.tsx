"use client";

import { useRef, type KeyboardEvent, type PointerEvent as ReactPointerEvent } from "react";

interface Props {
  label: string;
  /** Pixels from the left and top of the picture. */
  x: number;
  y: number;
  /** Seconds that it stands at; what it is moved by. */
  secondsPerPixel: number;
  onMove: (bySeconds: number, free: boolean) => void;
  onCommit: () => void;
  onCancel: () => void;
  /** One step by keys: kept at once. */
  onNudge: (bySeconds: number) => void;
  onDoubleClick?: (() => void) | undefined;
}

/** Steps of arrow keys, in seconds: plain, with Shift, with Alt. */
const STEPS = { plain: 0.01, shift: 0.1, alt: 0.001 };

/** A square that is dragged, or moved by arrow keys. */
export function JoinHandle({
  label,
  x,
  y,
  secondsPerPixel,
  onMove,
  onCommit,
  onCancel,
  onNudge,
  onDoubleClick,
}: Props) {
  const from = useRef<number | null>(null);
  const onPointerDown = (event: ReactPointerEvent<HTMLButtonElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = event.clientX;
  };
  const onPointerMove = (event: ReactPointerEvent<HTMLButtonElement>) => {
    if (from.current !== null && event.clientX !== from.current)
      onMove((event.clientX - from.current) * secondsPerPixel, event.altKey);
  };
  const onPointerUp = (event: ReactPointerEvent<HTMLButtonElement>) => {
    if (from.current !== null && event.clientX !== from.current) onCommit();
    from.current = null;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape" && from.current !== null) {
      from.current = null;
      onCancel();
    }
    const direction = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (direction === 0) return;
    event.preventDefault();
    event.stopPropagation();
    onNudge(direction * (event.shiftKey ? STEPS.shift : event.altKey ? STEPS.alt : STEPS.plain));
  };
  return (
    <button
      type="button"
      aria-label={label}
      title={`${label}: drag, or arrow keys for 10 ms, with Shift 100 ms, with Alt 1 ms`}
      className="absolute size-3 -translate-1/2 cursor-ew-resize touch-none border-2 border-act bg-sheet focus-visible:bg-act"
      style={{ left: x, top: y }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onCancel}
      onKeyDown={onKeyDown}
      onDoubleClick={onDoubleClick}
    />
  );
}
