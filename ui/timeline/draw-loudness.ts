import type { TimeRange } from "@ui/state/workspace-store";
import { FIGURES, level as drawLevel, line, type Context, type Colours } from "../canvas/draw";
import { xOf } from "../state/time-window";

export interface LoudnessModel {
  width: number;
  height: number;
  view: TimeRange;
  hopSeconds: number;
  momentary: Float32Array;
  shortTerm: Float32Array;
  /** Where the first point of the curves lies, seconds of the item. */
  offset: number;
  /** Added to the curves: what a change of gain would do. */
  shiftDb: number;
  target: { min?: number | undefined; max?: number | undefined } | undefined;
  shortTermMax: number | undefined;
}

/** LUFS at the top and the bottom of the loudness lane. */
export const LOUDNESS_LANE = { top: -3, bottom: -45 };

export const loudnessY = (lufs: number, height: number): number =>
  ((LOUDNESS_LANE.top - Math.max(LOUDNESS_LANE.bottom - 4, Math.min(LOUDNESS_LANE.top + 4, lufs))) /
    (LOUDNESS_LANE.top - LOUDNESS_LANE.bottom)) *
  height;

/** Values whose maximum is kept together, from one level to the next. */
const FOLD = 8;
const kept = new WeakMap<Float32Array, Float32Array[]>();

/** Maxima over runs of `step` ≤ `stride` values; the values themselves where that is 1. */
function maximaFor(values: Float32Array, stride: number): { step: number; maxima: Float32Array } {
  let levels = kept.get(values);
  if (!levels) kept.set(values, (levels = [values]));
  let level = 0;
  let step = 1;
  while (step * FOLD <= stride) {
    const finer = levels[level]!;
    levels[level + 1] ??= Float32Array.from({ length: Math.ceil(finer.length / FOLD) }, (_, i) =>
      finer.subarray(i * FOLD, (i + 1) * FOLD).reduce((most, v) => Math.max(most, v), -Infinity),
    );
    level++;
    step *= FOLD;
  }
  return { step, maxima: levels[level]! };
}

/** Pixels that a label needs. */
const LABEL_GAP = 12;

export function drawLoudness(context: Context, model: LoudnessModel, inks: Colours): void {
  const { width, height, view, target } = model;
  const y = (lufs: number) => loudnessY(lufs, height);
  if (target) {
    context.fillStyle = inks.band;
    const top = y(target.max ?? LOUDNESS_LANE.top);
    context.fillRect(0, top, width, Math.max(2, y(target.min ?? LOUDNESS_LANE.bottom) - top));
  }
  context.font = FIGURES;
  context.textAlign = "right";
  context.textBaseline = "middle";
  context.lineWidth = 1;
  const labels = [-14, -23, -32, -41];
  const gap = Math.abs(y(-14) - y(-23));
  for (const level of gap >= LABEL_GAP ? labels : gap * 2 >= LABEL_GAP ? [-14, -32] : [-23]) {
    context.strokeStyle = inks.grid;
    drawLevel(context, y(level), 0, width - 34);
    context.fillStyle = inks.soft;
    context.fillText(String(level).replace("-", "−"), width - 4, y(level));
  }
  context.strokeStyle = inks.peak;
  curve(context, model, model.momentary);
  context.strokeStyle = inks.ink;
  context.lineWidth = 1.6;
  curve(context, model, model.shortTerm);
  context.lineWidth = 1;
  if (model.shortTermMax !== undefined) {
    context.strokeStyle = inks.outside;
    context.setLineDash([4, 3]);
    line(context, 0, y(model.shortTermMax), width, y(model.shortTermMax));
    context.setLineDash([]);
  }
  function curve(on: Context, { hopSeconds, offset, shiftDb }: LoudnessModel, values: Float32Array): void {
    const first = Math.max(0, Math.floor((view.start - offset) / hopSeconds) - 1);
    const last = Math.min(values.length, Math.ceil((view.end - offset) / hopSeconds) + 1);
    // No more points than pixels: of those that share one, the loudest is drawn, from the coarsest maxima that fit.
    const stride = Math.max(1, Math.floor((last - first) / Math.max(1, width)));
    const { step, maxima } = maximaFor(values, stride);
    let open = false;
    on.beginPath();
    for (let i = first; i < last; i += stride) {
      let level = -Infinity;
      for (let k = Math.floor(i / step); k * step < Math.min(last, i + stride); k++)
        level = Math.max(level, maxima[k]!);
      if (level === -Infinity) {
        open = false;
        continue;
      }
      const px = xOf(offset + (i + 1) * hopSeconds, view, width);
      if (open) on.lineTo(px, y(level + shiftDb));
      else on.moveTo(px, y(level + shiftDb));
      open = true;
    }
    on.stroke();
  }
}
