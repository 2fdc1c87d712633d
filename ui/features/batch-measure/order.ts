import { FIGURE_COLUMNS } from "@core/report/columns";
import { entryStanding, type EntryStanding } from "@core/report/entry";
import type { BatchRow } from "./batch";

export interface Order {
  column: string;
  descending: boolean;
}

export interface Filter {
  words: string;
  /** Only what fails, has faults, or cannot be read. */
  onlyFailing: boolean;
}

const RANK: Record<EntryStanding, number> = { unreadable: 0, fails: 1, faults: 2, measured: 3, passes: 4 };

/** What a row is ordered by: numbers and texts; rows without it come last in either direction. */
function keyOf(row: BatchRow, column: string): number | string | null {
  if (column === "name") return row.name.toLowerCase();
  if (column === "standing") return row.state === "done" || row.state === "failed" ? RANK[entryStanding(row)] : null;
  if (row.figures === null) return null;
  if (column === "durationSeconds") return row.figures.durationSeconds;
  if (column === "findings") return row.findings.length;
  return FIGURE_COLUMNS.find(({ id }) => id === column)?.value(row.figures) ?? null;
}

/** The rows that are shown, in their order. Rows that are equal keep the order in which they came. */
export function shownRows(rows: readonly BatchRow[], { words, onlyFailing }: Filter, order: Order): BatchRow[] {
  const wanted = words.trim().toLowerCase();
  const kept = rows.filter((row) => {
    if (wanted !== "" && !row.name.toLowerCase().includes(wanted)) return false;
    if (!onlyFailing) return true;
    return row.state === "failed" || (row.state === "done" && RANK[entryStanding(row)] < RANK.measured);
  });
  const keyed = kept.map((row) => ({ row, key: keyOf(row, order.column) }));
  const sign = order.descending ? -1 : 1;
  keyed.sort((a, b) => {
    if (a.key === null || b.key === null) return Number(a.key === null) - Number(b.key === null);
    if (a.key === b.key) return a.row.key - b.row.key;
    return a.key < b.key ? -sign : sign;
  });
  return keyed.map(({ row }) => row);
}
