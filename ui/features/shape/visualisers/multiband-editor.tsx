"use client";

import { Plus, Trash2 } from "lucide-react";
import { useRef, useState, type PointerEvent } from "react";
import { cornersOf, curveOfBand, type CompressedBand } from "@core/processors/multiband";
import { processorNamed } from "@core/processors";
import type { RowsParameter } from "@core/parameters/parameter";
import { formatHertz } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { RowField } from "./row-field";
import type { EntryEditing } from "./use-entry";
import { FrequencyPlot, type PlotScale } from "./frequency-plot";
import { ItemSpectrum, useItemSpectrum } from "./item-spectrum";
import { TransferCurve } from "./transfer-curve";

const ROWS = processorNamed("multiband").parameters["bands"] as RowsParameter;
const inside = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));

/** Bands on the spectrum, their corners dragged; each with its own curve and settings. */
export function MultibandEditor({ inHand }: { inHand: EntryEditing }) {
  const bands = inHand.settings["bands"] as CompressedBand[];
  const [chosen, setChosen] = useState(0);
  const dragged = useRef<{ corner: number; bands: CompressedBand[] } | null>(null);
  const spectrum = useItemSpectrum();
  const corners = cornersOf(bands);
  const band = bands[chosen] ?? bands[0]!;
  const at = Math.min(chosen, bands.length - 1);
  const commit = (next: CompressedBand[]) => void inHand.commit("bands", next);
  const change = (settings: Partial<CompressedBand>) =>
    commit(bands.map((one, i) => (i === at ? { ...one, ...settings } : one)));
  const split = () => {
    const low = at === 0 ? 20 : corners[at - 1]!;
    const high = at === bands.length - 1 ? 18000 : corners[at]!;
    const middle = Math.round(Math.sqrt(low * high));
    commit([...bands.slice(0, at), { ...band, crossoverHz: middle }, band, ...bands.slice(at + 1)]);
  };
  const remove = () => {
    // The band above takes its place; of the highest, the one below goes on to the top.
    commit(bands.filter((_, i) => i !== at));
    setChosen(Math.max(0, at - 1));
  };
  const drag = (event: PointerEvent, scale: PlotScale) => {
    const held = dragged.current;
    if (!held) return;
    const box = event.currentTarget.getBoundingClientRect();
    const low = held.corner === 0 ? 30 : corners[held.corner - 1]! * 1.1;
    const high = held.corner === corners.length - 1 ? 18000 : corners[held.corner + 1]! / 1.1;
    const hertz = Number(inside(scale.hertz(event.clientX - box.left), low, high).toPrecision(3));
    held.bands = bands.map((one, i) => (i === held.corner ? { ...one, crossoverHz: hertz } : one));
    inHand.setPending("bands", held.bands);
  };
  const drop = () => {
    if (dragged.current) commit(dragged.current.bands);
    dragged.current = null;
  };
  const edges = (scale: PlotScale, index: number) => ({
    from: index === 0 ? 0 : scale.x(corners[index - 1]!),
    to: index === bands.length - 1 ? scale.width : scale.x(corners[index]!),
  });
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_190px_210px]">
      <div className="flex min-h-0 flex-col border-r border-hair">
        <p className="truncate px-2 pt-1 text-label text-soft">
          drag a corner · choose a band · blue: what a peak at 0 dBFS keeps
        </p>
        <div className="min-h-0 flex-1">
          <FrequencyPlot label="Bands of the compressor" rangeDb={24} onPointerMove={drag} onPointerUp={drop}>
            {(scale) => (
              <>
                <ItemSpectrum scale={scale} spectrum={spectrum} response={() => 0} />
                {bands.map((one, index) => {
                  const { from, to } = edges(scale, index);
                  const held = -curveOfBand(one)(0) + one.gainDb;
                  return (
                    <g key={index}>
                      <rect
                        x={from}
                        y={0}
                        width={Math.max(0, to - from)}
                        height={scale.height}
                        fill={index === at ? "var(--act-ground)" : "transparent"}
                        opacity={0.6}
                        onPointerDown={() => setChosen(index)}
                      />
                      <line
                        x1={from + 2}
                        x2={to - 2}
                        y1={scale.y(inside(held, -24, 24))}
                        y2={scale.y(inside(held, -24, 24))}
                        stroke="var(--act)"
                        strokeWidth={2}
                      />
                      <text
                        x={from + 6}
                        y={14}
                        fontSize={11}
                        className="figure"
                        fill={index === at ? "var(--act)" : "var(--soft)"}
                      >
                        {index + 1}
                        {one.solo ? " alone" : ""}
                      </text>
                    </g>
                  );
                })}
                {corners.map((hertz, corner) => (
                  <g
                    key={corner}
                    role="slider"
                    tabIndex={0}
                    aria-label={`Corner ${corner + 1}`}
                    aria-valuenow={hertz}
                    aria-valuetext={formatHertz(hertz)}
                    className="cursor-ew-resize outline-none"
                    onPointerDown={(event) => {
                      event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
                      dragged.current = { corner, bands };
                    }}
                    onKeyDown={(event) => {
                      const by = { ArrowRight: 1.06, ArrowLeft: 1 / 1.06 }[event.key];
                      if (!by) return;
                      event.preventDefault();
                      event.stopPropagation();
                      const next = Math.round(inside(hertz * by, 30, 18000));
                      commit(bands.map((one, i) => (i === corner ? { ...one, crossoverHz: next } : one)));
                    }}
                  >
                    <rect x={scale.x(hertz) - 6} width={12} y={0} height={scale.height} fill="transparent" />
                    <line
                      x1={scale.x(hertz)}
                      x2={scale.x(hertz)}
                      y1={0}
                      y2={scale.height}
                      stroke="var(--act)"
                      strokeWidth={1.5}
                    />
                  </g>
                ))}
              </>
            )}
          </FrequencyPlot>
        </div>
      </div>
      <div className="border-r border-hair p-2">
        <TransferCurve label={`Transfer curve of band ${at + 1}`} curve={curveOfBand(band)} makeUpDb={band.gainDb} />
      </div>
      <div className="overflow-y-auto px-3 py-2">
        <div className="flex items-center justify-between">
          <h3 className="font-semibold">
            Band {at + 1} <span className="font-normal text-soft">of {bands.length}</span>
          </h3>
          <span className="flex">
            <Button kind="quiet" disabled={bands.length >= 6} onClick={split} hint="Two bands with the same settings">
              <Plus size={13} aria-hidden /> split
            </Button>
            <IconButton label={`Remove band ${at + 1}`} disabled={bands.length <= 2} onClick={remove}>
              <Trash2 size={14} />
            </IconButton>
          </span>
        </div>
        {Object.entries(ROWS.columns)
          .filter(([name]) => name !== "crossoverHz" || at < bands.length - 1)
          .map(([name, parameter]) => (
            <RowField
              key={name}
              parameter={parameter}
              setting={band[name as keyof CompressedBand]}
              onCommit={(setting) => change({ [name]: setting })}
            />
          ))}
      </div>
    </div>
  );
}
