/** Which lanes are drawn, in which order, how tall and how; kept in the browser, for all projects. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { SpectrogramKind } from "@core/spectrogram/spectrogram";
import type { FrequencyScale } from "@core/spectrogram/frequency-rows";
import { BLOCK_SAMPLES, type TimeFormat } from "@core/audio/timecode";
import type { PaletteName } from "../canvas/scales";

export const LANE_IDS = [
  "waveform",
  "tone",
  "spectrogram",
  "constant-q",
  "loudness",
  "correlation",
  "reduction",
] as const;
export type LaneId = (typeof LANE_IDS)[number];

export const LANE_LABELS: Record<LaneId, { name: string; help: string }> = {
  waveform: { name: "Waveform", help: "Peak and RMS of each channel; single samples when close" },
  tone: { name: "Waveform by tone", help: "The waveform in the colour of what it is made of: dull to bright" },
  spectrogram: { name: "Spectrogram", help: "Energy over time and frequency" },
  "constant-q": { name: "Constant Q", help: "Fine in time above, fine in frequency below" },
  loudness: { name: "Loudness", help: "Momentary and short-term, with the limits in force" },
  correlation: { name: "Correlation", help: "Of the sides, or of the pair most opposed, over time" },
  reduction: { name: "Gain reduction", help: "What the chain's limiters take off, estimated from 100 ms peaks" },
};

export interface Lane {
  id: LaneId;
  on: boolean;
  /** Share of the height, against the other lanes. */
  weight: number;
}

export interface SpectrogramLook {
  kind: Exclude<SpectrogramKind, "constant-q">;
  points: number;
  /** Windows that lie over each point, when close: 2 is 50 % overlap, 8 is 87.5 %. */
  overlap: 2 | 4 | 8 | 16;
  scale: FrequencyScale;
  lowHertz: number;
  /** Above half the rate it ends there. */
  highHertz: number;
  /** Levels of the darkest and of the lightest. */
  lowDb: number;
  highDb: number;
  palette: PaletteName;
  /** The channel that is shown; `null` for the mean of all. A recording with fewer shows the mean. */
  channel: number | null;
}

export interface LaneSettings {
  lanes: Lane[];
  picture: SpectrogramLook;
  /** Of the waveform laid over the spectrogram, 0 … 1; 0 leaves it out. */
  overlay: number;
  /** Of the RMS body in the waveform. */
  body: number;
  /** One row of all channels instead of one each. */
  folded: boolean;
  ruler: "db" | "linear";
  timeFormat: TimeFormat;
  /** Told beside it where the playhead is; `null` for none. */
  secondTimeFormat: TimeFormat | null;
  /** Samples of a block, where times are told in blocks. */
  blockSamples: number;
  showGrid: boolean;
  snap: { grid: boolean; markers: boolean; zero: boolean };
  /** Selections begin and end on the grid. */
  quantised: boolean;
}

const STANDARD: LaneSettings = {
  lanes: [
    { id: "waveform", on: true, weight: 6 },
    { id: "tone", on: false, weight: 3 },
    { id: "spectrogram", on: false, weight: 5 },
    { id: "constant-q", on: false, weight: 5 },
    { id: "loudness", on: true, weight: 2.4 },
    { id: "correlation", on: false, weight: 1.4 },
    { id: "reduction", on: false, weight: 1.4 },
  ],
  picture: {
    kind: "spectrogram",
    points: 2048,
    overlap: 4,
    scale: "log",
    lowHertz: 40,
    highHertz: 20_000,
    lowDb: -105,
    highDb: -6,
    palette: "energy",
    channel: null,
  },
  overlay: 0,
  body: 1,
  folded: false,
  ruler: "db",
  timeFormat: "clock",
  secondTimeFormat: null,
  blockSamples: BLOCK_SAMPLES,
  showGrid: false,
  snap: { grid: false, markers: true, zero: false },
  quantised: false,
};

export const useLanes = create<LaneSettings>()(
  persist(() => STANDARD, {
    name: "resonum-lanes",
    version: 1,
    // Lanes that came with a newer version are added at the end.
    merge: (kept, standard) => {
      const settings = { ...standard, ...(kept as Partial<LaneSettings>) };
      const known = settings.lanes.filter(({ id }) => LANE_IDS.includes(id));
      const missing = standard.lanes.filter(({ id }) => !known.some((lane) => lane.id === id));
      return { ...settings, lanes: [...known, ...missing] };
    },
  }),
);

function changeLanes(change: (lanes: Lane[]) => Lane[]): void {
  useLanes.setState(({ lanes }) => ({ lanes: change(lanes) }));
}

export const switchLane = (id: LaneId, on?: boolean): void =>
  changeLanes((lanes) => lanes.map((lane) => (lane.id === id ? { ...lane, on: on ?? !lane.on } : lane)));

/** Moves a lane by places up (below 0) or down. */
export const moveLane = (id: LaneId, by: number): void =>
  changeLanes((lanes) => {
    const from = lanes.findIndex((lane) => lane.id === id);
    const to = Math.max(0, Math.min(lanes.length - 1, from + by));
    const moved = lanes.filter((lane) => lane.id !== id);
    moved.splice(to, 0, lanes[from]!);
    return moved;
  });

const LEAST_WEIGHT = 0.5;

/** Gives a share of the height from one lane to the one above it, or back. */
export const resizeLanes = (above: LaneId, below: LaneId, weight: number): void =>
  changeLanes((lanes) => {
    const of = (id: LaneId) => lanes.find((lane) => lane.id === id)!.weight;
    const moved = Math.max(LEAST_WEIGHT - of(above), Math.min(of(below) - LEAST_WEIGHT, weight));
    return lanes.map((lane) =>
      lane.id === above
        ? { ...lane, weight: lane.weight + moved }
        : lane.id === below
          ? { ...lane, weight: lane.weight - moved }
          : lane,
    );
  });

export function setSpectrogram(change: Partial<SpectrogramLook>): void {
  useLanes.setState(({ picture }) => ({ picture: { ...picture, ...change } }));
}
