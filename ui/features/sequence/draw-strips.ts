/** Strips below the order: what lies on lanes, and the references. */
import type { Frames } from "@core/audio/units";
import { line, type Colours, type Context } from "@ui/canvas/draw";
import type { Item } from "@core/project/document";
import type { Lane } from "@core/programme/programme";
import type { PlacedItem, Timeline } from "@core/programme/timeline";

/** What lies below the order. */
export interface StripsModel {
  timeline: Timeline;
  items: readonly Item[];
  lanes: readonly Lane[];
  /** Recordings laid beside it, at their places. */
  references: readonly (Pick<PlacedItem, "start" | "end"> & { name: string })[];
  inHand: string | null;
}

export interface Strip {
  label: string;
  isMuted: boolean;
  blocks: { name: string; start: Frames; end: Frames; inHand: boolean }[];
}

/** A strip for each lane, then one for the references where there are any. */
export function stripsOf({ timeline, items, lanes, references, inHand }: StripsModel): Strip[] {
  const names = new Map(items.map(({ id, name }) => [id, name]));
  const strips = lanes.map((lane): Strip => ({
    label: lane.name,
    isMuted: lane.mute,
    blocks: timeline.onLanes
      .filter((placed) => placed.lane === lane.id)
      .map(({ item, start, end }) => ({ name: names.get(item) ?? "", start, end, inHand: item === inHand })),
  }));
  if (references.length === 0) return strips;
  return [
    ...strips,
    { label: "references", isMuted: false, blocks: references.map((one) => ({ ...one, inHand: false })) },
  ];
}

interface Place {
  top: number;
  width: number;
  x: (frame: Frames) => number;
}

export function drawStrip(context: Context, { label, isMuted, blocks }: Strip, place: Place, inks: Colours): void {
  const { top, width, x } = place;
  context.strokeStyle = inks.grid;
  line(context, 0, top + 0.5, width, top + 0.5);
  context.textBaseline = "middle";
  context.globalAlpha = isMuted ? 0.4 : 1;
  for (const { name, start, end, inHand } of blocks) {
    const [from, to] = [x(start), x(end)];
    if (to < 0 || from > width) continue;
    context.fillStyle = inHand ? inks.actGround : inks.grid;
    context.fillRect(from, top + 2, Math.max(2, to - from), 16);
    context.fillStyle = inHand ? inks.act : inks.ink;
    const left = Math.max(0, from);
    context.fillText(shortened(context, name, Math.max(0, to - left - 8)), left + 4, top + 10);
  }
  context.globalAlpha = 1;
  context.fillStyle = inks.soft;
  context.textAlign = "right";
  context.fillText(label, width - 4, top + 10);
  context.textAlign = "left";
}

/** Words that fit into a width. */
export function shortened(context: Pick<Context, "measureText">, words: string, width: number): string {
  if (context.measureText(words).width <= width) return words;
  let length = words.length;
  while (length > 1 && context.measureText(`${words.slice(0, length)}…`).width > width) length--;
  return length > 1 ? `${words.slice(0, length)}…` : "";
}
