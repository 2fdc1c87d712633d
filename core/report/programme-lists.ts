/** Lists of a programme: a cue sheet of one file, its titles with codes and times, and what was done. */
import { csvText } from "./csv-text";
import { cueHead, cueText, cueTrack, quoted, type CueTrack } from "./lists";
import { formatDb } from "../audio/format";
import type { Frames, Hertz } from "../audio/units";
import type { Tags } from "../files/tags";
import { processorNamed } from "../processors";
import type { PlacedLevels } from "../programme/programme-levels";
import { placementOf } from "../programme/placement";
import { titlesOf } from "../programme/cuts";
import { CD_SECTORS_PER_SECOND, type PlacedItem, type Timeline } from "../programme/timeline";
import { isActive, repairNamed } from "../repair";
import type { Item } from "../project/document";

/** A title of a programme with its times, in frames of the programme. */
export interface ProgrammeTitle {
  number: number;
  item: Item;
  /** What its master says of itself. */
  tags: Tags;
  /** Where the pause before it begins; `start` where there is none. */
  pause: Frames;
  start: Frames;
  end: Frames;
}

/** @param tagsOf what the file of an item would say of itself */
export function programmeTitles(
  timeline: Timeline,
  items: readonly Item[],
  tagsOf: (item: Item) => Tags,
): ProgrammeTitle[] {
  const byId = new Map(items.map((item) => [item.id, item]));
  const titles = titlesOf(timeline, items);
  return titles.map((placed: PlacedItem, index) => {
    const item = byId.get(placed.item)!;
    const before = titles[index - 1];
    // What lies hidden before the first title is its pause, too.
    const over = before ? before.fadeEnd : 0;
    return {
      number: index + 1,
      item,
      tags: tagsOf(item),
      pause: Math.min(over, placed.start),
      start: placed.start,
      end: Math.min(placed.fadeEnd, timeline.frames),
    };
  });
}

const two = (n: number): string => String(n).padStart(2, "0");

/** Minutes, seconds and sectors of 1/75 s, the sector that a frame lies in. */
export function sectorTime(frame: Frames, sampleRate: Hertz): string {
  const sectors = Math.floor((frame * CD_SECTORS_PER_SECOND) / sampleRate);
  const seconds = Math.floor(sectors / CD_SECTORS_PER_SECOND);
  return `${two(Math.floor(seconds / 60))}:${two(seconds % 60)}:${two(sectors % CD_SECTORS_PER_SECOND)}`;
}

/** A cue sheet of one file with all titles: pauses as index 00, beginnings as index 01, codes where there are any. */
export function programmeCueSheet(
  album: Tags,
  { file, kind }: Pick<CueTrack, "file" | "kind">,
  titles: readonly ProgrammeTitle[],
  sampleRate: Hertz,
): string {
  return cueText([
    ...cueHead(album),
    `FILE ${quoted(file)} ${kind}`,
    ...titles.flatMap(({ number, tags, pause, start }) => [
      ...cueTrack(number, tags),
      pause < start ? `    INDEX 00 ${sectorTime(pause, sampleRate)}` : "",
      `    INDEX 01 ${sectorTime(start, sampleRate)}`,
    ]),
  ]);
}

/** Titles with their points in time and codes, as those who press discs want it: one row a point. */
export function titleListCsv(titles: readonly ProgrammeTitle[], sampleRate: Hertz): string {
  return csvText([
    ["title", "index", "time", "seconds", "length", "isrc", "name", "artist"],
    ...titles.flatMap(({ number, tags, pause, start, end }) => {
      const row = (index: number, frame: Frames, length: Frames) => [
        number,
        index,
        sectorTime(frame, sampleRate),
        (frame / sampleRate).toFixed(6),
        sectorTime(length, sampleRate),
        tags.isrc,
        tags.title,
        tags.artist,
      ];
      return [...(pause < start ? [row(0, pause, start - pause)] : []), row(1, start, end - start)];
    }),
  ]);
}

/** What was done to an item, in words. */
function workOf({ repairs, clips, chain }: Item): string {
  const done = [
    ...(clips ? ["cut"] : []),
    ...repairs.filter(isActive).map(({ type }) => repairNamed(type).name.toLowerCase()),
    ...chain.filter(({ bypass }) => !bypass).map(({ type }) => processorNamed(type).name.toLowerCase()),
  ];
  return done.length === 0 ? "as it came" : done.join(", ");
}

/** The sheet of a programme: order, times, pauses, fades, codes, levels, and what was done. */
export function programmeSheet(
  title: string,
  titles: readonly ProgrammeTitle[],
  { sampleRate, frames }: Pick<Timeline, "sampleRate" | "frames">,
  levelsOf: (item: string) => PlacedLevels | null,
): string {
  const seconds = (count: Frames) => (count / sampleRate).toFixed(2);
  const rows = titles.flatMap(({ number, item, tags, pause, start, end }) => {
    const { fadeIn, fadeOut, gainDb } = placementOf(item);
    const levels = levelsOf(item.id);
    const before = start - pause;
    return [
      `${two(number)}  ${item.name}${tags.isrc ? `  ISRC ${tags.isrc}` : ""}`,
      `    starts ${sectorTime(start, sampleRate)} (${seconds(start)} s), lasts ${seconds(end - start)} s, after ${seconds(before)} s of pause`,
      `    ${[
        fadeIn ? `fade-in ${fadeIn.seconds} s, ${fadeIn.shape}` : "no fade-in",
        fadeOut ? `fade-out ${fadeOut.seconds} s, ${fadeOut.shape}` : "no fade-out",
        `gain ${formatDb(gainDb, { sign: true })} dB`,
      ].join("; ")}`,
      ...(levels
        ? [`    ${formatDb(levels.integratedLufs)} LUFS integrated, ${formatDb(levels.truePeakDbtp)} dBTP, in its file`]
        : []),
      `    done: ${workOf(item)}`,
      "",
    ];
  });
  return [title, `${titles.length} titles, ${seconds(frames)} s in all, ${sampleRate} Hz`, "", ...rows].join("\n");
}
