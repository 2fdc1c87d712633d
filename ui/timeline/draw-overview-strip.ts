import { VALUES } from "@core/measure/waveform-peaks";
import type { TimeRange } from "@ui/state/workspace-store";
import { line, type Context, type Colours } from "../canvas/draw";
import type { Columns } from "../state/recording-overview";

/** The whole item in a strip, folded to one row, with the window on it. */
export function drawOverviewStrip(
  context: Context,
  model: { width: number; height: number; columns: Columns; window: TimeRange; duration: number },
  inks: Colours,
): void {
  const { width, height, columns, window, duration } = model;
  context.fillStyle = inks.peak;
  context.beginPath();
  for (let x = 0; x < width; x++) {
    let extent = 0;
    for (const column of columns) {
      const max = Math.max(Math.abs(column[x * VALUES]!), Math.abs(column[x * VALUES + 1]!));
      if (max > extent) extent = max;
    }
    const half = Math.min(1, extent) * (height / 2 - 2);
    context.rect(x, height / 2 - half, 1, Math.max(1, half * 2));
  }
  context.fill();
  const from = (window.start / duration) * width;
  const to = (window.end / duration) * width;
  context.globalAlpha = 0.55;
  context.fillStyle = inks.actGround;
  context.fillRect(from, 0, Math.max(2, to - from), height);
  context.globalAlpha = 1;
  context.strokeStyle = inks.act;
  line(context, from + 0.5, 0, from + 0.5, height);
  line(context, Math.max(from + 2, to) - 0.5, 0, Math.max(from + 2, to) - 0.5, height);
}
