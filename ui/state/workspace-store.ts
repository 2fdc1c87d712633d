/** What the workspace has in hand and no document keeps: which item, which stretch, what is being heard. */
import { create } from "zustand";
import type { ChainEntry } from "@core/processors";
import type { Setting } from "@core/parameters/parameter";
import type { RepairStep } from "@core/repair";
import type { Band } from "@core/dsp/butterworth";
import { MONITOR_ALL, type MonitorSettings } from "@core/monitoring/monitor-matrix";
import type { Region } from "@ui/state/selection-region";
import type { BlindTest } from "./blind-test";
import type { Heard, Slot } from "./monitor-source";

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

export const REPAIR_VIEWS = ["proposals", "lists", "time", "convert"] as const;
export type RepairView = (typeof REPAIR_VIEWS)[number];

/** A stretch of the item, in seconds. */
export interface Stretch {
  start: number;
  end: number;
}

/** What a drag in the programme view selects. */
export const SELECT_TOOLS = ["time", "box", "freehand"] as const;
export type SelectTool = (typeof SELECT_TOOLS)[number];

export type Dialog = "history" | "commands" | "keys" | "markers" | "compare" | "record" | "listen";

export interface Desk {
  stage: StageName;
  /** What the stage Inspect shows. */
  inspect: InspectView;
  /** What the stage Repair shows while no step is in hand. */
  repair: RepairView;
  item: string | null;
  /** The window on the item; `null` shows the whole. */
  view: Stretch | null;
  /** The selection made last: what is measured, looped, cut. */
  selection: Region | null;
  /** Further ones. */
  others: Region[];
  tool: SelectTool;
  /** A drag selects only the channel that it begins in. */
  oneChannel: boolean;
  /** Where the playhead was put, in seconds of the item. */
  cursor: number;
  heard: Heard;
  /** Repairs that are tried: heard after the item's own, not kept. */
  trial: RepairStep[];
  /** The repair or processor that "before this step" and "only what is removed" are about; `null` for all of them. */
  step: string | null;
  /** Hash of the recording to compare with. */
  reference: string | null;
  slots: [Slot | null, Slot | null];
  blind: BlindTest | null;
  matched: boolean;
  looping: boolean;
  /** Seconds heard before and after a loop, and around a cut. */
  rolls: { before: number; after: number };
  /** Only the selection's band is heard. */
  bandOnly: boolean;
  /** Only this band is heard, of a processor that is looked at. */
  soloBand: Band | null;
  /** All processors are passed over, whatever the project says: to open one that does harm. */
  withoutChain: boolean;
  /** What of the chain is made ahead: what is too heavy, nothing, or all up to a processor. */
  freeze: "auto" | "none" | { upTo: string };
  speed: number;
  monitor: MonitorSettings;
  /** The waveform is drawn taller by this; dB. */
  tallerDb: number;
  /** A setting that is being moved: heard and predicted, not kept yet. */
  moving: { entry: string; parameter: string; setting: Setting } | null;
  /** Whether the picture of a video is shown beside its sound. */
  picture: boolean;
  dialog: Dialog | null;
}

const fresh = {
  view: null,
  selection: null,
  others: [],
  cursor: 0,
  moving: null,
  step: null,
  trial: [],
  soloBand: null,
  // A processor of another item would be meant.
  freeze: "auto" as Desk["freeze"],
};

export const useDesk = create<Desk>(() => ({
  stage: "intake",
  inspect: "figures",
  repair: "proposals",
  item: null,
  tool: "time",
  oneChannel: false,
  heard: "now",
  reference: null,
  slots: [null, null],
  blind: null,
  matched: true,
  looping: false,
  rolls: { before: 0, after: 0 },
  bandOnly: false,
  withoutChain: false,
  speed: 1,
  monitor: MONITOR_ALL,
  tallerDb: 0,
  picture: true,
  dialog: null,
  ...fresh,
}));

/** Takes another item in hand. */
export const takeItem = (item: string): void => {
  const desk = useDesk.getState();
  if (desk.item !== item) useDesk.setState({ item, ...fresh, monitor: MONITOR_ALL });
};

export const goToStage = (stage: StageName): void => useDesk.setState({ stage });

/** The chain with the setting that is being moved. */
export function chainInHand(chain: ChainEntry[], moving: Desk["moving"]): ChainEntry[] {
  if (!moving) return chain;
  return chain.map((entry) => (entry.id === moving.entry ? { ...entry, [moving.parameter]: moving.setting } : entry));
}
