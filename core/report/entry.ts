import { findingsOf } from "../findings";
import type { Finding } from "../findings/finding";
import type { Curves, Figures, Measured } from "../measure";
import type { DeliverySpec } from "../spec/spec";
import { check, type Verdict } from "../spec/verdict";

/** Curves that are drawn in reports. */
export type ReportCurves = Pick<Curves, "momentaryLufs" | "shortTermLufs" | "spectraDbfs">;

/** One recording in a report; `problem` where it could not be measured. */
export interface ReportEntry {
  name: string;
  problem: string | null;
  figures: Figures | null;
  curves: ReportCurves | null;
  verdict: Verdict | null;
  findings: Finding[];
}

export function entryOf(name: string, { figures, curves }: Measured, spec: DeliverySpec | null): ReportEntry {
  const { momentaryLufs, shortTermLufs, spectraDbfs } = curves;
  return {
    name,
    problem: null,
    figures,
    curves: { momentaryLufs, shortTermLufs, spectraDbfs },
    verdict: spec && check(spec, figures),
    findings: findingsOf(figures, spec),
  };
}

export const failedEntry = (name: string, problem: string): ReportEntry => ({
  name,
  problem,
  figures: null,
  curves: null,
  verdict: null,
  findings: [],
});

/** How an entry stands, as one word for tables. */
export type EntryStanding = "passes" | "fails" | "faults" | "measured" | "unreadable";

export function entryStanding({ problem, verdict, findings }: ReportEntry): EntryStanding {
  if (problem !== null) return "unreadable";
  if (verdict) return verdict.pass ? "passes" : "fails";
  return findings.some(({ severity }) => severity === "fault") ? "faults" : "measured";
}
