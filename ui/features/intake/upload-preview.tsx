"use client";

import { useCallback } from "react";
import type { Measured } from "@core/measure";
import { dbToGain } from "@core/audio/decibel";
import { formatTime } from "@core/audio/format";
import type { LimitedFigure } from "@core/delivery/spec";
import type { Context, Colours } from "@ui/canvas/draw";
import { useCanvas } from "@ui/canvas/use-canvas";
import { Figure } from "@ui/design-system/figure";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { useCurrentItem } from "@ui/state/current-item";
import type { LocalFigures } from "../../workers/local-figures";

const SHOWN: { figure: LimitedFigure; label: string; unit: string }[] = [
  { figure: "integratedLufs", label: "integrated", unit: "LUFS" },
  { figure: "truePeakDbtp", label: "true peak", unit: "dBTP" },
  { figure: "noiseFloorDbfs", label: "floor", unit: "dBFS" },
];

/** A file that is on its way, as this page measures it by itself: its waveform and what decides. */
export function UploadPreview({ local }: { local: LocalFigures }) {
  const { spec } = useCurrentItem();
  const { measured, fraction, problem } = local;
  if (problem) return <p className="text-label text-soft">{problem}</p>;
  if (!measured) return <p className="text-label text-soft">measuring here · {Math.round(fraction * 100)} %</p>;
  const length = measured.figures.durationSeconds / Math.max(fraction, 0.01);
  return (
    <div data-testid="glimpse" data-done={fraction === 1} className="flex items-center gap-4 overflow-hidden pt-0.5">
      <span className="leading-4">
        <span className="block text-label whitespace-nowrap text-soft">
          {fraction < 1 ? `measured here to ${formatTime(measured.figures.durationSeconds)}` : "measured here"}
        </span>
        <GlimpseWave measured={measured} length={length} />
      </span>
      {SHOWN.map(({ figure, label, unit }) => {
        const limit = spec?.limits.find((one) => one.figure === figure);
        return (
          <span key={figure} className="leading-4">
            <span className="block text-label text-soft">{label}</span>
            <span className="flex items-center gap-1.5">
              <Figure level={measured.figures[figure]} unit={unit} />
              {limit && <MarginGauge figure={figure} limit={limit} value={measured.figures[figure]} width={58} />}
            </span>
          </span>
        );
      })}
    </div>
  );
}

function GlimpseWave({ measured, length }: { measured: Measured; length: number }) {
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, { ink, grid }: Colours) => {
      const { values, hopSeconds } = measured.curves.samplePeakDbfs;
      context.fillStyle = grid;
      context.fillRect(0, height / 2 - 0.5, width, 1);
      context.fillStyle = ink;
      for (let x = 0; x < width; x++) {
        const from = Math.floor(((x / width) * length) / hopSeconds);
        const to = Math.max(from + 1, Math.floor((((x + 1) / width) * length) / hopSeconds));
        let peak = -Infinity;
        for (let i = from; i < to && i < values.length; i++) peak = Math.max(peak, values[i]!);
        const half = Math.min(1, dbToGain(peak)) * (height / 2);
        if (half > 0) context.fillRect(x, height / 2 - half, 1, Math.max(1, 2 * half));
      }
    },
    [measured, length],
  );
  const { ref } = useCanvas(draw);
  return <canvas ref={ref} aria-label="Waveform, as far as it is measured" className="h-5 w-36 shrink-0" />;
}
