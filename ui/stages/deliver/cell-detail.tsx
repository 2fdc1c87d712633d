"use client";

import { Download, ShieldCheck } from "lucide-react";
import { toast } from "sonner";
import { formatBytes, formatDb } from "@core/signal/format";
import { LIMITED_FIGURES } from "@core/spec/spec";
import { marginWords } from "@core/spec/verdict";
import { api } from "@ui/shared/api";
import { Button } from "@ui/shared/button";
import { Figure } from "@ui/shared/figure";
import { MarginGauge } from "@ui/shared/margin-gauge";
import { ProgressBar, timeLeft } from "@ui/shared/progress-bar";
import { useProgress } from "@ui/shared/server-events";
import { StandingMark, standingColour } from "@ui/shared/standing-mark";
import type { Cell } from "./board-model";
import { useProof } from "./use-proof";

/** One cell of the board in full: its limits, what is done to reach them, its file; and the queue beside it. */
export function CellDetail({ cell, cells, onRender }: { cell: Cell; cells: Cell[]; onRender: () => void }) {
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1.5fr)_minmax(260px,1fr)] divide-x divide-hair border-t border-hair">
      <Limits cell={cell} onRender={onRender} />
      <Queue cells={cells} />
    </div>
  );
}

function Limits({ cell, onRender }: { cell: Cell; onRender: () => void }) {
  const { verdict, spec, item, verified, master, prediction, source } = cell;
  const busy = master?.state === "waiting" || master?.state === "rendering";
  return (
    <section className="overflow-y-auto px-4 py-2" data-testid="cell-detail">
      <header className="flex items-center gap-2 border-b border-hair pb-1.5">
        <h2 className="truncate font-semibold" title={item.name}>
          “{item.name}” for {spec.name}
        </h2>
        <span className="ml-auto text-label whitespace-nowrap text-soft">
          {verified ? "measured on the rendered file" : "predicted, not yet rendered"}
        </span>
        {!verified && (
          <Button onClick={onRender} disabled={busy || source?.state !== "ready"}>
            Render
          </Button>
        )}
      </header>
      {verdict ? (
        <table className="w-full">
          <tbody>
            {verdict.limits.map(({ limit, value, standing }) => (
              <tr key={limit.figure} className="h-[25px] border-b border-grid" title={limit.clause}>
                <td className="w-5">
                  <StandingMark standing={standing} />
                </td>
                <th scope="row" className="text-left font-normal">
                  {LIMITED_FIGURES[limit.figure].label}
                  {!limit.hard && <span className="text-soft"> (advice)</span>}
                </th>
                <td className="text-right">
                  <Figure level={value} unit={LIMITED_FIGURES[limit.figure].unit} digits={verified ? 2 : 1} />
                </td>
                <td className="w-24 pl-2">
                  <MarginGauge figure={limit.figure} limit={limit} value={value} width={84} />
                </td>
                <td className={`pl-2 text-label whitespace-nowrap ${standingColour(standing)}`}>
                  {marginWords(limit, value)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="py-2 text-soft">{source?.problem ?? "The recording is still being read."}</p>
      )}
      <p className="pt-1.5 text-label text-soft">{verified ? doneWords(cell) : prediction ? plannedWords(cell) : ""}</p>
      {verified &&
        master?.result?.warnings.map((warning) => (
          <p key={warning} className="text-label text-close">
            {warning}
          </p>
        ))}
      {verified && <FileLine cell={cell} />}
    </section>
  );
}

function plannedWords({ prediction, spec }: Cell): string {
  if (!prediction) return "";
  const gain = `gain ${formatDb(prediction.gainDb, { sign: true })} dB after the chain`;
  return prediction.limitingDb > 0
    ? `Will be: ${gain}, then the limiter at ${formatDb(spec.ceilingDbtp)} dBTP, which cuts up to ${formatDb(prediction.limitingDb)} dB.`
    : `Will be: ${gain}; no limiting needed.`;
}

function doneWords({ master }: Cell): string {
  const result = master!.result!;
  const limiting =
    result.limiterCeilingDbtp === null
      ? "no limiting"
      : `limiter at ${formatDb(result.limiterCeilingDbtp, { digits: 2 })} dBTP, cutting up to ${formatDb(result.limitingDb)} dB`;
  return `Done: gain ${formatDb(result.gainDb, { sign: true, digits: 2 })} dB, ${limiting}; ${result.attempts} ${result.attempts === 1 ? "pass" : "passes"}${result.dithered ? "; TPDF dither" : ""}.`;
}

function FileLine({ cell }: { cell: Cell }) {
  const { master, source } = cell;
  const proof = useProof();
  if (!master?.file_hash || !source) return null;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      <a
        href={`/api/masters/${master.id}/file`}
        download
        className="inline-flex h-7 items-center gap-1.5 rounded-[4px] bg-act px-2.5 text-on-act hover:opacity-90"
      >
        <Download size={14} /> Download WAV · {formatBytes(master.file_bytes ?? 0)}
      </a>
      <Button
        onClick={() => proof.start(master, source)}
        disabled={proof.state.status === "running"}
        hint="Renders it once more, here in the browser by the same core, and compares the bytes with the server's file"
      >
        <ShieldCheck size={14} /> Prove the bytes
      </Button>
      <span className="text-label" role="status">
        {proof.state.status === "running" && `rendering here, ${Math.round(proof.state.fraction * 100)} %`}
        {proof.state.status === "same" && (
          <span className="text-inside">● the same bytes in the browser and on the server</span>
        )}
        {proof.state.status === "different" && (
          <span className="text-outside">▲ the bytes differ: please keep both files and report it</span>
        )}
        {proof.state.status === "failed" && <span className="text-outside">{proof.state.message}</span>}
      </span>
      <span className="figure block w-full truncate text-label text-soft" title={master.file_hash}>
        SHA-256 {master.file_hash}
      </span>
    </div>
  );
}

function Queue({ cells }: { cells: Cell[] }) {
  const busy = cells.filter(({ master }) => master?.state === "waiting" || master?.state === "rendering");
  const done = cells
    .filter(({ master }) => master?.state === "done")
    .sort((a, b) => (b.master!.finished_at ?? "").localeCompare(a.master!.finished_at ?? ""));
  return (
    <section className="overflow-y-auto px-4 py-2">
      <h2 className="flex justify-between border-b border-hair pb-1.5 font-semibold">
        Rendering{" "}
        <span className="font-normal text-soft">{busy.length ? `${busy.length} to go` : "nothing under way"}</span>
      </h2>
      {busy.map((cell) => (
        <QueueRow key={cell.master!.id} cell={cell} />
      ))}
      {done.slice(0, 12).map(({ master, item, spec, verdict }) => (
        <div key={master!.id} className="flex h-[26px] items-center gap-2 border-b border-grid">
          <StandingMark standing={verdict?.standing ?? "unknown"} />
          <span className="truncate">
            {item.name} · {spec.name}
          </span>
          <a href={`/api/masters/${master!.id}/file`} download className="ml-auto text-act hover:underline">
            file
          </a>
        </div>
      ))}
      {busy.length + done.length === 0 && (
        <p className="py-2 text-soft">Masters that are rendered appear here, with their files.</p>
      )}
    </section>
  );
}

function QueueRow({ cell }: { cell: Cell }) {
  const master = cell.master!;
  const progress = useProgress((state) => state.progress[master.id]);
  const stop = () =>
    void api(`masters/${master.id}`, { method: "DELETE" }).catch((error: unknown) =>
      toast.error("It could not be stopped", { description: error instanceof Error ? error.message : String(error) }),
    );
  return (
    <div className="grid h-[26px] grid-cols-[minmax(0,1fr)_80px_auto_auto] items-center gap-2 border-b border-grid">
      <span className="truncate">
        {cell.item.name} · {cell.spec.name}
      </span>
      <ProgressBar fraction={progress?.fraction ?? 0} label={`Rendering ${cell.item.name}`} />
      <span className="text-label text-soft">
        {progress ? timeLeft(progress.secondsLeft) || progress.stage : "waiting"}
      </span>
      <button type="button" onClick={stop} className="text-act hover:underline">
        stop
      </button>
    </div>
  );
}
