import type { Curves } from "@core/measure";
import type { TimeSeries } from "@core/measure/measurement";
import type { Limit } from "@core/delivery/spec";

export interface BrokenLimit {
  figure: "shortTermMaxLufs" | "momentaryMaxLufs";
  /** Seconds: from the beginning of the first window above the limit to the end of the last. */
  start: number;
  end: number;
  worst: number;
  limit: number;
}

const WINDOWS = { shortTermMaxLufs: 3, momentaryMaxLufs: 0.4 } as const;

function stretchesAbove(
  { values, hopSeconds }: TimeSeries,
  limit: number,
  figure: BrokenLimit["figure"],
): BrokenLimit[] {
  const found: BrokenLimit[] = [];
  let open: BrokenLimit | null = null;
  values.forEach((level, i) => {
    if (!(level > limit)) {
      open = null;
      return;
    }
    const end = (i + 1) * hopSeconds;
    if (open) {
      open.end = end;
      open.worst = Math.max(open.worst, level);
      return;
    }
    open = { figure, start: Math.max(0, end - WINDOWS[figure]), end, worst: level, limit };
    found.push(open);
  });
  return found;
}

/** Where the limits over time of a specification are broken, the worst first. */
export function brokenLimits(curves: Pick<Curves, "momentaryLufs" | "shortTermLufs">, limits: readonly Limit[]) {
  return limits
    .flatMap(({ figure, max }) => {
      if (max === undefined) return [];
      if (figure === "shortTermMaxLufs") return stretchesAbove(curves.shortTermLufs, max, figure);
      if (figure === "momentaryMaxLufs") return stretchesAbove(curves.momentaryLufs, max, figure);
      return [];
    })
    .sort((a, b) => b.worst - b.limit - (a.worst - a.limit));
}
