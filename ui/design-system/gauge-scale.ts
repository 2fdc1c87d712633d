import type { Limit, LimitedFigure } from "@core/delivery/spec";

/** How far a gauge reaches where no limit says otherwise. */
const REACH: Record<LimitedFigure, readonly [low: number, high: number]> = {
  integratedLufs: [-36, -6],
  dialogueLufs: [-36, -6],
  shortTermMaxLufs: [-36, -3],
  momentaryMaxLufs: [-36, 0],
  truePeakDbtp: [-12, 3],
  samplePeakDbfs: [-12, 1],
  loudnessRangeLu: [0, 25],
  noiseFloorDbfs: [-96, -30],
  rmsDbfs: [-40, -6],
  headRoomToneSeconds: [0, 3],
  tailRoomToneSeconds: [0, 8],
  headSilenceSeconds: [0, 2],
  tailSilenceSeconds: [0, 2],
  durationSeconds: [0, 600],
};
/** A limit stands this far in from the ends of its gauge, in the figure's unit. */
const AROUND: Partial<Record<LimitedFigure, number>> = {
  integratedLufs: 5,
  dialogueLufs: 5,
  headRoomToneSeconds: 0.5,
  tailRoomToneSeconds: 1,
  shortTermMaxLufs: 8,
  momentaryMaxLufs: 8,
  truePeakDbtp: 4,
  samplePeakDbfs: 4,
  rmsDbfs: 6,
  durationSeconds: 60,
};

/** The range that a gauge draws: wide enough to show the limits and what lies around them. */
export function gaugeScale(figure: LimitedFigure, limit: Limit | undefined): { low: number; high: number } {
  const [low, high] = REACH[figure];
  const around = AROUND[figure];
  if (!limit || around === undefined) return { low, high };
  return {
    low: limit.min === undefined ? Math.min(low, (limit.max ?? high) - around) : limit.min - around,
    high: limit.max === undefined ? Math.max(high, (limit.min ?? low) + around) : limit.max + around,
  };
}
