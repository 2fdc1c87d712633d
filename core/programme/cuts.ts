/** The programme as files of its items, which put one after the other are the programme, to the sample. */
import type { Frames, Seconds } from "../audio/units";
import { placementOf, type Placeable } from "./placement";
import type { PausePlace, ProgrammeMarker } from "./programme";
import type { PlacedItem, Timeline } from "./timeline";

export interface ItemCut {
  /** Id of the item, or of the marker whose stretch it is. */
  item: string;
  start: Frames;
  /** One past its last frame. */
  end: Frames;
  /** Of a marker's stretch that comes or goes slowly. */
  fadeInSeconds?: Seconds;
  fadeOutSeconds?: Seconds;
}

/**
 * Stretches of all markers, a file each: to the marker's end, or to the next marker. They may overlap. Those beyond the
 * end of the programme are none.
 */
export function markedStretches(
  { frames, sampleRate }: Pick<Timeline, "frames" | "sampleRate">,
  markers: readonly ProgrammeMarker[],
): ItemCut[] {
  const frame = (seconds: number) => Math.min(frames, Math.round(seconds * sampleRate));
  return markers.flatMap(({ id, start, end, fadeInSeconds, fadeOutSeconds }, index) => {
    const next = markers.slice(index + 1).find((one) => one.start > start)?.start;
    const cut: ItemCut = {
      item: id,
      start: frame(start),
      end: frame(end ?? next ?? Infinity),
      ...(fadeInSeconds ? { fadeInSeconds } : {}),
      ...(fadeOutSeconds ? { fadeOutSeconds } : {}),
    };
    return cut.end > cut.start ? [cut] : [];
  });
}

/** Items that have a number of their own: all of the order but what lies hidden before the first title. */
export function titlesOf(timeline: Pick<Timeline, "order">, items: readonly Placeable[]): PlacedItem[] {
  const [first] = timeline.order;
  const isHidden = placementOf(items.find(({ id }) => id === first?.item) ?? {}).hidden && timeline.order.length > 1;
  return isHidden ? timeline.order.slice(1) : timeline.order;
}

/**
 * Where the programme is cut. An overlap belongs to the item that begins in it. With pauses left out the files are
 * shorter than the programme; else every sample of it is in exactly one.
 */
export function cutsOf(timeline: Timeline, items: readonly Placeable[], pauses: PausePlace): ItemCut[] {
  const titles = titlesOf(timeline, items);
  return titles.map(({ item, start, fadeEnd }, index) => {
    const [before, next] = [titles[index - 1], titles[index + 1]];
    const over = Math.min(fadeEnd, next?.start ?? Infinity);
    if (pauses === "left out") return { item, start, end: over };
    const from = pauses === "start of the next" && before ? Math.min(before.fadeEnd, start) : start;
    const to = pauses === "start of the next" ? over : (next?.start ?? timeline.frames);
    return { item, start: before ? from : 0, end: next ? to : timeline.frames };
  });
}
