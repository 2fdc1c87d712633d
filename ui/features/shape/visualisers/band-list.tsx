"use client";

import { Ear, Plus, Trash2 } from "lucide-react";
import type { EqualiserBand } from "@core/processors/equaliser";
import { processorNamed } from "@core/processors";
import type { RowsParameter } from "@core/parameters/parameter";
import { formatDb } from "@core/audio/format";
import { useWorkspace } from "@ui/state/workspace-store";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { RowField } from "./row-field";

/** Shapes that have a gain. */
export const LEVELLED = ["bell", "low shelf", "high shelf", "tilt"];

export const bandLetter = (index: number): string => String.fromCharCode(97 + index);

const ROWS = processorNamed("equaliser").parameters["bands"] as RowsParameter;

/** The bands as a table, and the settings of the one in hand. */
export function BandList({
  bands,
  chosen,
  onChoose,
  onChange,
  onRemove,
  onAdd,
}: {
  bands: EqualiserBand[];
  chosen: number;
  onChoose: (index: number) => void;
  onChange: (index: number, change: Partial<EqualiserBand>) => void;
  onRemove: (index: number) => void;
  onAdd: () => void;
}) {
  const soloBand = useWorkspace((workspace) => workspace.soloBand);
  const band = bands[chosen];
  const edges = band && { low: band.hertz * 2 ** (-0.5 / band.q), high: band.hertz * 2 ** (0.5 / band.q) };
  return (
    <div className="flex min-h-0 flex-col overflow-y-auto px-3 py-2">
      <table className="w-full">
        <thead className="text-label text-soft">
          <tr>
            <td />
            <th className="text-left font-normal">shape</th>
            <th className="text-right font-normal">Hz</th>
            <th className="text-right font-normal">dB</th>
            <th className="text-right font-normal">Q</th>
          </tr>
        </thead>
        <tbody>
          {bands.map((one, index) => (
            <tr
              key={index}
              aria-selected={index === chosen}
              onClick={() => onChoose(index)}
              className={`cursor-pointer border-t border-grid ${index === chosen ? "bg-act-ground" : ""} ${one.on ? "" : "opacity-50"}`}
            >
              <td className="font-semibold text-act">{bandLetter(index)}</td>
              <td>
                {one.shape}
                {one.sides !== "all" && <span className="text-soft"> · {one.sides}</span>}
              </td>
              <td className="figure text-right">{Math.round(one.hertz)}</td>
              <td className="figure text-right">
                {LEVELLED.includes(one.shape) ? formatDb(one.gainDb, { sign: true }) : "–"}
              </td>
              <td className="figure text-right text-soft">{one.q}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="flex items-center gap-1 py-1">
        <Button kind="quiet" onClick={onAdd}>
          <Plus size={14} aria-hidden /> band
        </Button>
        {edges && (
          <Button
            kind="quiet"
            aria-pressed={soloBand !== null}
            hint="Only what lies in this band is heard, while this is on"
            onClick={() => useWorkspace.setState({ soloBand: soloBand ? null : edges })}
          >
            <Ear size={14} aria-hidden /> {soloBand ? "hear all" : "hear it"}
          </Button>
        )}
        {band && (
          <span className="ml-auto">
            <IconButton label={`Remove band ${bandLetter(chosen)}`} onClick={() => onRemove(chosen)}>
              <Trash2 size={14} />
            </IconButton>
          </span>
        )}
      </div>
      {band ? (
        <div className="border-t border-grid pt-1">
          {Object.entries(ROWS.columns).map(([name, parameter]) => (
            <RowField
              key={name}
              parameter={parameter}
              setting={band[name as keyof EqualiserBand]}
              onCommit={(setting) => onChange(chosen, { [name]: setting })}
            />
          ))}
        </div>
      ) : (
        <p className="text-soft">No bands yet: double click into the drawing, or add one here.</p>
      )}
    </div>
  );
}
