/** Where in time a limit is broken. */
import type { Curves } from "../measure";
import type { TimeSeries } from "../measure/measurement";
import type { Seconds } from "../audio/units";
import type { DeliverySpec, LimitedFigure } from "./spec";

export interface LimitViolation {
  figure: LimitedFigure;
  startSeconds: Seconds;
  endSeconds: Seconds;
  /** The highest of it. */
  worst: number;
}

const MOST_PLACES = 200;
const CURVES = {
  shortTermMaxLufs: "shortTermLufs",
  momentaryMaxLufs: "momentaryLufs",
  samplePeakDbfs: "samplePeakDbfs",
} as const satisfies Partial<Record<LimitedFigure, keyof Curves>>;

function above(curve: TimeSeries, figure: LimitedFigure, limit: number): LimitViolation[] {
  const places: LimitViolation[] = [];
  let open: LimitViolation | null = null;
  curve.values.forEach((value, row) => {
    const at = Math.floor(row / curve.columns) * curve.hopSeconds;
    if (value > limit) {
      open ??= { figure, startSeconds: at, endSeconds: at, worst: value };
      open.endSeconds = at + curve.hopSeconds;
      open.worst = Math.max(open.worst, value);
      if (places.at(-1) !== open && places.length < MOST_PLACES) places.push(open);
    } else if (open && at > open.endSeconds) open = null;
  });
  return places;
}

/** The places that are above limits which hold at any time, in order of time. */
export function limitViolations(spec: DeliverySpec, curves: Curves): LimitViolation[] {
  const places = spec.limits.flatMap(({ figure, max, scope }) =>
    max !== undefined && scope !== "album" && figure in CURVES
      ? above(curves[CURVES[figure as keyof typeof CURVES]], figure, max)
      : [],
  );
  return places.sort((a, b) => a.startSeconds - b.startSeconds);
}
