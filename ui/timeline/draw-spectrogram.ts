import { hertzAt, shareOf, type FrequencyAxis } from "@core/spectrogram/frequency-rows";
import { FIGURES, type Context, type Colours } from "../canvas/draw";

const MARKS = [20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000, 40_000, 80_000];
/** Pixels between two labels. */
const GAP = 15;

const words = (hertz: number) => (hertz < 1000 ? String(hertz) : `${hertz / 1000}k`);

export const yOfHertz = (hertz: number, axis: FrequencyAxis, height: number): number =>
  (1 - shareOf(hertz, axis)) * height;
export const hertzOfY = (y: number, axis: FrequencyAxis, height: number): number =>
  hertzAt(Math.max(0, Math.min(1, 1 - y / height)), axis);

/** Frequencies at the right edge, each on a little sheet of its own so that it can be read on any picture. */
export function drawFrequencyRuler(
  context: Context,
  { width, height, axis }: { width: number; height: number; axis: FrequencyAxis },
  inks: Colours,
): void {
  context.font = FIGURES;
  context.textAlign = "right";
  context.textBaseline = "middle";
  const linear =
    axis.scale === "linear" ? Array.from({ length: 40 }, (_, i) => (i + 1) * (axis.high > 12_000 ? 2000 : 500)) : MARKS;
  let last = Infinity;
  for (const hertz of linear) {
    if (hertz < axis.low || hertz > axis.high) continue;
    const y = yOfHertz(hertz, axis, height);
    if (last - y < GAP || y < 6 || y > height - 6) continue;
    last = y;
    const text = words(hertz);
    const room = context.measureText(text).width + 6;
    context.globalAlpha = 0.82;
    context.fillStyle = inks.sheet;
    context.fillRect(width - room, y - 6, room, 12);
    context.globalAlpha = 1;
    context.fillStyle = inks.soft;
    context.fillText(text, width - 3, y);
  }
}
