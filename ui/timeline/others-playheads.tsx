"use client";

import { useEffect, useState } from "react";
import type { Presence } from "@core/people/presence";
import { usePresence } from "@ui/api/presence";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { onWindow, windowNow, xOf } from "../state/time-window";

/** How often a playhead that runs is moved: it is to be seen where it is, not to be watched. */
const MOVE_MS = 200;

/** Where the others in the project are in this item: their playheads with their names, and what they have selected. */
export function OthersPlayheads({ facts }: { facts: ItemFacts }) {
  const { item } = useCurrentItem();
  const others = usePresence((state) => state.others);
  const here = Object.values(others).filter(({ presence }) => presence.item === item?.id);
  const isRunning = here.some(({ presence }) => presence.playing);
  const [now, setNow] = useState(() => Date.now());
  const [, setMoved] = useState(0);
  useEffect(() => onWindow(() => requestAnimationFrame(() => setMoved((n) => n + 1))), []);
  useEffect(() => {
    if (!isRunning) return;
    const timer = setInterval(() => setNow(Date.now()), MOVE_MS);
    return () => clearInterval(timer);
  }, [isRunning]);
  const view = windowNow(facts.duration);
  const at = (seconds: number) => xOf(seconds, view, 100);
  const placeOf = ({ playing, seconds }: Presence, heardAt: number) =>
    Math.min(facts.duration, seconds + (playing ? Math.max(0, now - heardAt) / 1000 : 0));
  return (
    <div className="pointer-events-none absolute inset-0 z-10 overflow-hidden" data-testid="others">
      {here.map(({ presence, heardAt }) => (
        <div key={presence.page}>
          {presence.selection && (
            <span
              aria-hidden
              className="absolute top-0 h-full border-x border-dashed border-soft bg-soft/5"
              style={{
                left: `${at(presence.selection.start)}%`,
                width: `${at(presence.selection.end) - at(presence.selection.start)}%`,
              }}
            />
          )}
          <span
            className="absolute inset-y-0 border-l border-dashed border-soft"
            style={{ left: `${at(placeOf(presence, heardAt))}%` }}
          >
            <span className="absolute bottom-0 left-0 max-w-32 truncate rounded-tr-[3px] bg-soft px-1 text-label leading-4 text-paper">
              {presence.name}
            </span>
          </span>
        </div>
      ))}
    </div>
  );
}
