import { type ReportDrawings, drawingsOf } from "./drawings";
import { findingsOf } from "../findings";
import type { Finding } from "../findings/finding";
import type { Figures, Measured } from "../measure";
import type { DeliverySpec } from "../delivery/spec";
import { check, type Verdict } from "../delivery/compliance";
import type { Response, WorkStep } from "./work-done";

/** One recording in a report; `problem` where it could not be measured. */
export interface ReportEntry {
  name: string;
  problem: string | null;
  figures: Figures | null;
  drawings: ReportDrawings | null;
  verdict: Verdict | null;
  findings: Finding[];
  /** What was wrong with the file, and how it was read all the same. */
  warnings: string[];
  /** What was done to it, in the order of the signal. */
  work?: WorkStep[];
  /** What its equalisers and filters do. */
  response?: Response[];
  /** What else is to be told of it, each with its name: its format, its checksum. */
  facts?: [name: string, value: string][];
}

export const entryOf = (
  name: string,
  { figures, curves }: Measured,
  spec: DeliverySpec | null,
  warnings: string[] = [],
): ReportEntry => entryOfFigures(name, figures, drawingsOf(curves), spec, warnings);

/** The same of what was measured elsewhere. */
export const entryOfFigures = (
  name: string,
  figures: Figures,
  drawings: ReportDrawings,
  spec: DeliverySpec | null,
  warnings: string[],
): ReportEntry => ({
  ...{ name, problem: null, figures, drawings },
  verdict: spec && check(spec, figures),
  findings: findingsOf(figures, spec),
  warnings,
});

export const failedEntry = (name: string, problem: string): ReportEntry => ({
  name,
  problem,
  figures: null,
  drawings: null,
  verdict: null,
  findings: [],
  warnings: [],
});

/** How an entry stands, as one word for tables. */
export type EntryStanding = "passes" | "fails" | "faults" | "measured" | "unreadable";

export function entryStanding({ problem, verdict, findings }: ReportEntry): EntryStanding {
  if (problem !== null) return "unreadable";
  if (verdict) return verdict.pass ? "passes" : "fails";
  return findings.some(({ severity }) => severity === "fault") ? "faults" : "measured";
}
