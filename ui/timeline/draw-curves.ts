/** Lanes of one curve over time: correlation, and what limiters take off. */
import { FIGURES, level, type Context, type Colours } from "../canvas/draw";
import type { TimeRange } from "@ui/state/workspace-store";
import { correlationColour } from "../canvas/scales";
import { secondsAt } from "../state/time-window";

export interface CurveModel {
  width: number;
  height: number;
  view: TimeRange;
  hopSeconds: number;
  /** One value a step; what holds between `hopSeconds`·i and the next. */
  values: ArrayLike<number>;
}

/** What a pixel column shows: of the steps in it, the one that `worse` prefers; NaN where there is none. */
export function columnRange(
  { view, hopSeconds, values, width }: CurveModel,
  x: number,
  worse: (a: number, b: number) => boolean,
) {
  const first = Math.floor(secondsAt(x, view, width) / hopSeconds);
  const last = Math.max(first + 1, Math.ceil(secondsAt(x + 1, view, width) / hopSeconds));
  let found = NaN;
  for (let i = Math.max(0, first); i < Math.min(values.length, last); i++)
    if (Number.isFinite(values[i]!) && (found !== found || worse(values[i]!, found))) found = values[i]!;
  return found;
}

/** −1 (below) … +1 (above), in the inks of opposed and together. */
export function drawCorrelation(context: Context, model: CurveModel, inks: Colours): void {
  const { width, height } = model;
  const y = (correlation: number) => ((1 - correlation) / 2) * (height - 4) + 2;
  for (let x = 0; x < width; x++) {
    const correlation = columnRange(model, x, (a, b) => a < b);
    if (correlation !== correlation) continue;
    context.fillStyle = correlationColour(correlation);
    const top = Math.min(y(correlation), y(0));
    context.fillRect(x, top, 1, Math.max(1, Math.abs(y(correlation) - y(0))));
  }
  context.font = FIGURES;
  context.textAlign = "right";
  context.textBaseline = "middle";
  context.lineWidth = 1;
  for (const mark of height < 36 ? [0] : [1, 0, -1]) {
    context.strokeStyle = mark === 0 ? inks.soft : inks.grid;
    level(context, y(mark), 0, width - 22);
    context.fillStyle = inks.soft;
    context.fillText(
      mark === 0 ? "0" : `${mark < 0 ? "−" : "+"}1`,
      width - 4,
      Math.max(7, Math.min(height - 7, y(mark))),
    );
  }
}

/** dB taken off, from the top down; the deepest of each column. */
export function drawReduction(context: Context, model: CurveModel, deepest: number, inks: Colours): void {
  const { width, height } = model;
  const y = (db: number) => Math.min(1, db / deepest) * (height - 2);
  context.fillStyle = inks.ink;
  for (let x = 0; x < width; x++) {
    const db = columnRange(model, x, (a, b) => a > b);
    if (db > 0) context.fillRect(x, 0, 1, Math.max(1, y(db)));
  }
  context.font = FIGURES;
  context.textAlign = "right";
  context.textBaseline = "middle";
  context.lineWidth = 1;
  for (const mark of [deepest / 2, deepest]) {
    context.strokeStyle = inks.grid;
    level(context, y(mark), 0, width - 26);
    context.fillStyle = inks.soft;
    context.fillText(`−${mark}`, width - 4, Math.min(height - 7, y(mark)));
  }
}
