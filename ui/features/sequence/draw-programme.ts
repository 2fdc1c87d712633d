/** The programme on one axis: its items with their levels, what lies on lanes, the short-term loudness of the whole. */
import type { Item } from "@core/project/document";
import { placementOf } from "@core/programme/placement";
import { LEVEL_STEP_SECONDS, shortTermAt, type ProgrammeLevels } from "@core/programme/programme-levels";
import type { ProgrammeMarker } from "@core/programme/programme";
import type { PlacedItem } from "@core/programme/timeline";
import { fadeGain } from "@core/programme/fade";
import { dbToGain } from "@core/audio/decibel";
import { envelopeAt } from "@core/parameters/breakpoints";
import type { TimeRange } from "@ui/state/workspace-store";
import { xOf } from "@ui/state/time-window";
import { drawStrip, shortened, stripsOf, type StripsModel } from "./draw-strips";
import { FIGURES, line, type Colours, type Context } from "@ui/canvas/draw";

export interface ProgrammeModel extends StripsModel {
  width: number;
  height: number;
  view: TimeRange;
  markers: readonly ProgrammeMarker[];
  levels: ProgrammeLevels | null;
  /** Peaks of an item as they came, linear, in steps of 100 ms; `null` while they are on their way. */
  peaksOf: (item: Item) => Float32Array | null;
  /** Frames that were cut off an item's recording. */
  trimmedOf: (item: Item) => { head: number; tail: number };
  /** Where the two items of the join in hand meet. */
  join: { from: number; to: number } | null;
  target: { min?: number | undefined; max?: number | undefined } | undefined;
}

/** Heights of the parts, from the top. */
export interface ProgrammeRows {
  /** Names, then blocks. */
  names: number;
  blocks: { top: number; height: number };
  laneHeight: number;
  lanesTop: number;
  loudness: { top: number; height: number };
  rulerTop: number;
}

const NAMES = 18;
const RULER = 18;
const LANE = 20;

export function programmeRows(height: number, lanes: number): ProgrammeRows {
  const rest = Math.max(40, height - NAMES - RULER - lanes * LANE);
  const blocks = { top: NAMES, height: Math.round(rest * 0.56) };
  const lanesTop = blocks.top + blocks.height;
  const loudness = { top: lanesTop + lanes * LANE, height: rest - blocks.height };
  return { names: NAMES, blocks, laneHeight: LANE, lanesTop, loudness, rulerTop: height - RULER };
}

/** LUFS at the top and bottom of the loudness row. */
const LOUDNESS = { top: -4, bottom: -44 };
const loudnessY = (lufs: number, { top, height }: ProgrammeRows["loudness"]): number => {
  const inside = Math.max(LOUDNESS.bottom, Math.min(LOUDNESS.top, lufs));
  return top + ((LOUDNESS.top - inside) / (LOUDNESS.top - LOUDNESS.bottom)) * height;
};

/** The target band is at least so tall. */
const LEAST_BAND = 4;

/** Steps of round numbers between two labels. */
const RULER_STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200];
const LABEL_PIXELS = 70;

export function drawProgramme(context: Context, model: ProgrammeModel, inks: Colours): void {
  const { width, height, timeline, items, lanes, references, view } = model;
  const rows = programmeRows(height, lanes.length + (references.length > 0 ? 1 : 0));
  const byId = new Map(items.map((item) => [item.id, item]));
  const x = (frame: number) => xOf(frame / timeline.sampleRate, view, width);
  context.font = FIGURES;
  context.lineWidth = 1;
  drawTarget(context, model, rows, inks);
  timeline.order.forEach((placed, index) => {
    const item = byId.get(placed.item);
    if (item) drawItem(context, { model, placed, item, index, rows, x, inks });
  });
  stripsOf(model).forEach((strip, index) =>
    drawStrip(context, strip, { top: rows.lanesTop + index * rows.laneHeight, width, x }, inks),
  );
  drawLoudnessLine(context, model, rows, inks);
  drawJoinFrame(context, model, rows, x, inks);
  drawTimes(context, model, rows, inks);
}

interface ItemDrawing {
  model: ProgrammeModel;
  placed: PlacedItem;
  item: Item;
  index: number;
  rows: ProgrammeRows;
  x: (frame: number) => number;
  inks: Colours;
}

/** The strip of an item that is marked with a colour. */
const MARK_HEIGHT = 3;

function drawItem(context: Context, { model, placed, item, index, rows, x, inks }: ItemDrawing): void {
  const [from, to] = [x(placed.start), x(placed.end)];
  if (to < 0 || from > model.width) return;
  const { top, height } = rows.blocks;
  const isInHand = item.id === model.inHand;
  context.fillStyle = isInHand ? inks.actGround : inks.grid;
  context.globalAlpha = isInHand ? 1 : 0.6;
  context.fillRect(from, top, Math.max(1, to - from), height);
  context.globalAlpha = 1;
  drawPeaks(context, model, placed, item, top, height, isInHand ? inks.act : inks.ink);
  drawTrims(context, model.trimmedOf(item), { from, to, top, height }, inks);
  if (item.colour) {
    context.fillStyle = inks.items[item.colour];
    context.fillRect(from, top, Math.max(1, to - from), MARK_HEIGHT);
  }
  if (to - from < 14) return;
  context.textBaseline = "middle";
  context.textAlign = "left";
  context.fillStyle = isInHand ? inks.act : inks.ink;
  const marks = model.levels?.loudest === item.id ? "loudest" : model.levels?.quietest === item.id ? "quietest" : "";
  const words = `${index + 1}  ${item.name}`;
  const room = Math.max(0, to - Math.max(0, from) - 6);
  context.save();
  context.beginPath();
  context.rect(Math.max(0, from), 0, room + 4, rows.names);
  const text = shortened(context, words, room);
  context.fillText(text, Math.max(0, from) + 2, rows.names / 2);
  const used = context.measureText(text).width + 14;
  if (marks && (model.levels?.items.size ?? 0) > 1 && room - used > context.measureText(marks).width) {
    context.fillStyle = inks.soft;
    context.fillText(marks, Math.max(0, from) + used, rows.names / 2);
  }
  context.restore();
}

/** Peaks with the gains and fades that they have in the programme. */
function drawPeaks(
  context: Context,
  model: ProgrammeModel,
  { start, end }: PlacedItem,
  item: Item,
  top: number,
  height: number,
  ink: string,
): void {
  const peaks = model.peaksOf(item);
  if (!peaks) return;
  const { view, width, timeline } = model;
  const seconds = (end - start) / timeline.sampleRate;
  const at = start / timeline.sampleRate;
  const { fadeIn, fadeOut, gainDb, envelope } = placementOf(item);
  const gainAt = (from: number) => dbToGain(gainDb + envelopeAt(envelope, from));
  const perPixel = (view.end - view.start) / width;
  const first = Math.max(0, Math.floor(xOf(at, view, width)));
  const last = Math.min(width, Math.ceil(xOf(at + seconds, view, width)));
  const middle = top + height / 2;
  context.fillStyle = ink;
  context.beginPath();
  for (let column = first; column < last; column++) {
    const from = view.start + column * perPixel - at;
    const [low, high] = [Math.floor(from * 10), Math.max(Math.floor(from * 10) + 1, Math.ceil((from + perPixel) * 10))];
    let peak = 0;
    for (let i = Math.max(0, low); i < Math.min(peaks.length, high); i++) if (peaks[i]! > peak) peak = peaks[i]!;
    const rises = fadeIn ? fadeGain(fadeIn, (from - fadeIn.insetSeconds) / fadeIn.seconds) : 1;
    const falls = fadeOut ? fadeGain(fadeOut, (seconds - from - fadeOut.insetSeconds) / fadeOut.seconds) : 1;
    const half = Math.min(1, peak * gainAt(from) * rises * falls) * (height / 2 - 2);
    context.rect(column, middle - half, 1, Math.max(1, 2 * half));
  }
  context.fill();
}

/** Notches where a head or a tail was cut off. */
function drawTrims(
  context: Context,
  { head, tail }: { head: number; tail: number },
  { from, to, top, height }: { from: number; to: number; top: number; height: number },
  inks: Colours,
): void {
  context.fillStyle = inks.outside;
  const notch = (x: number, direction: number) => {
    context.beginPath();
    context.moveTo(x, top + height);
    context.lineTo(x + direction * 6, top + height);
    context.lineTo(x, top + height - 6);
    context.closePath();
    context.fill();
  };
  if (head > 0) notch(from, 1);
  if (tail > 0) notch(to, -1);
}

function drawTarget(
  context: Context,
  { target, width }: ProgrammeModel,
  { loudness }: ProgrammeRows,
  inks: Colours,
): void {
  if (!target) return;
  context.fillStyle = inks.band;
  const top = loudnessY(target.max ?? LOUDNESS.top, loudness);
  context.fillRect(0, top, width, Math.max(LEAST_BAND, loudnessY(target.min ?? LOUDNESS.bottom, loudness) - top));
}

function drawLoudnessLine(context: Context, model: ProgrammeModel, { loudness }: ProgrammeRows, inks: Colours): void {
  const { levels, view, width } = model;
  context.textAlign = "right";
  context.textBaseline = "middle";
  for (const lufs of [-14, -23, -32]) {
    const y = Math.round(loudnessY(lufs, loudness)) + 0.5;
    context.strokeStyle = inks.grid;
    line(context, 0, y, width - 30, y);
    context.fillStyle = inks.soft;
    context.fillText(String(lufs).replace("-", "−"), width - 4, y);
  }
  context.textAlign = "left";
  if (!levels) return;
  context.strokeStyle = inks.ink;
  context.lineWidth = 1.4;
  context.beginPath();
  let isDown = false;
  for (let column = 0; column < width; column++) {
    // The value of 3 s stands where they end.
    const at = Math.round((view.start + ((column + 0.5) / width) * (view.end - view.start)) / LEVEL_STEP_SECONDS) - 30;
    const value = shortTermAt(levels, at);
    if (value === null || value < LOUDNESS.bottom) {
      isDown = false;
      continue;
    }
    const y = loudnessY(value, loudness);
    if (isDown) context.lineTo(column, y);
    else context.moveTo(column, y);
    isDown = true;
  }
  context.stroke();
  context.lineWidth = 1;
}

function drawJoinFrame(
  context: Context,
  { join, timeline }: ProgrammeModel,
  { blocks, lanesTop }: ProgrammeRows,
  x: (frame: number) => number,
  inks: Colours,
): void {
  if (!join) return;
  const middle = (join.from + join.to) / 2;
  const half = Math.max((join.to - join.from) / 2, 0.4 * timeline.sampleRate);
  const [from, to] = [x(middle - half) - 4, x(middle + half) + 4];
  context.strokeStyle = inks.act;
  context.lineWidth = 1.5;
  context.beginPath();
  context.rect(Math.round(from), blocks.top - 2, Math.round(to - from), lanesTop - blocks.top + 4);
  context.stroke();
  context.lineWidth = 1;
}

function drawTimes(
  context: Context,
  { view, width, markers }: ProgrammeModel,
  rows: ProgrammeRows,
  inks: Colours,
): void {
  const perLabel = ((view.end - view.start) / width) * LABEL_PIXELS;
  const step = RULER_STEPS.find((one) => one >= perLabel) ?? RULER_STEPS.at(-1)!;
  context.textBaseline = "middle";
  context.textAlign = "left";
  for (let at = Math.ceil(view.start / step) * step; at <= view.end; at += step) {
    const x = Math.round(xOf(at, view, width)) + 0.5;
    context.strokeStyle = inks.hair;
    line(context, x, rows.rulerTop, x, rows.rulerTop + 12);
    context.fillStyle = inks.soft;
    context.fillText(clock(at), x + 4, rows.rulerTop + 8);
  }
  for (const { start, name } of markers) {
    const x = Math.round(xOf(start, view, width)) + 0.5;
    if (x < 0 || x > width) continue;
    context.strokeStyle = inks.act;
    line(context, x, rows.blocks.top, x, rows.rulerTop + 12);
    context.fillStyle = inks.act;
    context.fillText(shortened(context, name, 90), x + 3, rows.loudness.top + 8);
  }
}

/** "1:02:03", "2:03". */
export function clock(seconds: number): string {
  const whole = Math.round(seconds);
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  const two = (n: number) => String(n).padStart(2, "0");
  return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}
