"use client";

import { formatDb } from "@core/audio/format";
import { marginWords } from "@core/delivery/compliance";
import { ANCHORS } from "@core/delivery/spec";
import { useJobProgress } from "@ui/api/server-events";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { ProgressBar, queueLabel, timeLeft } from "@ui/design-system/progress-bar";
import { useCurrentItem } from "@ui/state/current-item";
import { approvalOf, approvalState } from "@core/review/approval";
import { PROGRAMME_ID } from "@core/project/document";
import type { Cell } from "@core/project/board";
import { isBusy } from "./use-render";

interface BoardCellProps {
  cell: Cell;
  chosen: boolean;
  /** One line: the words stand in the tooltip, but for what is wrong. */
  dense: boolean;
  onChoose: () => void;
}

/** An item with a deliverable: its level, its margin, and how that is known. */
export function BoardCell({ cell, chosen, dense, onChoose }: BoardCellProps) {
  const { verdict, prediction, verified, master, spec } = cell;
  const busy = isBusy(cell);
  const figures = verified ? master!.result!.figures : prediction?.figures;
  const { figure } = ANCHORS[spec.anchor];
  const loudness = spec.limits.find((limit) => limit.figure === figure && limit.scope !== "album");
  const level = figures ? (figures[figure] ?? null) : NaN;
  const words = <CellWords cell={cell} />;
  return (
    <td className={`border-l border-hair p-0 ${chosen ? "outline-2 -outline-offset-2 outline-act bg-act-ground" : ""}`}>
      <button
        type="button"
        onClick={onChoose}
        className="block w-full px-3 py-0.5 text-left"
        data-testid={`cell-${cell.item.id}-${spec.id}`}
        data-state={verified ? "verified" : busy ? "busy" : "predicted"}
        title={dense || cell.problem ? knownWords(cell) : undefined}
      >
        <span className="flex items-center gap-2">
          <ComplianceMark status={verdict?.status ?? "unknown"} />
          <span className="figure">{formatDb(level)}</span>
          <MarginGauge figure={figure} limit={loudness} value={Number.isNaN(level) ? null : level} width={58} />
          {dense && (busy || master?.state === "failed" || trouble(cell)) ? (
            <span className="min-w-0 flex-1 truncate text-label text-soft">
              {busy ? words : (trouble(cell) ?? words)}
            </span>
          ) : (
            <span className="figure text-label whitespace-nowrap text-soft">
              {formatDb(figures ? (figures.truePeakDbtp ?? null) : NaN)} TP
            </span>
          )}
        </span>
        {!dense && <span className="block truncate text-label text-soft">{words}</span>}
      </button>
    </td>
  );
}

/** How what stands in a cell is known. */
function knownWords({ verified, retags, prediction, leftOut, problem, deliverable, item, master }: Cell): string {
  if (problem) return problem;
  if (master?.state === "failed") return `failed: ${master.problem}`;
  if (verified) return "verified on the file";
  if (retags) return "only tags changed";
  if (prediction) return leftOut ? `estimate without ${leftOut}` : "predicted";
  if (!deliverable.programme) return "not read yet";
  return item.id === PROGRAMME_ID ? "not measured yet" : "not rendered yet";
}

/** The limit or demand that is missed, or nearly; nothing where all is well. */
function trouble({ verdict }: Cell) {
  const unmet = verdict?.fileRequirements.find(({ met }) => !met);
  if (unmet)
    return (
      <span className="text-outside">
        {unmet.what.toLowerCase()}: {unmet.value}
      </span>
    );
  const worst = verdict?.limits.reduce<(typeof verdict.limits)[number] | undefined>(
    (a, b) => ((b.margin ?? Infinity) < (a?.margin ?? Infinity) ? b : a),
    undefined,
  );
  if (!worst || worst.status === "pass") return null;
  return <span className={statusColour(worst.status)}>{marginWords(worst.limit, worst.value)}</span>;
}

/** What a reviewer decided, and whether that was about this file. */
function DecisionWords({ cell: { item, deliverable, verified, master } }: { cell: Cell }) {
  const { approvals } = useCurrentItem().view;
  const approval = approvalOf(approvals, item.id, deliverable.id);
  const state = approvalState(approval, verified ? master!.file_hash : null);
  if (!approval || !state) return null;
  const ink = state === "approved" ? "text-inside" : state === "sent back" ? "text-outside" : "text-close";
  const title = `SHA-256 ${approval.file_hash}${approval.words ? `: “${approval.words}”` : ""}`;
  return (
    <span className={ink} title={title}>
      {" · "}
      {state} by {approval.name}
    </span>
  );
}

function CellWords({ cell }: { cell: Cell }) {
  const { master } = cell;
  const progress = useJobProgress((state) => (master ? state.progress[master.id] : undefined));
  const { view } = useCurrentItem();
  if (isBusy(cell)) {
    const job = view.jobs.find(({ subject }) => subject === master?.id);
    return (
      <>
        <ProgressBar fraction={progress?.fraction ?? 0} label={`Rendering ${cell.item.name}`} />
        {progress ? [progress.stage, timeLeft(progress.secondsLeft)].filter(Boolean).join(", ") : queueLabel(job)}
      </>
    );
  }
  if (cell.problem || master?.state === "failed") return <span className="text-outside">{knownWords(cell)}</span>;
  const wrong = trouble(cell);
  return (
    <>
      {knownWords(cell)}
      {wrong && <> · {wrong}</>}
      <DecisionWords cell={cell} />
    </>
  );
}
