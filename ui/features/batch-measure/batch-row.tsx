import { memo } from "react";
import { FIGURE_COLUMNS, figureWords } from "@core/report/columns";
import { entryStanding, type EntryStanding } from "@core/report/entry";
import { formatBytes, formatTime } from "@core/audio/format";
import { marginWords, type ComplianceStatus } from "@core/delivery/compliance";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import type { BatchRow } from "./batch";
import type { Order } from "./order";

export const ROW_HEIGHT = 26;

/** Figures of the table; the rest are in the exports. */
const SHOWN = FIGURE_COLUMNS.filter(({ id }) =>
  ["integratedLufs", "truePeakDbtp", "loudnessRangeLu", "shortTermMaxLufs", "rmsDbfs", "noiseFloorDbfs"].includes(id),
);
const GRID =
  "grid grid-cols-[96px_minmax(180px,1.6fr)_64px_repeat(6,minmax(84px,0.6fr))_minmax(180px,1.4fr)] gap-x-3 px-3";

const STANDINGS: Record<EntryStanding, ComplianceStatus> = {
  passes: "pass",
  measured: "pass",
  fails: "fail",
  faults: "fail",
  unreadable: "unknown",
};

export function BatchHead({ order, onOrder }: { order: Order; onOrder: (order: Order) => void }) {
  const head = (column: string, words: string, right = false, unit = "") => {
    const current = order.column === column;
    return (
      <div
        key={column}
        role="columnheader"
        aria-sort={current ? (order.descending ? "descending" : "ascending") : "none"}
        className={right ? "text-right" : ""}
      >
        <button
          type="button"
          className={`whitespace-nowrap hover:text-act ${current ? "font-semibold text-act" : ""}`}
          title={unit ? `${words}, ${unit}: order by it` : `Order by ${words}`}
          onClick={() => onOrder({ column, descending: current && !order.descending })}
        >
          {words}
          {current && (order.descending ? " ↓" : " ↑")}
        </button>
      </div>
    );
  };
  return (
    <div
      role="row"
      className={`sticky top-0 z-10 h-8 items-center border-b border-hair bg-sheet text-label text-soft ${GRID}`}
    >
      {head("standing", "standing")}
      {head("name", "recording")}
      {head("durationSeconds", "length", true)}
      {SHOWN.map(({ id, label, unit }) => head(id, label, true, unit))}
      {head("findings", "noticed")}
    </div>
  );
}

/** One recording. Drawn anew only when something of it has changed. */
export const BatchRowView = memo(function ManyRow({ row, top, index }: { row: BatchRow; top: number; index: number }) {
  const { state, name, figures, verdict, findings, warnings, problem, bytes } = row;
  const standing = entryStanding(row);
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      data-testid="many-row"
      data-state={state}
      className={`absolute inset-x-0 items-center border-b border-grid hover:bg-act-ground ${GRID}`}
      style={{ transform: `translateY(${top}px)`, height: ROW_HEIGHT }}
    >
      <span role="cell" className="flex items-center gap-1.5">
        {state === "done" || state === "failed" ? (
          <>
            <ComplianceMark status={STANDINGS[standing]} /> {standing}
          </>
        ) : (
          <span className="text-soft">{state === "measuring" ? "measuring …" : "waiting"}</span>
        )}
      </span>
      <span role="cell" className="truncate" title={`${name} · ${formatBytes(bytes)}`}>
        {name}
      </span>
      <span role="cell" className="figure text-right">
        {figures && formatTime(figures.durationSeconds)}
      </span>
      {SHOWN.map((column) => {
        const { id, value, limited } = column;
        const held = verdict?.limits.find(({ limit }) => limit.figure === limited);
        const level = figures && value(figures);
        return (
          <span
            key={id}
            role="cell"
            className={`figure text-right ${held && held.status !== "pass" ? statusColour(held.status) : ""}`}
            title={held && figures ? marginWords(held.limit, level) : undefined}
          >
            {figures && figureWords(column, figures)}
            {held?.status === "fail" && " ▲"}
            {held?.status === "marginal" && " ◆"}
          </span>
        );
      })}
      <span
        role="cell"
        className={`truncate ${problem !== null ? "text-outside" : ""}`}
        title={problem ?? [...warnings, ...findings.map(({ title, facts }) => `${title}: ${facts}`)].join("\n")}
      >
        {problem ?? [...warnings, ...findings.map(({ title }) => title)].join(" · ")}
      </span>
    </div>
  );
});
