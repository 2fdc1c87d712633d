/** What the workspace has in hand and no document keeps: which item, which stretch, what is being heard. */
import { create } from "zustand";
import type { ChainEntry } from "@core/process";
import type { Heard } from "@audio/player";

export const STAGES = ["intake", "inspect", "repair", "shape", "sequence", "deliver"] as const;
export type StageName = (typeof STAGES)[number];

export const INSPECT_VIEWS = [
  "figures",
  "findings",
  "loudness",
  "spectrum",
  "channels",
  "directions",
  "compare",
] as const;
export type InspectView = (typeof INSPECT_VIEWS)[number];

/** A stretch of the item, in seconds. */
export interface Stretch {
  start: number;
  end: number;
}

interface Desk {
  stage: StageName;
  /** What the stage Inspect shows. */
  inspect: InspectView;
  item: string | null;
  /** The window on the item; `null` shows the whole. */
  view: Stretch | null;
  selection: Stretch | null;
  /** Where the playhead was put, in seconds of the item. */
  cursor: number;
  heard: Heard;
  matched: boolean;
  looping: boolean;
  /** The waveform is drawn taller by this; dB. */
  tallerDb: number;
  /** A setting that is being moved: heard and predicted, not kept yet. */
  moving: { entry: string; parameter: string; setting: number } | null;
  dialog: "history" | "commands" | null;
}

const fresh = { view: null, selection: null, cursor: 0, moving: null };

export const useDesk = create<Desk>(() => ({
  stage: "intake",
  inspect: "figures",
  item: null,
  heard: "now",
  matched: true,
  looping: false,
  tallerDb: 0,
  dialog: null,
  ...fresh,
}));

/** Takes another item in hand. */
export const takeItem = (item: string): void => {
  if (useDesk.getState().item !== item) useDesk.setState({ item, ...fresh });
};

export const goToStage = (stage: StageName): void => useDesk.setState({ stage });

/** The chain with the setting that is being moved. */
export function chainInHand(chain: ChainEntry[], moving: Desk["moving"]): ChainEntry[] {
  if (!moving) return chain;
  return chain.map((entry) => (entry.id === moving.entry ? { ...entry, [moving.parameter]: moving.setting } : entry));
}
