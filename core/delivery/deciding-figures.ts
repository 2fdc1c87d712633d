/** Which figures decide whether a delivery is inside its spec, in the order in which a person needs them. */
import { check, worstStatus, type ComplianceStatus, type LimitedFigures, type LimitVerdict } from "./compliance";
import type { DeliverySpec, LimitedFigure } from "./spec";

export interface DecidingFigure {
  figure: LimitedFigure;
  /** Against the limit that is missed furthest; `null` where the spec sets none. */
  verdict: LimitVerdict | null;
}

/** What is told besides, where a spec limits less. */
const ALSO_TOLD: readonly LimitedFigure[] = [
  "integratedLufs",
  "truePeakDbtp",
  "shortTermMaxLufs",
  "loudnessRangeLu",
  "noiseFloorDbfs",
];

/** Rank of a verdict: hard limits that fail, advisory ones that do, what is close, and all else. */
function rankOf({ status, limit }: LimitVerdict): number {
  if (status === "fail") return limit.required ? 0 : 1;
  return status === "marginal" ? 2 : 3;
}

/** Figures that the spec limits, those that fail first; then what is told of any sound. Each once. */
export function decidingFigures(spec: DeliverySpec | null, figures: LimitedFigures): DecidingFigure[] {
  const worst = new Map<LimitedFigure, LimitVerdict>();
  for (const verdict of spec ? check(spec, figures).limits : []) {
    const known = worst.get(verdict.limit.figure);
    if (!known || rankOf(verdict) < rankOf(known)) worst.set(verdict.limit.figure, verdict);
  }
  const limited = [...worst.values()].sort((a, b) => rankOf(a) - rankOf(b));
  return [
    ...limited.map((verdict): DecidingFigure => ({ figure: verdict.limit.figure, verdict })),
    ...ALSO_TOLD.filter((figure) => !worst.has(figure)).map((figure) => ({ figure, verdict: null })),
  ];
}

/** The worst of some, for a mark on what is not shown. */
export const worstOf = (figures: readonly DecidingFigure[]): ComplianceStatus =>
  worstStatus(figures.flatMap(({ verdict }) => verdict?.status ?? []));
