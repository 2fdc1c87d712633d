"use client";

import { useQueries, useQueryClient } from "@tanstack/react-query";
import { Plus, X } from "lucide-react";
import { useMemo, useState } from "react";
import { toast } from "sonner";
import type { Curves } from "@core/measure";
import { readCurves, readOverviewHeader } from "@core/files/overview-file";
import { Arrangement } from "@core/arrange/arrangement";
import { estimatedOf } from "@core/render/predict";
import { formatDb, formatRate } from "@core/signal/format";
import { specNamed } from "@core/spec";
import { httpSource } from "@audio/http-source";
import { api, blobUrl } from "@ui/shared/api";
import { Button } from "@ui/shared/button";
import { MarginGauge } from "@ui/shared/margin-gauge";
import { ProgressBar, timeLeft } from "@ui/shared/progress-bar";
import { useProgress } from "@ui/shared/server-events";
import { StandingMark, standingColour } from "@ui/shared/standing-mark";
import { takeItem } from "@ui/workspace/desk";
import { useInHand } from "@ui/workspace/in-hand";
import { projectKey } from "@ui/workspace/use-project";
import { AddDeliverable } from "./add-deliverable";
import { cellOf, toRender, type Cell, type KnownOf } from "./board-model";
import { CellDetail } from "./cell-detail";
import { marginWords } from "@core/spec/verdict";

/** Curves of all recordings of the project, so that every cell can be predicted. */
function useKnown(): KnownOf {
  const { view } = useInHand();
  const ready = view.sources.filter(({ overview_hash }) => overview_hash !== null);
  const read = useQueries({
    queries: ready.map(({ overview_hash: hash }) => ({
      queryKey: ["curves", hash],
      staleTime: Infinity,
      queryFn: async (): Promise<Curves> => {
        const bytes = await httpSource(blobUrl(hash!));
        return readCurves(bytes, await readOverviewHeader(bytes));
      },
    })),
    combine: (results) => results.map(({ data }) => data),
  });
  return useMemo(() => {
    const curves = new Map(ready.map(({ hash }, index) => [hash, read[index]]));
    return (item) => {
      const source = ready.find(({ hash }) => hash === item.source);
      const all = curves.get(item.source);
      if (!source?.figures || !all) return null;
      const { sampleRate, frames } = source.figures;
      return estimatedOf({ figures: source.figures, curves: all }, Arrangement.of(item.pieces, frames), sampleRate);
    };
    // `ready` is made anew by each rendering from the same view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [view.sources, read]);
}

export function DeliverStage() {
  const { view, edit } = useInHand();
  const client = useQueryClient();
  const known = useKnown();
  const { items, deliverables } = view.document;
  const [chosen, setChosen] = useState<{ item: string; deliverable: string } | null>(null);
  const [adding, setAdding] = useState(false);
  const rows = useMemo(
    () =>
      items.map((item) => ({ item, cells: deliverables.map((deliverable) => cellOf(view, item, deliverable, known)) })),
    [view, items, deliverables, known],
  );
  const cells = rows.flatMap((row) => row.cells);
  const waiting = toRender(cells);
  const cell =
    cells.find((one) => one.item.id === chosen?.item && one.deliverable.id === chosen.deliverable) ?? cells[0];

  const render = async (wanted: Cell[]) => {
    try {
      await api(`projects/${view.id}/masters`, {
        method: "POST",
        body: { masters: wanted.map(({ item, deliverable }) => ({ item: item.id, deliverable: deliverable.id })) },
      });
    } catch (error) {
      toast.error("Not rendered", { description: error instanceof Error ? error.message : String(error) });
    }
    await client.invalidateQueries({ queryKey: projectKey(view.id) });
  };

  const count = (standing: string) => cells.filter(({ verdict }) => verdict?.standing === standing).length;
  return (
    <div className="grid h-full grid-rows-[minmax(0,1fr)_minmax(200px,42%)]">
      <div className="min-h-0 overflow-auto px-4 py-3">
        <header className="mb-2 flex items-center gap-3">
          <h2 className="text-head">
            <b className="font-semibold">
              {items.length} {items.length === 1 ? "item" : "items"} × {deliverables.length}{" "}
              {deliverables.length === 1 ? "deliverable" : "deliverables"}
            </b>
            <span className="text-soft">
              {" "}
              — {cells.length} masters: {count("inside")} inside, {count("close")} close, {count("outside")} outside;{" "}
              {cells.filter(({ verified }) => verified).length} verified on the file
            </span>
          </h2>
          <Button className="ml-auto" onClick={() => setAdding(true)} hint="One more specification to deliver to">
            <Plus size={14} /> Deliverable
          </Button>
          <Button
            kind="main"
            disabled={waiting.length === 0}
            onClick={() => void render(waiting)}
            hint="Everything whose settings have no master yet; nothing is rendered twice"
          >
            Render what changed · {waiting.length}
          </Button>
        </header>
        {items.length === 0 || deliverables.length === 0 ? (
          <p className="py-8 text-center text-soft">
            {items.length === 0
              ? "There is nothing to deliver yet: drop a recording first."
              : "Add a deliverable: the specification that the masters must meet."}
          </p>
        ) : (
          <table className="w-full table-fixed">
            <thead>
              <tr className="border-b border-hair text-left align-top">
                <th className="w-44 pb-2 text-label font-normal text-soft">running order</th>
                {deliverables.map((deliverable) => {
                  const spec = specNamed(deliverable.spec);
                  return (
                    <th key={deliverable.id} className="border-l border-hair px-3 pb-2 font-normal">
                      <span className="flex items-center gap-1 font-semibold">
                        <span
                          className="truncate"
                          title={`${spec.name}: ${spec.help}. ${spec.source}, ${spec.edition}`}
                        >
                          {spec.name}
                        </span>
                        <button
                          type="button"
                          aria-label={`Remove deliverable ${spec.name}`}
                          title="Remove this deliverable"
                          onClick={() => void edit({ type: "removeDeliverable", deliverable: deliverable.id })}
                          className="ml-auto rounded-[4px] p-0.5 text-soft hover:text-act"
                        >
                          <X size={13} />
                        </button>
                      </span>
                      <span className="figure block text-label text-soft">
                        {spec.targetLufs === null ? "level kept" : `${formatDb(spec.targetLufs)} LUFS`} · ≤{" "}
                        {formatDb(spec.ceilingDbtp)} dBTP
                      </span>
                      <span className="block text-label text-soft">
                        WAV {deliverable.format.bits === "32f" ? "32 bit float" : `${deliverable.format.bits} bit`} ·{" "}
                        {deliverable.format.sampleRate ? formatRate(deliverable.format.sampleRate) : "rate kept"}
                      </span>
                    </th>
                  );
                })}
              </tr>
            </thead>
            <tbody>
              {rows.map(({ item, cells: row }, index) => (
                <tr key={item.id} className="border-b border-grid">
                  <th scope="row" className="text-left font-normal">
                    <button
                      type="button"
                      onClick={() => takeItem(item.id)}
                      title={item.name}
                      className="block w-full truncate text-left hover:text-act"
                    >
                      <span className="figure mr-2 text-soft">{index + 1}</span>
                      {item.name}
                    </button>
                  </th>
                  {row.map((one) => (
                    <BoardCell
                      key={one.deliverable.id}
                      cell={one}
                      chosen={one === cell}
                      onChoose={() => setChosen({ item: one.item.id, deliverable: one.deliverable.id })}
                    />
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      {cell && <CellDetail cell={cell} cells={cells} onRender={() => void render([cell])} />}
      <AddDeliverable open={adding} onClose={() => setAdding(false)} />
    </div>
  );
}

function BoardCell({ cell, chosen, onChoose }: { cell: Cell; chosen: boolean; onChoose: () => void }) {
  const { verdict, prediction, verified, master, spec } = cell;
  const progress = useProgress((state) => (master ? state.progress[master.id] : undefined));
  const busy = master?.state === "waiting" || master?.state === "rendering";
  const figures = verified ? master!.result!.figures : prediction?.figures;
  const loudness = spec.limits.find(({ figure }) => figure === "integratedLufs");
  const worstLimit = verdict?.limits.reduce((a, b) => ((b.margin ?? Infinity) < (a.margin ?? Infinity) ? b : a));
  return (
    <td className={`border-l border-hair p-0 ${chosen ? "outline-2 -outline-offset-2 outline-act bg-act-ground" : ""}`}>
      <button
        type="button"
        onClick={onChoose}
        className="block w-full px-3 py-1.5 text-left"
        data-testid={`cell-${cell.item.id}-${spec.id}`}
        data-state={verified ? "verified" : busy ? "busy" : "predicted"}
      >
        <span className="flex items-center gap-2">
          <StandingMark standing={verdict?.standing ?? "unknown"} />
          <span className="figure">{formatDb(figures ? (figures.integratedLufs ?? null) : NaN)}</span>
          <MarginGauge figure="integratedLufs" limit={loudness} value={figures?.integratedLufs ?? null} width={58} />
          <span className="figure text-label whitespace-nowrap text-soft">
            {formatDb(figures ? (figures.truePeakDbtp ?? null) : NaN)} TP
          </span>
        </span>
        <span className="block truncate text-label text-soft">
          {busy ? (
            <>
              <ProgressBar fraction={progress?.fraction ?? 0} label={`Rendering ${cell.item.name}`} />
              {progress
                ? `${progress.stage}, ${timeLeft(progress.secondsLeft)}`
                : master.state === "waiting"
                  ? "waiting for a worker"
                  : "beginning"}
            </>
          ) : master?.state === "failed" ? (
            <span className="text-outside">failed: {master.problem}</span>
          ) : (
            <>
              {verified ? "verified on the file" : prediction ? "predicted" : "not read yet"}
              {worstLimit && worstLimit.standing !== "inside" && (
                <span className={standingColour(worstLimit.standing)}>
                  {" "}
                  · {marginWords(worstLimit.limit, worstLimit.value)}
                </span>
              )}
            </>
          )}
        </span>
      </button>
    </td>
  );
}
