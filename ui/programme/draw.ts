/** Lanes, drawn: plain functions of a model, on any 2D context. Sizes in CSS pixels. */
import { VALUES } from "@core/measure/overview";
import { formatTime } from "@core/signal/format";
import type { Planar } from "@core/signal/units";
import type { Stretch } from "@ui/workspace/desk";
import type { Columns } from "./overview-data";
import { rulerStep, xOf } from "./time-window";

/** The part of a canvas context that lanes use. */
export type Context = Pick<
  CanvasRenderingContext2D,
  | "fillStyle"
  | "strokeStyle"
  | "lineWidth"
  | "font"
  | "textBaseline"
  | "textAlign"
  | "globalAlpha"
  | "fillRect"
  | "clearRect"
  | "beginPath"
  | "moveTo"
  | "lineTo"
  | "stroke"
  | "fill"
  | "fillText"
  | "setLineDash"
  | "arc"
  | "measureText"
>;

export interface Inks {
  ink: string;
  soft: string;
  peak: string;
  hair: string;
  grid: string;
  band: string;
  act: string;
  actGround: string;
  outside: string;
  sheet: string;
}

const FIGURES = '11px "Atkinson Hyperlegible Mono Variable", monospace';

function line(context: Context, x1: number, y1: number, x2: number, y2: number): void {
  context.beginPath();
  context.moveTo(x1, y1);
  context.lineTo(x2, y2);
  context.stroke();
}

export interface RulerModel {
  width: number;
  height: number;
  view: Stretch;
}

export function drawRuler(context: Context, { width, height, view }: RulerModel, inks: Inks): void {
  const { step, decimals } = rulerStep(view, width);
  context.font = FIGURES;
  context.textBaseline = "middle";
  context.textAlign = "left";
  context.lineWidth = 1;
  const minor = step / 5;
  context.strokeStyle = inks.hair;
  for (let i = Math.ceil(view.start / minor); i * minor <= view.end; i++) {
    const x = Math.round(xOf(i * minor, view, width)) + 0.5;
    line(context, x, height - 4, x, height);
  }
  for (let i = Math.ceil(view.start / step); i * step <= view.end; i++) {
    const x = Math.round(xOf(i * step, view, width)) + 0.5;
    line(context, x, 6, x, height);
    const text = formatTime(i * step, decimals);
    context.fillStyle = inks.soft;
    if (x + context.measureText(text).width + 6 < width) context.fillText(text, x + 4, height / 2 - 1);
  }
}

export interface WaveModel {
  width: number;
  height: number;
  columns: Columns;
  labels: string[];
  /** Samples instead of columns, when close. */
  samples?: { block: Planar; first: number; framesPerPixel: number; start: number } | undefined;
  /** Everything is drawn taller by this factor. */
  scale: number;
  /** A level to mark on both sides, linear; the limiter's ceiling. */
  ceiling?: number | undefined;
}

/** Height of one channel's row, and its middle. */
export function channelRow(
  index: number,
  channels: number,
  height: number,
): { top: number; middle: number; half: number } {
  const row = height / channels;
  return { top: index * row, middle: (index + 0.5) * row, half: row / 2 - Math.min(3, row * 0.06) };
}

export function drawWaveform(context: Context, model: WaveModel, inks: Inks): void {
  const { width, height, columns, labels } = model;
  const channels = columns.length;
  context.lineWidth = 1;
  context.textAlign = "left";
  context.textBaseline = "top";
  context.font = FIGURES;
  for (let c = 0; c < channels; c++) {
    const { top, middle, half } = channelRow(c, channels, height);
    context.strokeStyle = inks.grid;
    if (c > 0) line(context, 0, Math.round(top) + 0.5, width, Math.round(top) + 0.5);
    line(context, 0, Math.round(middle) + 0.5, width, Math.round(middle) + 0.5);
    if (model.samples) drawSamples(context, model.samples, c, width, middle, half, model.scale, inks);
    else drawColumns(context, columns[c]!, width, middle, half, model.scale, inks);
    if (model.ceiling !== undefined && half > 14) {
      context.strokeStyle = inks.outside;
      context.setLineDash([4, 3]);
      for (const side of [-1, 1]) {
        const y = Math.round(middle + side * half * clampUnit(model.ceiling * model.scale)) + 0.5;
        line(context, 0, y, width, y);
      }
      context.setLineDash([]);
    }
    if (half * 2 >= 13) {
      context.fillStyle = inks.soft;
      context.fillText(labels[c] ?? String(c + 1), 4, top + 2);
    }
  }
}

function drawColumns(
  context: Context,
  column: Float32Array,
  width: number,
  middle: number,
  half: number,
  scale: number,
  inks: Inks,
): void {
  for (const pass of ["peak", "rms"] as const) {
    context.fillStyle = pass === "peak" ? inks.peak : inks.ink;
    for (let x = 0; x < width; x++) {
      const min = column[x * VALUES]!;
      const max = column[x * VALUES + 1]!;
      const rms = column[x * VALUES + 2]!;
      if (min !== min) continue; // nothing known here yet
      const high = pass === "peak" ? max : Math.min(rms, max);
      const low = pass === "peak" ? min : Math.max(-rms, min);
      const top = middle - clampUnit(high * scale) * half;
      const bottom = middle - clampUnit(low * scale) * half;
      context.fillRect(x, top, 1, Math.max(pass === "peak" ? 1 : 0, bottom - top));
    }
  }
}

function drawSamples(
  context: Context,
  samples: NonNullable<WaveModel["samples"]>,
  channel: number,
  width: number,
  middle: number,
  half: number,
  scale: number,
  inks: Inks,
): void {
  const { block, first, framesPerPixel, start } = samples;
  const x = block[channel]!;
  const from = Math.max(0, Math.floor(start - first) - 1);
  const to = Math.min(x.length, Math.ceil(start - first + width * framesPerPixel) + 2);
  context.strokeStyle = inks.ink;
  context.lineWidth = 1.2;
  context.beginPath();
  for (let i = from; i < to; i++) {
    const px = (first + i - start) / framesPerPixel;
    const py = middle - clampUnit(x[i]! * scale) * half;
    if (i === from) context.moveTo(px, py);
    else context.lineTo(px, py);
  }
  context.stroke();
  context.lineWidth = 1;
  if (framesPerPixel > 0.2) return;
  context.fillStyle = inks.ink;
  for (let i = from; i < to; i++) {
    context.beginPath();
    context.arc((first + i - start) / framesPerPixel, middle - clampUnit(x[i]! * scale) * half, 2, 0, 2 * Math.PI);
    context.fill();
  }
}

const clampUnit = (v: number) => (v > 1 ? 1 : v < -1 ? -1 : v);

export interface LoudnessModel {
  width: number;
  height: number;
  view: Stretch;
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

export function drawLoudness(context: Context, model: LoudnessModel, inks: Inks): void {
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
  for (const level of [-14, -23, -32, -41]) {
    context.strokeStyle = inks.grid;
    line(context, 0, Math.round(y(level)) + 0.5, width - 34, Math.round(y(level)) + 0.5);
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
    // No more points than pixels: of those that share one, the loudest is drawn.
    const stride = Math.max(1, Math.floor((last - first) / Math.max(1, width)));
    let open = false;
    on.beginPath();
    for (let i = first; i < last; i += stride) {
      let level = -Infinity;
      for (let k = i; k < Math.min(last, i + stride); k++) level = Math.max(level, values[k]!);
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

/** The whole item in a strip, folded to one row, with the window on it. */
export function drawOverviewStrip(
  context: Context,
  model: { width: number; height: number; columns: Columns; window: Stretch; duration: number },
  inks: Inks,
): void {
  const { width, height, columns, window, duration } = model;
  context.fillStyle = inks.peak;
  for (let x = 0; x < width; x++) {
    let extent = 0;
    for (const column of columns) {
      const max = Math.max(Math.abs(column[x * VALUES]!), Math.abs(column[x * VALUES + 1]!));
      if (max > extent) extent = max;
    }
    const half = Math.min(1, extent) * (height / 2 - 2);
    context.fillRect(x, height / 2 - half, 1, Math.max(1, half * 2));
  }
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
