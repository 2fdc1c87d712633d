"use client";

import { useEffect, useMemo, useState } from "react";
import type { RepairStep } from "@core/repair";
import { useWorkspace, type WorkspaceState } from "./workspace-store";
import { useCurrentItem } from "./current-item";

const NONE: RepairStep[] = [];
/** A setting that moves is heard once it has stood still for so long: each value must be made first. */
const STILL_MS = 120;

/** The setting that is being moved, once it stands still for a moment. */
function useStill(moving: WorkspaceState["pendingParameter"]): WorkspaceState["pendingParameter"] {
  const [still, setStill] = useState(moving);
  useEffect(() => {
    const timer = setTimeout(() => setStill(moving), moving === null ? 0 : STILL_MS);
    return () => clearTimeout(timer);
  }, [moving]);
  return moving && still;
}

/** The item's repairs and those on trial, as they are heard: with a setting that is being moved. */
export function useMonitoredRepairs(): RepairStep[] {
  const { item } = useCurrentItem();
  const trial = useWorkspace((workspace) => workspace.trialRepairs);
  const moving = useStill(useWorkspace((workspace) => workspace.pendingParameter));
  const own = item?.repairs ?? NONE;
  return useMemo(() => {
    const moved = moving
      ? own.map((step) => (step.id === moving.entry ? { ...step, [moving.parameter]: moving.setting } : step))
      : own;
    return trial.length > 0 ? [...moved, ...trial] : moved;
  }, [own, trial, moving]);
}
