"use client";

import { Pencil, Play, Plus, X } from "lucide-react";
import { useMemo, useState } from "react";
import { formatWords } from "@core/delivery/recipe";
import { formatDb } from "@core/audio/format";
import { ANCHORS, LIMITED_FIGURES } from "@core/delivery/spec";
import { marginWords } from "@core/delivery/compliance";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { ProgressBar, timeLeft, queueLabel } from "@ui/design-system/progress-bar";
import { useJobProgress } from "@ui/api/server-events";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import { goToStage, openItem } from "@ui/state/workspace-store";
import { PROGRAMME_ID, specOf, type Deliverable } from "@core/project/document";
import { FORM_WORDS } from "./programme-fields";
import { useCurrentItem } from "@ui/state/current-item";
import { targetLabel } from "./target-label";
import { albumVerdict, boardRows, columnOf, toRender, type Cell } from "./board-model";
import { CellDetail } from "./cell-detail";
import { DeliverableDialog, type DeliverableDraft } from "./deliverable-dialog";
import { useKnownFigures } from "@ui/state/use-known-figures";
import { isBusy, useEndOfRendering, useRender } from "./use-render";

/** Items × deliverables: predicted live, verified on the file after. */
export function BoardView() {
  const { view } = useCurrentItem();
  const known = useKnownFigures();
  const render = useRender();
  const { items, deliverables } = view.document;
  const [chosen, setChosen] = useState<{ item: string; deliverable: string } | null>(null);
  const [wanted, setWanted] = useState<DeliverableDraft | null>(null);
  const columns = useMemo(
    () => deliverables.map((deliverable) => columnOf(view, deliverable, known)),
    [view, deliverables, known],
  );
  const cells = useMemo(() => columns.flat(), [columns]);
  useEndOfRendering(cells);
  const waiting = toRender(cells);
  const cell =
    cells.find((one) => one.item.id === chosen?.item && one.deliverable.id === chosen.deliverable) ?? cells[0];
  const count = (standing: string) => cells.filter(({ verdict }) => verdict?.status === standing).length;
  return (
    <div className="grid h-full grid-rows-[minmax(0,1fr)_minmax(180px,44%)]">
      <div className="min-h-0 overflow-auto px-4 py-2">
        <header className="mb-1.5 flex items-center gap-3">
          <h2 className="min-w-0 truncate text-head">
            <b className="font-semibold">
              {items.length} {items.length === 1 ? "item" : "items"} × {deliverables.length}{" "}
              {deliverables.length === 1 ? "deliverable" : "deliverables"}
            </b>
            <span className="text-soft">
              {" "}
              — {cells.length} masters: {count("pass")} inside, {count("marginal")} close, {count("fail")} outside;{" "}
              {cells.filter(({ verified }) => verified).length} verified on the file
            </span>
          </h2>
          <Button
            className="ml-auto"
            onClick={() => setWanted({ kind: "new" })}
            hint="One more specification to deliver to"
          >
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
          <table className="w-full table-fixed" style={{ minWidth: 176 + 216 * deliverables.length }}>
            <thead>
              <tr className="border-b border-hair text-left align-top">
                <th className="w-44 pb-1.5 text-label font-normal text-soft">running order</th>
                {columns.map((column, index) => (
                  <ColumnHead
                    key={deliverables[index]!.id}
                    index={index}
                    column={column}
                    onEdit={() => setWanted({ kind: "edit", deliverable: deliverables[index]! })}
                    onRender={() => void render(toRender(column))}
                  />
                ))}
              </tr>
            </thead>
            <tbody>
              {boardRows(view.document).map((item, row, rows) => {
                const own = columns.map((column) => column.find((one) => one.item.id === item.id));
                const missing = toRender(own.filter((one) => one !== undefined));
                const isWhole = item.id === PROGRAMME_ID;
                // Of the programme: what is done with it is done in Sequence.
                const isItem = view.document.items.some(({ id }) => id === item.id);
                const number = isItem ? (rows[0]?.id === PROGRAMME_ID ? row : row + 1) : "▸";
                return (
                  <tr key={item.id} className="group border-b border-grid">
                    <th scope="row" className="text-left font-normal">
                      <span className="flex items-center">
                        <button
                          type="button"
                          onClick={() => (isItem ? openItem(item.id) : goToStage("sequence"))}
                          title={isItem ? item.name : `${item.name}: opens the programme in Sequence`}
                          className="block min-w-0 flex-1 truncate text-left hover:text-act"
                        >
                          {isWhole ? (
                            "The whole programme"
                          ) : (
                            <>
                              <span className="figure mr-2 text-soft">{number}</span>
                              {item.name}
                            </>
                          )}
                        </button>
                        {missing.length > 0 && (
                          <IconButton
                            label={`Render all of “${item.name}” that changed: ${missing.length}`}
                            onClick={() => void render(missing)}
                          >
                            <Play size={13} />
                          </IconButton>
                        )}
                      </span>
                    </th>
                    {own.map((one, index) =>
                      one ? (
                        <BoardCell
                          key={one.deliverable.id}
                          cell={one}
                          chosen={one === cell}
                          onChoose={() => setChosen({ item: one.item.id, deliverable: one.deliverable.id })}
                        />
                      ) : (
                        <td key={deliverables[index]!.id} className="border-l border-hair px-3 text-label text-soft">
                          {emptyWords(deliverables[index]!, isItem)}
                        </td>
                      ),
                    )}
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
      </div>
      {cell && <CellDetail cell={cell} cells={cells} known={known} onRender={() => void render([cell])} />}
      {wanted && <DeliverableDialog wanted={wanted} onClose={() => setWanted(null)} />}
    </div>
  );
}

/** Why a deliverable has no master of a row. */
function emptyWords({ programme, mix }: Deliverable, isItem: boolean): string {
  if (!isItem) return "—";
  return programme ? "in the whole" : `no mix “${mix}”`;
}

interface HeadProps {
  index: number;
  column: Cell[];
  onEdit: () => void;
  onRender: () => void;
}

function ColumnHead({ index, column, onEdit, onRender }: HeadProps) {
  const { view, edit } = useCurrentItem();
  const deliverable = view.document.deliverables[index]!;
  const spec = specOf(view.document, deliverable.spec);
  const album = albumVerdict(column);
  const missing = toRender(column).length;
  return (
    <th className="border-l border-hair px-3 pb-1.5 font-normal">
      <span className="flex items-center gap-0.5">
        <span className="truncate font-semibold" title={`${spec.name}: ${spec.help}. ${spec.source}, ${spec.edition}`}>
          {spec.name}
        </span>
        <span className="ml-auto" />
        {missing > 0 && (
          <IconButton label={`Render all of ${spec.name} that changed: ${missing}`} onClick={onRender}>
            <Play size={13} />
          </IconButton>
        )}
        <IconButton label={`Change deliverable ${spec.name}`} onClick={onEdit}>
          <Pencil size={13} />
        </IconButton>
        <IconButton
          label={`Remove deliverable ${spec.name}`}
          onClick={() => void edit({ type: "removeDeliverable", deliverable: deliverable.id })}
        >
          <X size={13} />
        </IconButton>
      </span>
      <span className="figure block truncate text-label text-soft" title={targetLabel(spec)}>
        {targetLabel(spec)}
      </span>
      <span className="block truncate text-label text-soft" title={formatWords(deliverable.format)}>
        {formatWords(deliverable.format)}
        {deliverable.format.sampleRate ? "" : ", rate kept"}
      </span>
      {(deliverable.programme || deliverable.mix) && (
        <span className="block truncate text-label text-act">
          {[deliverable.programme && FORM_WORDS[deliverable.programme], deliverable.mix && `mix “${deliverable.mix}”`]
            .filter(Boolean)
            .join(" · ")}
        </span>
      )}
      {album && (
        <span className={`flex items-center gap-1 truncate text-label ${statusColour(album.status)}`}>
          <ComplianceMark status={album.status} /> whole:{" "}
          {[
            ...album.limits.map(
              ({ limit, value }) => `${LIMITED_FIGURES[limit.figure].label.toLowerCase()} ${marginWords(limit, value)}`,
            ),
            ...album.fileRequirements.map(({ value }) => value),
          ].join(" · ")}
        </span>
      )}
    </th>
  );
}

function BoardCell({ cell, chosen, onChoose }: { cell: Cell; chosen: boolean; onChoose: () => void }) {
  const { verdict, prediction, verified, retags, master, spec } = cell;
  const progress = useJobProgress((state) => (master ? state.progress[master.id] : undefined));
  const { view } = useCurrentItem();
  const job = view.jobs.find(({ subject }) => subject === master?.id);
  const busy = isBusy(cell);
  const figures = verified ? master!.result!.figures : prediction?.figures;
  const { figure } = ANCHORS[spec.anchor];
  const loudness = spec.limits.find((limit) => limit.figure === figure && limit.scope !== "album");
  const worstLimit = verdict?.limits.reduce<(typeof verdict.limits)[number] | undefined>(
    (a, b) => ((b.margin ?? Infinity) < (a?.margin ?? Infinity) ? b : a),
    undefined,
  );
  const unmet = verdict?.fileRequirements.find(({ met }) => !met);
  const level = figures ? (figures[figure] ?? null) : NaN;
  return (
    <td className={`border-l border-hair p-0 ${chosen ? "outline-2 -outline-offset-2 outline-act bg-act-ground" : ""}`}>
      <button
        type="button"
        onClick={onChoose}
        className="block w-full px-3 py-1 text-left"
        data-testid={`cell-${cell.item.id}-${spec.id}`}
        data-state={verified ? "verified" : busy ? "busy" : "predicted"}
      >
        <span className="flex items-center gap-2">
          <ComplianceMark status={verdict?.status ?? "unknown"} />
          <span className="figure">{formatDb(level)}</span>
          <MarginGauge figure={figure} limit={loudness} value={Number.isNaN(level) ? null : level} width={58} />
          <span className="figure text-label whitespace-nowrap text-soft">
            {formatDb(figures ? (figures.truePeakDbtp ?? null) : NaN)} TP
          </span>
        </span>
        <span className="block truncate text-label text-soft">
          {busy ? (
            <>
              <ProgressBar fraction={progress?.fraction ?? 0} label={`Rendering ${cell.item.name}`} />
              {progress ? [progress.stage, timeLeft(progress.secondsLeft)].filter(Boolean).join(", ") : queueLabel(job)}
            </>
          ) : master?.state === "failed" ? (
            <span className="text-outside">failed: {master.problem}</span>
          ) : (
            <>
              {verified
                ? "verified on the file"
                : retags
                  ? "only tags changed"
                  : prediction
                    ? cell.leftOut
                      ? `estimate without ${cell.leftOut}`
                      : "predicted"
                    : cell.deliverable.programme
                      ? "not rendered yet"
                      : "not read yet"}
              {unmet ? (
                <span className="text-outside">
                  {" "}
                  · {unmet.what.toLowerCase()}: {unmet.value}
                </span>
              ) : (
                worstLimit &&
                worstLimit.status !== "pass" && (
                  <span className={statusColour(worstLimit.status)}>
                    {" "}
                    · {marginWords(worstLimit.limit, worstLimit.value)}
                  </span>
                )
              )}
            </>
          )}
        </span>
      </button>
    </td>
  );
}
