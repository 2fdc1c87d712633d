/** What the workspace has in hand and no document keeps: which item, which stretch, what is being heard. */
import { create } from "zustand";
import type { ChainEntry } from "@core/processors";
import type { Setting } from "@core/parameters/parameter";
import type { PlacementChanges } from "@core/programme/placement";
import type { RepairStep } from "@core/repair";
import type { Band } from "@core/dsp/butterworth";
import { MONITOR_ALL, type MonitorSettings } from "@core/monitoring/monitor-matrix";
import type { SelectionRegion } from "@ui/state/selection-region";
import type { BlindTest } from "./blind-test";
import type { MonitorSourceName, CompareSlot } from "./monitor-source";

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
export interface TimeRange {
  start: number;
  end: number;
}

/** What a drag in the programme view selects. */
export const SELECT_TOOLS = ["time", "box", "freehand"] as const;
export type SelectTool = (typeof SELECT_TOOLS)[number];

export type Dialog = "history" | "commands" | "keys" | "markers" | "comments" | "compare" | "record" | "listen";

export interface WorkspaceState {
  stage: StageName;
  /** What the stage Inspect shows. */
  inspect: InspectView;
  /** What the stage Repair shows while no step is in hand. */
  repair: RepairView;
  item: string | null;
  /** The window on the item; `null` shows the whole. */
  view: TimeRange | null;
  /** The selection made last: what is measured, looped, cut. */
  selection: SelectionRegion | null;
  /** Further ones. */
  otherSelections: SelectionRegion[];
  tool: SelectTool;
  /** A drag selects only the channel that it begins in. */
  oneChannel: boolean;
  /** Where the playhead was put, in seconds of the item. */
  cursor: number;
  monitorSource: MonitorSourceName;
  /** Repairs that are tried: heard after the item's own, not kept. */
  trialRepairs: RepairStep[];
  /** The repair or processor that "before this step" and "only what is removed" are about; `null` for all of them. */
  step: string | null;
  /** Hash of the recording to compare with. */
  reference: string | null;
  slots: [CompareSlot | null, CompareSlot | null];
  blind: BlindTest | null;
  levelMatched: boolean;
  looping: boolean;
  /** Seconds heard before and after a loop, and around a cut. */
  rolls: { before: number; after: number };
  /** Only the selection's band is heard. */
  soloSelectedBand: boolean;
  /** Only this band is heard, of a processor that is looked at. */
  soloBand: Band | null;
  /** All processors are passed over, whatever the project says: to open one that does harm. */
  chainBypassed: boolean;
  /** What of the chain is made ahead: what is too heavy, nothing, or all up to a processor. */
  freeze: "auto" | "none" | { upTo: string };
  speed: number;
  monitor: MonitorSettings;
  /** The waveform is drawn taller by this; dB. */
  waveformZoomDb: number;
  /** Where the programme's playhead was put, in seconds of the programme. */
  programmeCursor: number;
  /** The reference that is heard of those at one place; `null` for the first. */
  heardReference: string | null;
  /** The lane whose chain stands in the place of the join. */
  laneInHand: string | null;
  /** Whose gain line is drawn over the map of the programme. */
  gainLineOf: { kind: "item" | "lane"; id: string } | null;
  /** Name of the mix that is heard of the programme; `null` for those in force. */
  heardMix: string | null;
  /** The window on the programme; `null` shows the whole. */
  programmeView: TimeRange | null;
  /** Seconds heard before and after a join. */
  joinRolls: { before: number; after: number };
  /** The join in hand is heard over and over. */
  loopingJoin: boolean;
  /** Places in the programme that are dragged or tried: heard and drawn, not kept yet. */
  pendingPlacements: { item: string; changes: PlacementChanges }[] | null;
  /** A setting that is being moved: heard and predicted, not kept yet. */
  pendingParameter: { entry: string; parameter: string; setting: Setting } | null;
  /** Whether the picture of a video is shown beside its sound. */
  picture: boolean;
  /** For teaching: keys and clicks are shown while they are made. */
  showsInput: boolean;
  dialog: Dialog | null;
}

const fresh = {
  view: null,
  selection: null,
  otherSelections: [],
  cursor: 0,
  pendingParameter: null,
  step: null,
  trialRepairs: [],
  soloBand: null,
  // A processor of another item would be meant.
  freeze: "auto" as WorkspaceState["freeze"],
};

export const useWorkspace = create<WorkspaceState>(() => ({
  stage: "intake",
  inspect: "figures",
  repair: "proposals",
  item: null,
  tool: "time",
  oneChannel: false,
  monitorSource: "now",
  reference: null,
  slots: [null, null],
  blind: null,
  levelMatched: true,
  looping: false,
  rolls: { before: 0, after: 0 },
  soloSelectedBand: false,
  chainBypassed: false,
  speed: 1,
  monitor: MONITOR_ALL,
  waveformZoomDb: 0,
  picture: true,
  showsInput: false,
  dialog: null,
  programmeCursor: 0,
  heardMix: null,
  heardReference: null,
  laneInHand: null,
  gainLineOf: null,
  programmeView: null,
  joinRolls: { before: 8, after: 8 },
  loopingJoin: false,
  pendingPlacements: null,
  ...fresh,
}));

/** Takes another item in hand. */
export const openItem = (item: string): void => {
  const workspace = useWorkspace.getState();
  if (workspace.item !== item) useWorkspace.setState({ item, ...fresh, monitor: MONITOR_ALL });
};

export const goToStage = (stage: StageName): void => useWorkspace.setState({ stage });

/** The chain with the setting that is being moved. */
export function chainWithPending(chain: ChainEntry[], pending: WorkspaceState["pendingParameter"]): ChainEntry[] {
  if (!pending) return chain;
  return chain.map((entry) =>
    entry.id === pending.entry ? { ...entry, [pending.parameter]: pending.setting } : entry,
  );
}
