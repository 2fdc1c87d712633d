/** Markers: how they look, how they are found, and how they travel as text. */
import Papa from "papaparse";
import { csvText, unescapeFormula } from "@core/report/csv-text";
import { MARKER_KINDS, type Marker, type MarkerKind } from "@core/project/document";
import { formatClock } from "@core/audio/format";
import type { TimeRange } from "@ui/state/workspace-store";
import { recordingFrame, secondsOfRecording, type Timed } from "@ui/state/item-time";
import { line, type Context } from "../canvas/draw";
import { xOf } from "./time-window";

/** Each kind has a shape and an ink of its own; the shape alone tells them apart. */
export const MARKER_STYLES: Record<MarkerKind, { sign: string; ink: string; words: string }> = {
  mark: { sign: "▼", ink: "var(--mark-plain)", words: "mark" },
  cut: { sign: "✂", ink: "var(--mark-cut)", words: "cut" },
  retake: { sign: "⟲", ink: "var(--mark-retake)", words: "retake" },
  question: { sign: "?", ink: "var(--mark-question)", words: "question" },
  chapter: { sign: "§", ink: "var(--mark-chapter)", words: "chapter" },
};

/** Inks of the lines in the lanes, one for each kind, on both sheets. */
const LINE_INKS: Record<MarkerKind, string> = {
  mark: "#6b6f76",
  cut: "#8a4b7d",
  retake: "#7d6a1f",
  question: "#4f7a7a",
  chapter: "#7a5a44",
};

interface MarkerLines {
  width: number;
  height: number;
  view: TimeRange;
  markers: readonly PlacedMarker[];
}

/** A marker with its place in the item, in seconds. */
export interface PlacedMarker extends Marker {
  seconds: number;
  endSeconds: number | null;
}

/** Markers in the order of the item; those in what is cut out are left out. */
export function placeMarkers(markers: readonly Marker[], timed: Timed): PlacedMarker[] {
  return markers
    .flatMap((marker) => {
      const seconds = secondsOfRecording(timed, marker.start);
      if (seconds === null) return [];
      const last = marker.end === undefined ? null : secondsOfRecording(timed, marker.end - 1);
      return [{ ...marker, seconds, endSeconds: last === null ? null : last + 1 / timed.sampleRate }];
    })
    .sort((a, b) => a.seconds - b.seconds);
}

export function drawMarkerLines(context: Context, { width, height, view, markers }: MarkerLines) {
  let last = -Infinity;
  for (const { kind, seconds: from, endSeconds } of markers) {
    const to = endSeconds ?? from;
    if (to < view.start) continue;
    if (from > view.end) break;
    const x = Math.round(xOf(from, view, width)) + 0.5;
    context.fillStyle = context.strokeStyle = LINE_INKS[kind];
    if (endSeconds !== null) {
      context.globalAlpha = 0.1;
      context.fillRect(x, 0, xOf(to, view, width) - x, height);
      context.globalAlpha = 1;
      const right = Math.round(xOf(to, view, width)) - 0.5;
      context.setLineDash([1, 3]);
      line(context, right, 0, right, height);
      context.setLineDash([]);
    }
    if (x - last < 1) continue; // so many that they would lie on each other
    last = x;
    context.setLineDash([3, 2]);
    line(context, x, 0, x, height);
    context.setLineDash([]);
  }
}

const COLUMNS = ["start", "end", "kind", "name"] as const;

/** Markers as CSV: times in seconds of the item. */
export const markersToCsv = (markers: readonly PlacedMarker[]): string =>
  csvText([
    COLUMNS,
    ...markers.map(({ seconds, endSeconds, kind, name }) => [
      seconds.toFixed(6),
      endSeconds?.toFixed(6) ?? "",
      kind,
      name,
    ]),
  ]);

/** Markers as lines of text to be read: time, and name. */
export const markersToText = (markers: readonly PlacedMarker[]): string =>
  markers
    .map(
      (marker) =>
        `${formatClock(marker.seconds)}${
          marker.endSeconds === null ? "" : ` – ${formatClock(marker.endSeconds)}`
        }\t${marker.name || MARKER_STYLES[marker.kind].words}`,
    )
    .join("\n") + "\n";

/** Seconds of "12.5", "1:02.5" or "0:01:02.500"; `null` for what is none. */
export function parseClock(text: string): number | null {
  const parts = text.trim().split(":");
  if (parts.length > 3 || parts.some((part) => !/^\d+(\.\d+)?$/.test(part))) return null;
  return parts.reduce((sum, part) => sum * 60 + Number(part), 0);
}

/** A time or a range of the item as a marker keeps it: frames of the recording. */
export function markedFrames(
  timed: Timed,
  seconds: number,
  endSeconds: number | null,
): { start: number; end?: number } {
  const start = recordingFrame(timed, seconds);
  if (endSeconds === null) return { start };
  // A range over cuts or moved pieces may end before it begins in the recording.
  return { start, end: Math.max(start + 1, recordingFrame(timed, endSeconds)) };
}

export interface ImportedMarkers {
  markers: Omit<Marker, "id">[];
  /** Lines that could not be read, with what is wrong. */
  problems: string[];
}

/** Reads CSV as it is written here, or lines of a time and a name. */
export function parseMarkers(text: string, timed: Timed): ImportedMarkers {
  const duration = timed.editList.frames / timed.sampleRate;
  const found: ImportedMarkers = { markers: [], problems: [] };
  // Told by its first line; guessed, a name of odd signs would mislead.
  const delimiter = /^\s*"?start"?\s*([,;])/i.exec(text)?.[1];
  const rows: (readonly [line: number, start: string, end: string, kind: string, name: string])[] = delimiter
    ? Papa.parse<Record<string, string>>(text, {
        header: true,
        delimiter,
        skipEmptyLines: true,
        transformHeader: (name) => name.trim().toLowerCase(),
      }).data.map(
        (row, i) => [i + 2, row.start ?? "", row.end ?? "", row.kind ?? "", unescapeFormula(row.name ?? "")] as const,
      )
    : text.split(/\r?\n/).flatMap((content, i) => {
        const parts = /^\s*([\d:.]+)(?:\s*[–-]\s*([\d:.]+))?\s*(.*)$/.exec(content);
        if (content.trim() === "") return [];
        return [[i + 1, parts?.[1] ?? "", parts?.[2] ?? "", "", parts?.[3] ?? content] as const];
      });
  for (const [row, from, to, kind, name] of rows) {
    const seconds = parseClock(from);
    const endSeconds = to.trim() === "" ? undefined : parseClock(to);
    if (seconds === null || endSeconds === null) {
      const given = seconds === null ? from : to;
      found.problems.push(
        `Line ${row}: ${given === "" ? "there is no time at its beginning" : `“${given}” is no time`}; seconds or h:mm:ss.mmm are read.`,
      );
      continue;
    }
    const backwards = endSeconds !== undefined && endSeconds <= seconds;
    if (seconds >= duration || backwards) {
      found.problems.push(`Line ${row}: ${from} lies ${backwards ? "after its end" : "behind the end of the item"}.`);
      continue;
    }
    found.markers.push({
      kind: MARKER_KINDS.find((known) => known === kind.trim()) ?? "mark",
      name: name.trim().slice(0, 200),
      ...markedFrames(timed, seconds, endSeconds ?? null),
    });
  }
  return found;
}
