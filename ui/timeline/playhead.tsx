"use client";

import { useEffect, useRef } from "react";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import { engine, useEngineState } from "@ui/state/listening-engine";
import { following, onWindow, windowNow, xOf } from "../state/time-window";

/** The window follows a playhead that has run off its right edge no longer ago than this. */
const FOLLOW_SECONDS = 0.25;

/** Moved by the audio thread's own count, outside of React. */
export function Playhead({ facts }: { facts: ItemFacts }) {
  const ref = useRef<HTMLDivElement>(null);
  const { playing } = useEngineState();
  const { sampleRate, duration } = facts;
  useEffect(() => {
    let frame = 0;
    const place = () => {
      const { cursor } = useWorkspace.getState();
      const seconds = playing ? engine().position / sampleRate : cursor;
      const now = windowNow(duration);
      const x = xOf(seconds, now, 100);
      if (ref.current) {
        ref.current.style.transform = `translateX(${x}%)`;
        ref.current.style.visibility = x < 0 || x > 100 ? "hidden" : "visible";
      }
      if (!playing) return;
      const next = following(now, seconds, duration);
      // Only then, so that looking elsewhere is possible.
      if (next !== now && seconds > now.end && seconds - now.end < FOLLOW_SECONDS)
        useWorkspace.setState({ view: next });
      frame = requestAnimationFrame(place);
    };
    place();
    const ends = [
      onWindow(() => playing || place()),
      useWorkspace.subscribe((workspace, before) => workspace.cursor !== before.cursor && !playing && place()),
    ];
    return () => {
      cancelAnimationFrame(frame);
      ends.forEach((end) => end());
    };
  }, [playing, sampleRate, duration]);
  return (
    <div className="pointer-events-none absolute inset-0 z-10 overflow-hidden">
      {/* As wide as the lanes, so that it is moved without a layout. */}
      <div
        ref={ref}
        data-testid="playhead"
        className="absolute inset-0 border-l border-act will-change-transform before:absolute before:top-0 before:-left-1 before:border-x-4 before:border-t-6 before:border-x-transparent before:border-t-act"
      />
    </div>
  );
}
