"use client";

import { useRef } from "react";
import type { ItemFacts } from "@ui/state/current-item";
import { BreakpointEditors } from "./breakpoint-editors";
import { LaneOf } from "./lanes";
import { useSpectrogramTiles } from "./spectrogram-lanes";
import { resizeLanes, useLanes, type Lane } from "../state/lane-settings";

/** The lanes that are on, one above the other, with handles between them. */
export function LaneStack({ facts }: { facts: ItemFacts }) {
  const lanes = useLanes((settings) => settings.lanes);
  const tiles = useSpectrogramTiles(facts);
  const shown = lanes.filter(({ on }) => on);
  const total = shown.reduce((sum, { weight }) => sum + weight, 0);
  const stack = useRef<HTMLDivElement>(null);
  if (shown.length === 0)
    return <p className="m-auto text-soft">All lanes are off. “Lanes” above switches them on again.</p>;
  return (
    <div ref={stack} className="flex min-h-0 flex-1 flex-col">
      {shown.map((lane, index) => (
        <div
          key={lane.id}
          data-lane={lane.id}
          className="relative min-h-0 border-t border-hair first:border-t-0"
          style={{ flex: `${lane.weight} 1 0` }}
        >
          {index > 0 && (
            <Handle
              above={shown[index - 1]!}
              below={lane}
              perWeight={() => (stack.current?.clientHeight ?? 1) / total}
            />
          )}
          <LaneOf id={lane.id} facts={facts} tiles={tiles} />
          {lane.id === "waveform" && <BreakpointEditors facts={facts} />}
        </div>
      ))}
    </div>
  );
}

const KEY_STEP = 0.25;

/** Between two lanes: what is dragged goes from one to the other. */
function Handle({ above, below, perWeight }: { above: Lane; below: Lane; perWeight: () => number }) {
  const last = useRef(0);
  return (
    <div
      role="separator"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label={`Height of ${above.id} against ${below.id}`}
      aria-valuenow={Math.round((100 * above.weight) / (above.weight + below.weight))}
      title="Drag, or arrow keys: how tall the lanes are"
      className="absolute -top-1 z-10 h-2 w-full cursor-row-resize hover:bg-act/20 focus-visible:bg-act/30"
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        last.current = event.clientY;
      }}
      onPointerMove={(event) => {
        event.stopPropagation();
        if (event.buttons !== 1) return;
        resizeLanes(above.id, below.id, (event.clientY - last.current) / perWeight());
        last.current = event.clientY;
      }}
      onKeyDown={(event) => {
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.stopPropagation();
        event.preventDefault();
        resizeLanes(above.id, below.id, event.key === "ArrowDown" ? KEY_STEP : -KEY_STEP);
      }}
    />
  );
}
