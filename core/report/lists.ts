/** Lists that go with a delivery: cue sheet, markers, chapters, curves of equalisers. */
import { csvText } from "./csv-text";
import { EditList } from "../edit-list/edit-list";
import type { Tags } from "../files/tags";
import type { Item, ProjectDocument } from "../project/document";
import type { KnownRecordings } from "../project/known-recordings";
import { settingsOf } from "../processors";
import { biquadsOfBand, type EqualiserBand } from "../processors/equaliser";
import { powerAt } from "../dsp/analogue-filter";
import { powerToDb } from "../audio/decibel";
import { formatClock } from "../audio/format";
import type { Hertz, Seconds } from "../audio/units";

export interface CueTrack {
  file: string;
  /** What a cue sheet calls the kind of file: WAVE, AIFF, MP3. */
  kind: "WAVE" | "AIFF" | "MP3";
  tags: Tags;
}

export const quoted = (text: string): string => `"${text.replaceAll('"', "'")}"`;

/** What a cue sheet says of the album, before its files. */
export const cueHead = (album: Tags): string[] => [
  album.catalogue && `REM CATALOGUE ${quoted(album.catalogue)}`,
  album.date && `REM DATE ${album.date}`,
  album.genre && `REM GENRE ${quoted(album.genre)}`,
  album.barcode && `CATALOG ${album.barcode.padStart(13, "0")}`,
  album.albumArtist && `PERFORMER ${quoted(album.albumArtist)}`,
  `TITLE ${quoted(album.album)}`,
];

/** What it says of a track, before its indices; codes where there are any. */
export const cueTrack = (number: number, { title, artist, composer, isrc }: Tags): string[] => [
  `  TRACK ${String(number).padStart(2, "0")} AUDIO`,
  `    TITLE ${quoted(title)}`,
  artist && `    PERFORMER ${quoted(artist)}`,
  composer && `    SONGWRITER ${quoted(composer)}`,
  isrc && `    ISRC ${isrc}`,
];

/** Lines that say something, as a cue sheet ends them. */
export const cueText = (lines: readonly string[]): string => `${lines.filter(Boolean).join("\r\n")}\r\n`;

/** A cue sheet of one file a track. */
export const cueSheet = (album: Tags, tracks: readonly CueTrack[]): string =>
  cueText([
    ...cueHead(album),
    ...tracks.flatMap(({ file, kind, tags }, index) => [
      `FILE ${quoted(file)} ${kind}`,
      ...cueTrack(index + 1, tags),
      "    INDEX 01 00:00:00",
    ]),
  ]);

export const MOST_CUE_TRACKS = 99;

/** Why these tracks do not make a cue sheet; empty when they do. */
export const cueProblems = (tracks: number): string[] =>
  tracks > MOST_CUE_TRACKS ? [`A cue sheet has up to ${MOST_CUE_TRACKS} tracks; these are ${tracks}.`] : [];

const csv = (fields: string[], data: (string | number)[][]): string => csvText([fields, ...data]);

interface PlacedMarker {
  item: Item;
  kind: string;
  name: string;
  startSeconds: Seconds;
  endSeconds: Seconds | null;
}

function markersOf(item: Item, known: KnownRecordings): PlacedMarker[] {
  const recording = known(item.source);
  if (!recording) return [];
  const { frames, sampleRate } = recording;
  const arrangement = EditList.of(item.clips, frames);
  return item.markers.flatMap(({ kind, name, start, end }) => {
    const from = arrangement.toItem(start);
    if (from === null) return []; // cut out
    const to = end === undefined ? null : arrangement.toItem(end);
    return [{ item, kind, name, startSeconds: from / sampleRate, endSeconds: to === null ? null : to / sampleRate }];
  });
}

/** Markers of all items as CSV: times in seconds of the item. */
export const markersCsv = ({ items }: Pick<ProjectDocument, "items">, known: KnownRecordings): string =>
  csv(
    ["item", "start", "end", "kind", "name"],
    items
      .flatMap((item) => markersOf(item, known))
      .map(({ item, startSeconds, endSeconds, kind, name }) => [
        item.name,
        startSeconds.toFixed(6),
        endSeconds?.toFixed(6) ?? "",
        kind,
        name,
      ]),
  );

/** Chapters as players and podcast apps read them: a time and a title a line. */
export const chaptersText = ({ chapters }: Tags): string =>
  chapters.map(({ startSeconds, title }) => `${formatClock(startSeconds)} ${title}\n`).join("");

/** Chapters as JSON, version 1.2.0 of the open podcast chapters format. */
export const chaptersJson = ({ chapters, title }: Tags): string =>
  `${JSON.stringify(
    {
      version: "1.2.0",
      title,
      chapters: chapters.map((chapter) => ({
        startTime: Number(chapter.startSeconds.toFixed(3)),
        title: chapter.title,
      })),
    },
    null,
    2,
  )}\n`;

const POINTS_PER_OCTAVE = 12;
const LOWEST: Hertz = 20;
const HIGHEST: Hertz = 20_000;
const HERTZ = Array.from(
  { length: Math.floor(Math.log2(HIGHEST / LOWEST) * POINTS_PER_OCTAVE) + 1 },
  (_, i) => LOWEST * 2 ** (i / POINTS_PER_OCTAVE),
);

/** What the equalisers of all items do, as CSV: frequency and dB, one row a twelfth of an octave. */
export function equaliserCsv({ items }: Pick<ProjectDocument, "items">): string {
  const rows = items.flatMap((item) =>
    item.chain
      .filter(({ type, bypass }) => type === "equaliser" && !bypass)
      .flatMap((entry, index) => {
        const bands = (settingsOf(entry) as { bands: EqualiserBand[] }).bands.filter(({ on }) => on);
        return [...new Set(bands.map(({ sides }) => sides))].flatMap((sides) => {
          const sections = bands.filter((band) => band.sides === sides).flatMap(biquadsOfBand);
          return HERTZ.map((hertz) => [
            item.name,
            index + 1,
            sides,
            hertz.toFixed(2),
            powerToDb(sections.reduce((product, section) => product * powerAt(section, hertz), 1)).toFixed(2),
          ]);
        });
      }),
  );
  return csv(["item", "equaliser", "sides", "Hz", "dB"], rows);
}
