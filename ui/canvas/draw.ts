import type { ItemColour } from "@core/project/document";
/** What all drawings share: plain functions of a model, on any 2D context. Sizes in CSS pixels. */

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
  | "rect"
  | "closePath"
  | "drawImage"
  | "imageSmoothingEnabled"
  | "save"
  | "restore"
  | "measureText"
>;

export interface Colours {
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
  /** Of items that are marked. */
  items: Readonly<Record<ItemColour, string>>;
}

export const FIGURES = '11px "Atkinson Hyperlegible Mono Variable", monospace';

export function line(context: Context, x1: number, y1: number, x2: number, y2: number): void {
  context.beginPath();
  context.moveTo(x1, y1);
  context.lineTo(x2, y2);
  context.stroke();
}

/** A line across at a height, on whole pixels. */
export function level(context: Context, y: number, from: number, to: number): void {
  line(context, from, Math.round(y) + 0.5, to, Math.round(y) + 0.5);
}
