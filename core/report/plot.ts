/** Drawings as data: the same lines and words become SVG in a page and vectors in a PDF. */

export type PlotInk = "ink" | "soft" | "grid" | "outside" | "band" | "peak";

export interface Plot {
  width: number;
  height: number;
  /** SVG path data, drawn in order; filled ones are not stroked. */
  paths: { d: string; ink: PlotInk; width: number; filled?: boolean; dashed?: boolean }[];
  texts: { x: number; y: number; text: string; anchor: "start" | "middle" | "end" }[];
}

/** The part of a plot inside of its labels, and its scales. */
export interface Frame {
  left: number;
  right: number;
  top: number;
  bottom: number;
  x(value: number): number;
  y(value: number): number;
}

const LEFT = 30;
const BOTTOM = 14;
const TOP = 4;

export function frameOf(
  width: number,
  height: number,
  x: { from: number; to: number; logarithmic?: boolean },
  y: { from: number; to: number },
): Frame {
  const [left, right, top, bottom] = [LEFT, width - 4, TOP, height - BOTTOM];
  const along = x.logarithmic ? Math.log : (value: number) => value;
  const share = (value: number) => (along(value) - along(x.from)) / (along(x.to) - along(x.from));
  const clamped = (value: number) => Math.max(y.from, Math.min(y.to, value));
  return {
    left,
    right,
    top,
    bottom,
    x: (value) => left + share(value) * (right - left),
    y: (value) => bottom - ((clamped(value) - y.from) / (y.to - y.from)) * (bottom - top),
  };
}

const place = (value: number): string => value.toFixed(1);

/** A line through points; those that are no numbers interrupt it. */
export function lineOf(points: Iterable<readonly [x: number, y: number]>): string {
  let d = "";
  let down = false;
  for (const [x, y] of points) {
    const drawn = Number.isFinite(x) && Number.isFinite(y);
    if (drawn) d += `${down ? "L" : "M"}${place(x)} ${place(y)}`;
    down = drawn;
  }
  return d;
}

export const boxOf = (x: number, y: number, width: number, height: number): string =>
  `M${place(x)} ${place(y)}h${place(width)}v${place(height)}h${place(-width)}z`;

/** Hairlines with their numbers at the left. */
export function horizontals(frame: Frame, values: readonly number[]): Pick<Plot, "paths" | "texts"> {
  return {
    paths: values.map((value) => ({
      d: lineOf([
        [frame.left, frame.y(value)],
        [frame.right, frame.y(value)],
      ]),
      ink: "grid",
      width: 0.5,
    })),
    texts: values.map((value) => ({
      x: frame.left - 3,
      y: frame.y(value) + 3,
      text: value < 0 ? `−${-value}` : String(value),
      anchor: "end",
    })),
  };
}

/** Numbers below the plot. */
export const below = (frame: Frame, marks: readonly { at: number; text: string }[]): Plot["texts"] =>
  marks.map(({ at, text }) => ({ x: frame.x(at), y: frame.bottom + 10, text, anchor: "middle" }));
