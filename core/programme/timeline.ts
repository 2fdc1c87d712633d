/** Times of a programme, to the sample: where each item begins and ends, which pauses lie between, where it is over. */
import type { Layout } from "../audio/layout";
import type { Frames, Hertz } from "../audio/units";
import { isInOrder, placementOf, type Placeable } from "./placement";
import type { Programme } from "./programme";

/** CD sectors in a second (IEC 60908): 588 samples each at 44.1 kHz. */
export const CD_SECTORS_PER_SECOND = 75;

/** What must be known of an item before it has a place: its length after cuts, at its own rate. */
export interface ItemFormat {
  frames: Frames;
  sampleRate: Hertz;
  layout: Layout;
}
export type ItemFormatOf = (id: string) => ItemFormat | null;

/** An item in the programme, in frames of the programme. */
export interface PlacedItem {
  item: string;
  /** `null` in the order. */
  lane: string | null;
  start: Frames;
  /** One past its last sample. */
  end: Frames;
  /** Where its fade-out is over; `end` where it has none. */
  fadeEnd: Frames;
  /** Pause before it; below 0 an overlap. Of the first, silence at the head. */
  gap: Frames;
}

export interface Timeline {
  sampleRate: Hertz;
  layout: Layout;
  /** Length of the whole. */
  frames: Frames;
  /** Items of the order, in order. */
  order: PlacedItem[];
  /** Items on lanes. */
  onLanes: PlacedItem[];
}

/** Frames of a sector, where the rate has whole ones. */
export const sectorFrames = (sampleRate: Hertz): Frames | null =>
  sampleRate % CD_SECTORS_PER_SECOND === 0 ? sampleRate / CD_SECTORS_PER_SECOND : null;

/** The layout that all others can be laid into: the one of most channels. */
function widest(formats: readonly ItemFormat[]): Layout {
  return formats.reduce((a, b) => (b.layout.speakers.length > a.layout.speakers.length ? b : a)).layout;
}

/** Length at another rate, as the converter gives it. */
export const framesAt = ({ frames, sampleRate }: Pick<ItemFormat, "frames" | "sampleRate">, rate: Hertz): Frames =>
  Math.ceil((frames * rate) / sampleRate);

/**
 * Places all items. The programme has the rate of its first item, and the layout of most channels.
 * @returns `null` while the order is empty, or an item is not known yet
 */
export function timelineOf(
  items: readonly Placeable[],
  programme: Pick<Programme, "headSeconds" | "tailSeconds" | "cdRule">,
  formatOf: ItemFormatOf,
): Timeline | null {
  const formats = new Map<string, ItemFormat>();
  for (const { id } of items) {
    const format = formatOf(id);
    if (!format) return null;
    formats.set(id, format);
  }
  const ordered = items.filter(isInOrder);
  if (ordered.length === 0) return null;
  const { sampleRate } = formats.get(ordered[0]!.id)!;
  const toFrames = (seconds: number): Frames => Math.round(seconds * sampleRate);
  const sector = programme.cdRule ? sectorFrames(sampleRate) : null;
  const onSector = (frame: Frames): Frames => (sector ? Math.ceil(frame / sector) * sector : frame);

  const placed = (item: Placeable, start: Frames, gap: Frames): PlacedItem => {
    const { lane, fadeOut } = placementOf(item);
    const end = start + framesAt(formats.get(item.id)!, sampleRate);
    const fadeEnd = Math.max(start, end - toFrames(fadeOut?.insetSeconds ?? 0));
    return { item: item.id, lane, start, end, fadeEnd, gap };
  };

  const order: PlacedItem[] = [];
  for (const item of ordered) {
    const { gapSeconds, gapFrom } = placementOf(item);
    const before = order.at(-1);
    const origin = before ? (gapFrom === "fade end" ? before.fadeEnd : before.end) : 0;
    const wanted = before ? origin + toFrames(gapSeconds) : toFrames(programme.headSeconds);
    // No item begins before the one that it follows.
    const start = onSector(Math.max(wanted, before?.start ?? 0));
    order.push(placed(item, start, start - origin));
  }
  const starts = new Map(order.map(({ item, start }) => [item, start]));
  const onLanes = items
    .filter((item) => !isInOrder(item))
    .map((item) => {
      const { anchor, atSeconds } = placementOf(item);
      const from = (anchor === null ? undefined : starts.get(anchor)) ?? 0;
      return placed(item, Math.max(0, from + toFrames(atSeconds)), 0);
    });
  const over = Math.max(...order.map(({ fadeEnd }) => fadeEnd), ...onLanes.map(({ fadeEnd }) => fadeEnd));
  return {
    sampleRate,
    layout: widest([...formats.values()]),
    frames: onSector(over + toFrames(programme.tailSeconds)),
    order,
    onLanes,
  };
}

/** The join between an item of the order and the one before: where the one is over and the other begins. */
export interface Join {
  before: PlacedItem;
  after: PlacedItem;
  /** First and last frame that belong to neither alone: a pause, or an overlap. */
  from: Frames;
  to: Frames;
}

export const joinsOf = ({ order }: Pick<Timeline, "order">): Join[] =>
  order.slice(1).map((after, index) => {
    const before = order[index]!;
    return { before, after, from: Math.min(before.fadeEnd, after.start), to: Math.max(before.fadeEnd, after.start) };
  });
