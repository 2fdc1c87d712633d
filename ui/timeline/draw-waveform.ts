import { VALUES } from "@core/measure/waveform-peaks";
import { dbToGain } from "@core/audio/decibel";
import { reconstructedSample } from "@core/dsp/reconstruction";
import type { Planar } from "@core/audio/units";
import { FIGURES, level, line, type Context, type Colours } from "../canvas/draw";
import type { Columns } from "../state/recording-overview";

export interface WaveformModel {
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
  /** Opacity of the RMS body. */
  body?: number;
  ruler?: "db" | "linear" | "none";
  /** Ink of each pixel column instead of the usual ones; `null` for the usual one. */
  inkAt?: ((x: number) => string | null) | undefined;
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

const RULER_DB = [0, -3, -6, -12, -20, -30, -40, -50, -60];
const RULER_LINEAR = [1, 0.75, 0.5, 0.25];
/** Pixels between two labels of the ruler. */
const RULER_GAP = 13;

export function drawWaveform(context: Context, model: WaveformModel, inks: Colours): void {
  const { width, height, columns, labels, scale } = model;
  const channels = columns.length;
  context.lineWidth = 1;
  context.textAlign = "left";
  context.textBaseline = "top";
  context.font = FIGURES;
  // The same for all channels: made once, for 24 of them as well.
  const { inkAt } = model;
  const ownInks = inkAt && Array.from({ length: width }, (_, x) => inkAt(x) ?? inks.peak);
  for (let c = 0; c < channels; c++) {
    const { top, middle, half } = channelRow(c, channels, height);
    context.strokeStyle = inks.grid;
    if (c > 0) level(context, top, 0, width);
    level(context, middle, 0, width);
    const { samples } = model;
    if (samples && samples.framesPerPixel <= LINES_BELOW)
      drawSamples(context, samples, c, width, middle, half, scale, inks);
    else if (samples && !ownInks)
      drawColumns(context, columnsOfSamples(samples, c, width), width, middle, half, scale, model.body ?? 1, inks);
    else if (ownInks) drawInColours(context, columns[c]!, width, middle, half, scale, ownInks);
    else drawColumns(context, columns[c]!, width, middle, half, scale, model.body ?? 1, inks);
    if (model.ceiling !== undefined && half > 14) {
      context.strokeStyle = inks.outside;
      context.setLineDash([4, 3]);
      for (const side of [-1, 1]) level(context, middle + side * half * clampUnit(model.ceiling * scale), 0, width);
      context.setLineDash([]);
    }
    if (half * 2 >= 13) {
      context.fillStyle = inks.soft;
      context.fillText(labels[c] ?? String(c + 1), 4, top + 2);
    }
    drawRulerOf(context, model, middle, half, inks);
  }
}

/** Levels at the right edge of a row, as far as there is room. */
function drawRulerOf(context: Context, model: WaveformModel, middle: number, half: number, inks: Colours): void {
  const { ruler = "none", width, scale } = model;
  if (ruler === "none" || half < 26) return;
  context.textAlign = "right";
  context.textBaseline = "middle";
  let last = -Infinity;
  const marks =
    ruler === "db"
      ? RULER_DB.map((db) => ({ text: String(db).replace("-", "−"), gain: dbToGain(db) }))
      : RULER_LINEAR.map((gain) => ({ text: gain === 1 ? "1" : String(gain).slice(1), gain }));
  for (const { text, gain } of marks) {
    const y = middle - gain * scale * half;
    if (y < middle - half - 1 || y - last < RULER_GAP || middle - y < RULER_GAP / 2) continue;
    last = y;
    context.strokeStyle = inks.hair;
    for (const at of [y, 2 * middle - y]) level(context, at, width - 5, width);
    const at = Math.max(middle - half + 6, y);
    const room = context.measureText(text).width + 4;
    context.globalAlpha = 0.8;
    context.fillStyle = inks.sheet;
    context.fillRect(width - 7 - room, at - 6, room + 2, 12);
    context.globalAlpha = 1;
    context.fillStyle = inks.soft;
    context.fillText(text, width - 7, at);
  }
  context.textAlign = "left";
  context.textBaseline = "top";
}

function drawColumns(
  context: Context,
  column: Float32Array,
  width: number,
  middle: number,
  half: number,
  scale: number,
  body: number,
  inks: Colours,
): void {
  for (const pass of ["peak", "rms"] as const) {
    context.fillStyle = pass === "peak" ? inks.peak : inks.ink;
    if (pass === "rms" && body === 0) return;
    context.globalAlpha = pass === "rms" ? body : 1;
    context.beginPath();
    for (let x = 0; x < width; x++) {
      const min = column[x * VALUES]!;
      const max = column[x * VALUES + 1]!;
      const rms = column[x * VALUES + 2]!;
      if (min !== min) continue; // nothing known here yet
      const high = pass === "peak" ? max : Math.min(rms, max);
      const low = pass === "peak" ? min : Math.max(-rms, min);
      const top = middle - clampUnit(high * scale) * half;
      const bottom = middle - clampUnit(low * scale) * half;
      context.rect(x, top, 1, Math.max(pass === "peak" ? 1 : 0, bottom - top));
    }
    context.fill();
  }
  context.globalAlpha = 1;
}

/** Each column in its own ink; neighbours of the same ink are filled at once. */
function drawInColours(
  context: Context,
  column: Float32Array,
  width: number,
  middle: number,
  half: number,
  scale: number,
  inks: readonly string[],
): void {
  let ink = "";
  context.beginPath();
  for (let x = 0; x < width; x++) {
    const min = column[x * VALUES]!;
    const max = column[x * VALUES + 1]!;
    if (min !== min) continue;
    const own = inks[x]!;
    if (own !== ink) {
      context.fill();
      context.beginPath();
      context.fillStyle = ink = own;
    }
    const top = middle - clampUnit(max * scale) * half;
    context.rect(x, top, 1, Math.max(1, middle - clampUnit(min * scale) * half - top));
  }
  context.fill();
}

/** Closer than this, in frames a pixel, samples are joined by lines: more of them would take long to draw. */
const LINES_BELOW = 2;

/** Smallest, largest and RMS sample of each pixel column. */
function columnsOfSamples(
  { block, first, framesPerPixel, start }: NonNullable<WaveformModel["samples"]>,
  channel: number,
  width: number,
): Float32Array {
  const x = block[channel]!;
  const columns = new Float32Array(width * VALUES).fill(NaN);
  for (let column = 0; column < width; column++) {
    const from = Math.max(0, Math.floor(start - first + column * framesPerPixel));
    const to = Math.min(x.length, Math.floor(start - first + (column + 1) * framesPerPixel) + 1);
    if (to <= from) continue;
    let [min, max, square] = [Infinity, -Infinity, 0];
    for (let i = from; i < to; i++) {
      const v = x[i]!;
      if (v < min) min = v;
      if (v > max) max = v;
      square += v * v;
    }
    columns.set([min, max, Math.sqrt(square / (to - from))], column * VALUES);
  }
  return columns;
}

/** Closer than this the waveform between the samples is drawn, and closer still the samples as points. */
const CURVE_BELOW = 0.5;
const POINTS_BELOW = 0.2;

function drawSamples(
  context: Context,
  samples: NonNullable<WaveformModel["samples"]>,
  channel: number,
  width: number,
  middle: number,
  half: number,
  scale: number,
  inks: Colours,
): void {
  const { block, first, framesPerPixel, start } = samples;
  const x = block[channel]!;
  const from = Math.max(0, Math.floor(start - first) - 1);
  const to = Math.min(x.length, Math.ceil(start - first + width * framesPerPixel) + 2);
  const xOf = (sample: number) => (first + sample - start) / framesPerPixel;
  const yOf = (v: number) => middle - clampUnit(v * scale) * half;
  context.strokeStyle = inks.ink;
  context.lineWidth = 1.2;
  context.beginPath();
  const step = framesPerPixel < CURVE_BELOW ? framesPerPixel : 1;
  for (let at = from, begun = false; at < to; at += step, begun = true) {
    const y = yOf(step === 1 ? x[at]! : reconstructedSample(x, at));
    if (begun) context.lineTo(xOf(at), y);
    else context.moveTo(xOf(at), y);
  }
  context.stroke();
  context.lineWidth = 1;
  if (framesPerPixel > POINTS_BELOW) return;
  context.fillStyle = inks.ink;
  for (let i = from; i < to; i++) {
    line(context, xOf(i), middle, xOf(i), yOf(x[i]!));
    context.beginPath();
    context.arc(xOf(i), yOf(x[i]!), 2, 0, 2 * Math.PI);
    context.fill();
  }
}

const clampUnit = (v: number) => (v > 1 ? 1 : v < -1 ? -1 : v);
