"use client";

import type { StageName } from "@ui/state/workspace-store";
import { useLanes } from "../state/lane-settings";

const LEAST = 0.2;
const MOST = 0.82;
const KEY_STEP = 0.02;

/** Which of the two shares a stage has. */
const shareName = (stage: StageName) => (stage === "shape" ? "shapeShare" : "share");

/** How much of the height the programme view has in a stage. */
export const useTimelineShare = (stage: StageName): number => useLanes((lanes) => lanes[shareName(stage)]);

/** Between the programme view and the stage's panel: dragged, or moved by the arrow keys. */
export function SplitHandle({ stage }: { stage: StageName }) {
  const share = useTimelineShare(stage);
  const setShare = (next: number) => useLanes.setState({ [shareName(stage)]: Math.max(LEAST, Math.min(MOST, next)) });
  return (
    <div
      role="separator"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label="Height of the programme view"
      aria-valuenow={Math.round(share * 100)}
      title="Drag, or arrow keys: how tall the programme view is"
      className="relative z-10 -my-1 h-2 shrink-0 cursor-row-resize hover:bg-act/20 focus-visible:bg-act/30"
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        const main = event.currentTarget.parentElement;
        if (event.buttons !== 1 || !main) return;
        const box = main.getBoundingClientRect();
        setShare((event.clientY - box.top) / box.height);
      }}
      onKeyDown={(event) => {
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        event.stopPropagation();
        setShare(share + (event.key === "ArrowDown" ? KEY_STEP : -KEY_STEP));
      }}
    />
  );
}
