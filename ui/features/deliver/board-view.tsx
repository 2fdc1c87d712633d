"use client";

import { Pencil, Play, Plus, X } from "lucide-react";
import { useMemo, useState } from "react";
import { formatWords } from "@core/delivery/recipe";
import { LIMITED_FIGURES } from "@core/delivery/spec";
import { marginWords } from "@core/delivery/compliance";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import { goToStage, openItem } from "@ui/state/workspace-store";
import { PROGRAMME_ID, specOf, type Deliverable } from "@core/project/document";
import { FORM_WORDS } from "./programme-fields";
import { itemColour } from "@ui/design-system/colour-swatch";
import { useCurrentItem } from "@ui/state/current-item";
import { targetLabel } from "./target-label";
import { albumVerdict, boardRows, columnOf, toRender, type Cell } from "@core/project/board";
import { AutomaticLine } from "./automatic-delivery";
import { BoardCell } from "./board-cell";
import { CellDetail } from "./cell-detail";
import { DeliverableDialog, type DeliverableDraft } from "./deliverable-dialog";
import { StackedPanels } from "@ui/design-system/stacked-panels";
import { keepSizes, panelHandles, sizesOf } from "@ui/state/panel-sizes";
import { useKnownFigures } from "@ui/state/use-known-figures";
import { useEndOfRendering, useRender } from "./use-render";

/** More rows than these have one line each. */
const MOST_TALL_ROWS = 8;

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
    <div className="flex h-full min-h-0 flex-col">
      <StackedPanels
        share={sizesOf("deliver").upper}
        onShare={(upper) => keepSizes("deliver", { upper })}
        upperRef={panelHandles.upper}
        lowerRef={panelHandles.lower}
        label="Height of the board"
        upper={
          <div className="h-full min-h-0 overflow-auto px-4 py-2">
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
                    const shown = view.document.items.find(({ id }) => id === item.id);
                    const isItem = shown !== undefined;
                    const number = isItem ? (rows[0]?.id === PROGRAMME_ID ? row : row + 1) : "▸";
                    return (
                      <tr key={item.id} className="group border-b border-grid" data-testid="board-row">
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
                                  <span
                                    className="figure mr-2 border-l-4 pl-1 text-soft"
                                    style={{ borderLeftColor: itemColour(shown?.colour) }}
                                  >
                                    {number}
                                  </span>
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
                              dense={rows.length > MOST_TALL_ROWS}
                              chosen={one === cell}
                              onChoose={() => setChosen({ item: one.item.id, deliverable: one.deliverable.id })}
                            />
                          ) : (
                            <td
                              key={deliverables[index]!.id}
                              className="border-l border-hair px-3 text-label text-soft"
                            >
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
        }
        lower={cell && <CellDetail cell={cell} cells={cells} known={known} onRender={() => void render([cell])} />}
      />
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
      <AutomaticLine deliverable={deliverable} />
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
