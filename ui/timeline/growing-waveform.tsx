"use client";

import { useCallback } from "react";
import { SKETCH_PARTS, sketchedPeaks } from "@core/measure/waveform-sketch";
import type { Measured } from "@core/measure";
import { dbToGain } from "@core/audio/decibel";
import type { Source } from "@core/project/views";
import { useJobProgress } from "@ui/api/server-events";
import { timeLeft } from "@ui/design-system/progress-bar";
import { fileKey, useLocalFigures } from "@ui/workers/local-figures";
import type { Colours, Context } from "../canvas/draw";
import { useCanvas } from "../canvas/use-canvas";

/** Peaks of what this page has measured by itself, by the parts of the whole. */
export function measuredPeaks({ curves, figures }: Measured, fraction: number): number[] {
  const { values, hopSeconds } = curves.samplePeakDbfs;
  const whole = figures.durationSeconds / Math.max(fraction, 0.01);
  return Array.from({ length: Math.floor(fraction * SKETCH_PARTS) }, (_, part) => {
    const at = (n: number) => Math.floor(((n / SKETCH_PARTS) * whole) / hopSeconds);
    let highest = -Infinity;
    for (let i = at(part); i < Math.max(at(part) + 1, at(part + 1)) && i < values.length; i++)
      if (values[i]! > highest) highest = values[i]!;
    return dbToGain(highest);
  });
}

/** Peaks of a recording as far as they are known while it is read: by the server, or by this page, whoever is ahead. */
function useKnownPeaks(source: Source): number[] {
  const sketch = useJobProgress((state) => state.progress[source.hash]?.sketch);
  const local = useLocalFigures(({ figures }) => figures[fileKey(source)]);
  const sketched = sketch ? sketchedPeaks(sketch) : [];
  const here = local?.measured ? measuredPeaks(local.measured, local.fraction) : [];
  return here.length > sketched.length ? here : sketched;
}

/** The outline of a recording while it is read: it grows. */
export function Outline({ source, className }: { source: Source; className: string }) {
  const peaks = useKnownPeaks(source);
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, { ink, grid }: Colours) => {
      context.fillStyle = grid;
      context.fillRect(0, Math.round(height / 2), width, 1);
      context.fillStyle = ink;
      const step = width / SKETCH_PARTS;
      peaks.forEach((peak, part) => {
        const half = Math.max(0.5, peak * 0.48 * height);
        context.fillRect(part * step, height / 2 - half, Math.max(1, step - 0.3), 2 * half);
      });
    },
    [peaks],
  );
  const { ref } = useCanvas(draw);
  const known = Math.round((100 * peaks.length) / SKETCH_PARTS);
  return (
    <canvas ref={ref} role="img" aria-label={`Outline of the recording, ${known} % known`} className={className} />
  );
}

/** In the place of the programme view: what is known of a recording that is being read. */
export function GrowingWaveform({ source }: { source: Source }) {
  const progress = useJobProgress((state) => state.progress[source.hash]);
  const how = progress ? `: ${Math.round(100 * progress.fraction)} %, ${timeLeft(progress.secondsLeft)}` : "";
  return (
    <div className="relative h-full">
      <Outline source={source} className="absolute inset-0 size-full" />
      <p className="absolute bottom-1 left-2 bg-sheet/80 px-1 text-label text-soft">
        “{source.name}” is being read{how}. It can be listened to and worked on once it is.
      </p>
    </div>
  );
}
