"use client";

import { Select } from "@ui/design-system/controls";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { AZIMUTHS, ELEVATIONS } from "@core/measure/directions";
import type { TimeSeries } from "@core/measure/measurement";
import { DOWNMIX_TARGETS, downmixMatrix, STANDARD_DOWNMIX, type DownmixCoefficients } from "@core/audio/downmix";
import { formatDb } from "@core/audio/format";
import { layoutNamed } from "@core/audio/layout";
import type { LimitedFigure } from "@core/delivery/spec";
import { LIMITED_FIGURES } from "@core/delivery/spec";
import { marginWords } from "@core/delivery/compliance";
import type { Context } from "@ui/canvas/draw";
import { levelColour } from "@ui/canvas/scales";
import { useCanvas } from "@ui/canvas/use-canvas";
import { Figure } from "@ui/design-system/figure";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { measureInBrowser } from "@ui/workers/measuring";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import { Panel } from "../../design-system/panel";
import { showRange } from "../../state/show-range";
import type { MeasuredRange } from "./use-measured";

/** Energies are drawn over so many decibels below the highest. */
const RANGE_DB = 45;

/** Where the energy comes from, over time and by frequency; and what the fold-downs measure beside the original. */
export function DirectionsView({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { curves, offset, words } = stretch;
  const pick = (curve: TimeSeries) => (share: number) =>
    showRange(
      facts,
      offset + Math.floor((share * curve.values.length) / curve.columns) * curve.hopSeconds,
      Math.max(curve.hopSeconds, 1),
    );
  return (
    <div className="grid h-full grid-cols-[minmax(280px,1.2fr)_minmax(150px,0.5fr)_minmax(430px,1.4fr)] divide-x divide-hair">
      <Panel title="Directions over time" aside={words}>
        <EnergyMap
          curve={curves.azimuths}
          columns={AZIMUTHS}
          label="Azimuth over time"
          height="h-[116px]"
          marks={["behind", "left", "front", "right", "behind"]}
          onPick={pick(curves.azimuths)}
        />
        <EnergyMap
          curve={curves.elevations}
          columns={ELEVATIONS}
          reversed
          label="Elevation over time"
          height="h-[62px] mt-2"
          marks={["above", "level", "below"]}
          onPick={pick(curves.elevations)}
        />
        <p className="pt-1 text-label text-soft">lighter is more, over {RANGE_DB} dB · click to go there</p>
      </Panel>
      <Panel title="By frequency" aside="">
        <EnergyMap
          curve={curves.bandAzimuths}
          columns={AZIMUTHS}
          label="Azimuth by frequency"
          height="h-[180px]"
          marks={["behind", "left", "front", "right", "behind"]}
        />
        <p className="flex justify-between pt-1 pl-11 text-label text-soft">
          <span>22 Hz</span>
          <span>700</span>
          <span>22k</span>
        </p>
      </Panel>
      <FoldDowns facts={facts} stretch={stretch} />
    </div>
  );
}

/** Rows of a curve from left to right, its columns from top to bottom, energy as light. */
function EnergyMap({
  curve,
  columns,
  reversed,
  label,
  height,
  marks,
  onPick,
}: {
  curve: TimeSeries;
  columns: number;
  reversed?: boolean;
  label: string;
  height: string;
  marks: string[];
  onPick?: (share: number) => void;
}) {
  const draw = useCallback(
    (context: Context, { width, height: tall }: { width: number; height: number }) => {
      drawEnergies(context, { width, height: tall, values: curve.values, columns, reversed: reversed ?? false });
    },
    [curve, columns, reversed],
  );
  const { ref } = useCanvas(draw);
  if (curve.values.length === 0) return <p className="py-2 text-soft">Two channels or fewer have no directions.</p>;
  return (
    <div className={`flex gap-1.5 pt-1 ${height}`}>
      <div className="flex w-10 shrink-0 flex-col justify-between text-right text-label leading-3 text-soft">
        {marks.map((mark, i) => (
          <span key={i}>{mark}</span>
        ))}
      </div>
      <canvas
        ref={ref}
        aria-label={label}
        className={`min-h-0 min-w-0 flex-1 ${onPick ? "cursor-pointer" : ""}`}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          onPick?.((event.clientX - box.left) / box.width);
        }}
      />
    </div>
  );
}

interface EnergyModel {
  width: number;
  height: number;
  /** [row][column], linear energies. */
  values: Float32Array;
  columns: number;
  reversed: boolean;
}

export function drawEnergies(context: Context, { width, height, values, columns, reversed }: EnergyModel): void {
  const rows = values.length / columns;
  const highest = values.reduce((most, energy) => Math.max(most, energy), 0);
  const cell = height / columns;
  for (let x = 0; x < width; x++) {
    const from = Math.floor((x / width) * rows);
    const to = Math.max(from + 1, Math.floor(((x + 1) / width) * rows));
    for (let column = 0; column < columns; column++) {
      let energy = 0;
      for (let row = from; row < to && row < rows; row++) energy = Math.max(energy, values[row * columns + column]!);
      const db = energy > 0 && highest > 0 ? 10 * Math.log10(energy / highest) : -Infinity;
      context.fillStyle = levelColour(1 + db / RANGE_DB);
      const place = reversed ? columns - 1 - column : column;
      const y = Math.round(place * cell);
      context.fillRect(x, y, 1, Math.round((place + 1) * cell) - y);
    }
  }
}

const FOLD_FIGURES: LimitedFigure[] = ["integratedLufs", "shortTermMaxLufs", "truePeakDbtp", "loudnessRangeLu"];

function FoldDowns({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { spec } = useCurrentItem();
  const [coefficients, setCoefficients] = useState<DownmixCoefficients>(STANDARD_DOWNMIX);
  const { source, item } = facts;
  const layout = source.layout!;
  const targets = DOWNMIX_TARGETS.filter((target) => downmixMatrix(layout, target, coefficients));
  const { data, error, isFetching } = useQuery({
    queryKey: ["folds", source.pcm_hash, layout.name, item.clips, item.repairs, coefficients],
    staleTime: Infinity,
    retry: false,
    queryFn: async ({ signal }) =>
      Promise.all(
        targets.map(async (target) => ({
          target,
          measured: await measureInBrowser(
            {
              source: { url: soundUrl(source.pcm_hash!) },
              layout: layoutNamed(target)!,
              repairs: item.repairs,
              clips: item.clips,
              fold: downmixMatrix(layout, target, coefficients)!,
            },
            signal,
          ),
        })),
      ),
  });
  const set = (name: keyof DownmixCoefficients) => (db: number) => setCoefficients({ ...coefficients, [name]: db });
  return (
    <Panel title="Fold-downs" aside={isFetching ? "measuring …" : "whole item, measured here"}>
      {error && <p className="text-outside">{error.message}</p>}
      <table className="w-full text-right [&_td]:pl-3 [&_td]:whitespace-nowrap" data-testid="folds">
        <thead className="text-label text-soft">
          <tr className="h-[22px] [&>th]:font-normal">
            <td />
            <th>{layout.name}</th>
            {targets.map((target) => (
              <th key={target}>{target}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {FOLD_FIGURES.map((figure) => {
            const { label, unit } = LIMITED_FIGURES[figure];
            const limit = spec?.limits.find((one) => one.figure === figure);
            const cell = (level: number | null) => (
              <>
                <Figure level={level} unit="" />
                {limit && (
                  <span className="flex justify-end" title={marginWords(limit, level)}>
                    <MarginGauge figure={figure} limit={limit} value={level} width={58} />
                  </span>
                )}
              </>
            );
            return (
              <tr key={figure} className="border-t border-grid align-top">
                <th className="text-left font-normal whitespace-nowrap">
                  {label} <span className="text-label text-soft">{unit}</span>
                </th>
                <td className="pb-0.5">{cell(stretch.figures[figure])}</td>
                {targets.map((target) => (
                  <td key={target}>
                    {data ? cell(data.find((one) => one.target === target)?.measured.figures[figure] ?? null) : "…"}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 pt-1.5 text-label text-soft">
        <FoldField label="centre" level={coefficients.centreDb} onChange={set("centreDb")} />
        <FoldField label="surrounds" level={coefficients.surroundDb} onChange={set("surroundDb")} />
        <FoldField label="heights" level={coefficients.heightDb} onChange={set("heightDb")} />
      </div>
    </Panel>
  );
}

const GAINS = [0, -1.5, STANDARD_DOWNMIX.centreDb, -4.5, -6, -Infinity];

function FoldField({ label, level, onChange }: { label: string; level: number; onChange: (db: number) => void }) {
  return (
    <label className="flex items-center gap-1" title={`Gain of the ${label} in the fold-down; BS.775 takes −3 dB`}>
      {label}
      <Select
        label={label}
        value={level}
        options={GAINS}
        words={(db) => (db === -Infinity ? "out" : `${formatDb(db)} dB`)}
        onChange={onChange}
        className="figure h-6 text-act"
      />
    </label>
  );
}
