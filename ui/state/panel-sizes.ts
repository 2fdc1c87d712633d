/** How the room of the workspace is divided, by stage; kept in the browser. */
import type { PanelImperativeHandle } from "react-resizable-panels";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { StageName } from "./workspace-store";

export const PANELS = ["upper", "lower", "meters"] as const;
export type PanelName = (typeof PANELS)[number];

export const PANEL_LABELS: Record<PanelName, string> = {
  upper: "upper panel: programme view, board, or map",
  lower: "lower panel: the stage’s own",
  meters: "meters",
};

export interface StageSizes {
  /** Of the upper panel, per cent of the height; 0 is folded, 100 folds the lower one. */
  upper: number;
  /** Of the meter column, pixels; folded at `FOLDED_METERS`. */
  meters: number;
}

/** What is left of the meter column: the way to unfold it. */
export const FOLDED_METERS = 20;
const METERS = 236;

/** Shape's editors need more room below the programme view. */
const STANDARD: Record<StageName, StageSizes> = {
  intake: { upper: 58, meters: METERS },
  inspect: { upper: 50, meters: METERS },
  repair: { upper: 40, meters: METERS },
  shape: { upper: 32, meters: METERS },
  sequence: { upper: 58, meters: METERS },
  deliver: { upper: 56, meters: METERS },
};

export const usePanelSizes = create<{ sizes: Partial<Record<StageName, Partial<StageSizes>>> }>()(
  persist(() => ({ sizes: {} }), { name: "resonum-panels", version: 1 }),
);

export const sizesOf = (stage: StageName): StageSizes => ({
  ...STANDARD[stage],
  ...usePanelSizes.getState().sizes[stage],
});

export function keepSizes(stage: StageName, change: Partial<StageSizes>): void {
  usePanelSizes.setState(({ sizes }) => ({ sizes: { ...sizes, [stage]: { ...sizes[stage], ...change } } }));
}

/** The panels as they stand on the page. */
export const panelHandles: Record<PanelName, { current: PanelImperativeHandle | null }> = {
  upper: { current: null },
  lower: { current: null },
  meters: { current: null },
};

/** What a panel is folded to. */
const FOLDED: Record<PanelName, Partial<StageSizes>> = {
  upper: { upper: 0 },
  lower: { upper: 100 },
  meters: { meters: FOLDED_METERS },
};

/** Sizes before a panel was folded, by stage and panel. */
const beforeFold = new Map<string, StageSizes>();

/** Folds a panel, or unfolds it to the size that it had. @returns whether the stage has it */
export function togglePanel(panel: PanelName, stage: StageName): boolean {
  const { current: handle } = panelHandles[panel];
  if (!handle) return false;
  const key = `${stage} ${panel}`;
  if (handle.isCollapsed()) {
    const { upper, meters } = beforeFold.get(key) ?? STANDARD[stage];
    keepSizes(stage, panel === "meters" ? { meters } : { upper });
  } else {
    beforeFold.set(key, sizesOf(stage));
    keepSizes(stage, FOLDED[panel]);
  }
  // The others stay as they stand: how they were just resized may not have been told yet.
  if (panel === "meters") restoreMeters(stage);
  else restoreUpper(stage);
  return true;
}

const restoreUpper = (stage: StageName): void => panelHandles.upper.current?.resize(`${sizesOf(stage).upper}%`);
const restoreMeters = (stage: StageName): void => panelHandles.meters.current?.resize(sizesOf(stage).meters);

/** Puts the panels as they were left in a stage. */
export function restoreSizes(stage: StageName): void {
  restoreUpper(stage);
  restoreMeters(stage);
}
