import { formatDb } from "../signal/format";
import { LIMITED_FIGURES, type DeliverySpec, type Limit, type LimitedFigure } from "./spec";

export type Standing = "inside" | "close" | "outside" | "unknown";

/** One limit of a spec against one measured value. */
export interface LimitVerdict {
  limit: Limit;
  value: number | null;
  /** Signed distance to the nearest limit; + is inside. */
  margin: number | null;
  standing: Standing;
}

export interface Verdict {
  specId: string;
  /** Whether every hard limit is met. */
  pass: boolean;
  standing: Standing;
  limits: LimitVerdict[];
}

export type LimitedFigures = Partial<Record<LimitedFigure, number | null>>;

/** Distance from `value` to the nearer end of the permitted range, + inside. */
export function marginOf(limit: Pick<Limit, "min" | "max">, value: number): number {
  return Math.min(
    limit.max === undefined ? Infinity : limit.max - value,
    limit.min === undefined ? Infinity : value - limit.min,
  );
}

/** One limit against one value; `undefined` was not measured, `null` is silence. */
export function judge(limit: Limit, value: number | null | undefined): LimitVerdict {
  if (value === undefined) return { limit, value: null, margin: null, standing: "unknown" };
  if (value === null) {
    // Silence is −∞: under every maximum, and under every minimum too.
    const standing = limit.min === undefined ? "inside" : "outside";
    return { limit, value, margin: null, standing };
  }
  const margin = marginOf(limit, value);
  return { limit, value, margin, standing: margin < 0 ? "outside" : margin < limit.close ? "close" : "inside" };
}

const RANK: Record<Standing, number> = { inside: 0, unknown: 1, close: 2, outside: 3 };

export const worst = (standings: readonly Standing[]): Standing =>
  standings.reduce((a, b) => (RANK[b] > RANK[a] ? b : a), "inside" as Standing);

/** Holds figures against every limit of a spec. */
export function check(spec: DeliverySpec, figures: LimitedFigures): Verdict {
  const limits = spec.limits.map((limit) => judge(limit, figures[limit.figure]));
  const hard = limits.filter(({ limit }) => limit.hard);
  return {
    specId: spec.id,
    pass: hard.every(({ standing }) => standing === "inside" || standing === "close"),
    standing: worst([
      ...hard.map(({ standing }) => standing),
      ...limits.filter(({ limit, standing }) => !limit.hard && standing === "outside").map(() => "close" as const),
    ]),
    limits,
  };
}

/** "0.4 dB to spare", "1.1 LU over", "2.0 LU under". */
export function marginWords(limit: Limit | undefined, value: number | null): string {
  if (!limit) return "no limit";
  if (value === null) return limit.min === undefined ? "silent" : "silent, too low";
  const margin = marginOf(limit, value);
  const unit = LIMITED_FIGURES[limit.figure].marginUnit;
  if (margin >= 0) return `${formatDb(margin)} ${unit} to spare`;
  const over = limit.max !== undefined && value > limit.max;
  // A miss is never rounded away: below a tenth, two digits are told.
  return `${formatDb(-margin, { digits: margin > -0.1 ? 2 : 1 })} ${unit} ${over ? "over" : "under"}`;
}
