/** A join as a picture: the outgoing sound above, the incoming below, fades as curves, loudness across. */
import { fadeGain, type Fade } from "@core/programme/fade";
import { VALUES } from "@core/measure/waveform-peaks";
import { LEVEL_STEP_SECONDS, shortTermAt, type ProgrammeLevels } from "@core/programme/programme-levels";
import { FIGURES, line, type Colours, type Context } from "@ui/canvas/draw";

/** One side of a join. Times are seconds from the middle of the picture. */
export interface JoinSide {
  /** Its number and its name. */
  name: string;
  /** Where its item begins and ends. */
  start: number;
  end: number;
  fadeIn: Fade | undefined;
  fadeOut: Fade | undefined;
  gain: number;
  /** Min, max and RMS of each pixel, all channels together, before gain and fades; `null` while they are on their way. */
  columns: Float32Array | null;
}

export interface JoinModel {
  width: number;
  height: number;
  /** Seconds to each side of the middle. */
  reach: { before: number; after: number };
  outgoing: JoinSide;
  incoming: JoinSide;
  /** Where neither is alone: overlap or pause. */
  from: number;
  to: number;
  /** Short-term loudness of the whole, and the time of its first value. */
  levels: Pick<ProgrammeLevels, "shortTerm"> | null;
  shortTermFrom: number;
}

const RULER = 18;

/** Rows of the two sides: the outgoing one above, overlapping in the middle third. */
export function joinRows(height: number) {
  const room = height - RULER;
  return {
    outgoing: { top: 4, height: room * 0.5 - 6 },
    incoming: { top: room * 0.5 + 2, height: room * 0.5 - 6 },
    rulerTop: room,
  };
}
export type Row = ReturnType<typeof joinRows>["outgoing"];

export const joinX = (seconds: number, { width, reach }: Pick<JoinModel, "width" | "reach">): number =>
  ((seconds + reach.before) / (reach.before + reach.after)) * width;

export const joinSeconds = (x: number, { width, reach }: Pick<JoinModel, "width" | "reach">): number =>
  (x / Math.max(1, width)) * (reach.before + reach.after) - reach.before;

/** Amplitude that fades leave of a side at a time. */
export function sideGain({ start, end, fadeIn, fadeOut, gain }: JoinSide, seconds: number): number {
  if (seconds < start || seconds >= end) return 0;
  const rises = fadeIn ? fadeGain(fadeIn, (seconds - start - fadeIn.insetSeconds) / fadeIn.seconds) : 1;
  const falls = fadeOut ? fadeGain(fadeOut, (end - seconds - fadeOut.insetSeconds) / fadeOut.seconds) : 1;
  return gain * rises * falls;
}

export function drawJoin(context: Context, model: JoinModel, inks: Colours): void {
  const { height, from, to, outgoing, incoming } = model;
  const rows = joinRows(height);
  context.font = FIGURES;
  context.lineWidth = 1;
  context.fillStyle = inks.actGround;
  const [left, right] = [joinX(Math.min(from, to), model), joinX(Math.max(from, to), model)];
  context.fillRect(left, 0, Math.max(1, right - left), rows.rulerTop);
  drawSide(context, model, outgoing, rows.outgoing, inks);
  drawSide(context, model, incoming, rows.incoming, inks);
  drawFade(context, model, outgoing, "out", rows.outgoing, inks);
  drawFade(context, model, incoming, "in", rows.incoming, inks);
  drawLoudness(context, model, rows.rulerTop, inks);
  drawNames(context, model, rows, inks);
  drawSeconds(context, model, rows.rulerTop, inks);
}

function drawSide(context: Context, model: JoinModel, side: JoinSide, { top, height }: Row, inks: Colours): void {
  const { columns } = side;
  const middle = top + height / 2;
  context.strokeStyle = inks.grid;
  line(context, 0, Math.round(middle) + 0.5, model.width, Math.round(middle) + 0.5);
  if (!columns) return;
  for (const pass of ["peak", "rms"] as const) {
    context.fillStyle = pass === "peak" ? inks.peak : inks.ink;
    context.beginPath();
    for (let x = 0; x < model.width; x++) {
      const low = columns[x * VALUES]!;
      if (Number.isNaN(low)) continue;
      const gain = sideGain(side, joinSeconds(x + 0.5, model)) * (height / 2);
      const high = columns[x * VALUES + 1]!;
      const rms = columns[x * VALUES + 2]!;
      const [up, down] = pass === "peak" ? [high * gain, low * gain] : [rms * gain, -rms * gain];
      context.rect(x, middle - up, 1, Math.max(pass === "peak" ? 1 : 0, up - down));
    }
    context.fill();
  }
}

function drawFade(
  context: Context,
  model: JoinModel,
  side: JoinSide,
  which: "in" | "out",
  { top, height }: Row,
  inks: Colours,
): void {
  const fade = which === "in" ? side.fadeIn : side.fadeOut;
  if (!fade) return;
  const silent = which === "in" ? side.start + fade.insetSeconds : side.end - fade.insetSeconds;
  const full = which === "in" ? silent + fade.seconds : silent - fade.seconds;
  context.strokeStyle = inks.act;
  context.lineWidth = 1.8;
  context.beginPath();
  const points = 48;
  for (let i = 0; i <= points; i++) {
    const t = i / points;
    const x = joinX(silent + (full - silent) * t, model);
    const y = top + height * (1 - fadeGain(fade, t));
    if (i === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  }
  context.stroke();
  context.lineWidth = 1;
}

function drawNames(
  context: Context,
  { width, outgoing, incoming }: JoinModel,
  rows: ReturnType<typeof joinRows>,
  inks: Colours,
): void {
  context.textBaseline = "middle";
  context.fillStyle = inks.soft;
  context.textAlign = "left";
  context.fillText(outgoing.name, 8, rows.outgoing.top + 8);
  context.textAlign = "right";
  context.fillText(incoming.name, width - 8, rows.incoming.top + rows.incoming.height - 6);
  context.fillStyle = inks.outside;
  context.fillText("short-term loudness", width - 8, rows.outgoing.top + 8);
  context.textAlign = "left";
}

const LOUDNESS = { top: -6, bottom: -50 };

function drawLoudness(context: Context, model: JoinModel, height: number, inks: Colours): void {
  const { levels, shortTermFrom, reach, width } = model;
  if (!levels) return;
  context.strokeStyle = inks.outside;
  context.lineWidth = 1.4;
  context.beginPath();
  let isDown = false;
  const stepOf = (seconds: number) => Math.round((seconds - shortTermFrom) / LEVEL_STEP_SECONDS);
  for (let step = Math.max(0, stepOf(-reach.before)); step <= stepOf(reach.after); step++) {
    const lufs = shortTermAt(levels, step);
    if (lufs === null || lufs < LOUDNESS.bottom) {
      isDown = false;
      continue;
    }
    const x = joinX(shortTermFrom + step * LEVEL_STEP_SECONDS, { reach, width });
    const y = ((LOUDNESS.top - Math.min(LOUDNESS.top, lufs)) / (LOUDNESS.top - LOUDNESS.bottom)) * (height - 8) + 4;
    if (isDown) context.lineTo(x, y);
    else context.moveTo(x, y);
    isDown = true;
  }
  context.stroke();
  context.lineWidth = 1;
}

function drawSeconds(context: Context, model: JoinModel, top: number, inks: Colours): void {
  const { reach, width } = model;
  const span = reach.before + reach.after;
  const step = [0.1, 0.25, 0.5, 1, 2, 3, 5, 10, 20].find((one) => (one / span) * width >= 64) ?? 30;
  context.textBaseline = "middle";
  context.textAlign = "center";
  for (let i = Math.ceil(-reach.before / step); i * step <= reach.after; i++) {
    const x = Math.round(joinX(i * step, model)) + 0.5;
    context.strokeStyle = inks.hair;
    line(context, x, top, x, top + 5);
    context.fillStyle = inks.soft;
    const words = i === 0 ? "0 s" : `${i > 0 ? "+" : "−"}${Math.abs(Number((i * step).toFixed(2)))}`;
    if (x > 14 && x < width - 14) context.fillText(words, x, top + 12);
  }
  context.textAlign = "left";
}
