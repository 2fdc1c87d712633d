import { formatIn, gridOf, type TimeGrid, type TimeContext, type TimeFormat } from "@core/audio/timecode";
import type { TimeRange } from "@ui/state/workspace-store";
import { FIGURES, line, type Context, type Colours } from "../canvas/draw";
import { xOf } from "../state/time-window";

export interface RulerModel {
  width: number;
  height: number;
  view: TimeRange;
  format: TimeFormat;
  time: TimeContext;
}

/** Pixels from one label to the next, at least: enough for the longest of them. */
const LABEL_PIXELS = 92;

/** The grid that a window of `width` pixels shows. */
export const gridOfView = (view: TimeRange, width: number, format: TimeFormat, time: TimeContext): TimeGrid =>
  gridOf(format, ((view.end - view.start) / Math.max(1, width)) * LABEL_PIXELS, time);

/** Calls `each` with the lines of a grid inside a window, in order. */
export function gridLines(
  view: TimeRange,
  { origin, step, parts }: TimeGrid,
  each: (seconds: number, main: boolean) => void,
) {
  const part = step / parts;
  const first = Math.ceil((view.start - origin) / part - 1e-9);
  for (let i = first; origin + i * part <= view.end; i++) each(origin + i * part, i % parts === 0);
}

export function drawRuler(context: Context, model: RulerModel, inks: Colours): void {
  const { width, height, view, format, time } = model;
  const grid = gridOfView(view, width, format, time);
  context.font = FIGURES;
  context.textBaseline = "middle";
  context.textAlign = "left";
  context.lineWidth = 1;
  gridLines(view, grid, (seconds, main) => {
    const x = Math.round(xOf(seconds, view, width)) + 0.5;
    context.strokeStyle = inks.hair;
    line(context, x, height - (main ? 20 : 4), x, height);
    if (!main) return;
    const text = formatIn(format, seconds, time, grid.decimals);
    context.fillStyle = inks.soft;
    if (x + context.measureText(text).width + 6 < width) context.fillText(text, x + 4, height - 14);
  });
}

/** The same lines through all lanes. */
export function drawGrid(context: Context, model: RulerModel, inks: Colours): void {
  const { width, height, view, format, time } = model;
  gridLines(view, gridOfView(view, width, format, time), (seconds, main) => {
    const x = Math.round(xOf(seconds, view, width)) + 0.5;
    context.globalAlpha = main ? 0.9 : 0.4;
    context.strokeStyle = inks.hair;
    line(context, x, 0, x, height);
  });
  context.globalAlpha = 1;
}
