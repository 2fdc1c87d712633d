import { FIGURE_COLUMNS } from "./columns";
import { entryStanding, type ReportEntry } from "./entry";

/** Rows of a CSV of many recordings, the head first: numbers with full precision, empty for what there is not. */
export function csvRows(entries: readonly ReportEntry[]): string[][] {
  const head = [
    "name",
    "standing",
    "length s",
    "rate Hz",
    "layout",
    ...FIGURE_COLUMNS.map(({ label, unit }) => (unit ? `${label} ${unit}` : label)),
    "misses",
    "findings",
  ];
  const rows = entries.map((entry) => {
    const { name, figures, verdict, findings, problem, warnings } = entry;
    const misses = verdict?.limits.filter(({ status }) => status === "fail").map(({ limit }) => limit.figure);
    return [
      name,
      entryStanding(entry),
      figures ? String(figures.durationSeconds) : "",
      figures ? String(figures.sampleRate) : "",
      figures?.layout ?? "",
      ...FIGURE_COLUMNS.map(({ value }) => (figures ? String(value(figures) ?? "") : "")),
      misses?.join("; ") ?? "",
      problem ?? [...warnings, ...findings.map(({ title }) => title)].join("; "),
    ];
  });
  return [head, ...rows];
}
