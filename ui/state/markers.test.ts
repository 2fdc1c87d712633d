import { describe, expect, it } from "vitest";
import { EditList } from "@core/edit-list/edit-list";
import { recordingClip } from "@core/edit-list/clip";
import { MARKER_KINDS, type Marker } from "@core/project/document";
import { recorder } from "../../tests/components/canvas-recorder";
import {
  drawMarkerLines,
  MARKER_STYLES,
  markersToCsv,
  markersToText,
  markedFrames,
  parseClock,
  parseMarkers,
  placeMarkers,
} from "./markers";

const RATE = 48_000;
const whole = { sampleRate: RATE, editList: EditList.of(undefined, 10 * RATE) };
/** The second to the fourth second are cut out. */
const cut = {
  sampleRate: RATE,
  editList: new EditList([recordingClip(0, 2 * RATE), recordingClip(4 * RATE, 10 * RATE)], 10 * RATE),
};
const marker = (seconds: number, more: Partial<Marker> = {}): Marker => ({
  id: `m${seconds}`,
  kind: "mark",
  name: "",
  start: seconds * RATE,
  ...more,
});

describe("markers of an item", () => {
  it("stand in its order, and not in what is cut out", () => {
    const placed = placeMarkers([marker(6), marker(1), marker(3)], cut);
    expect(placed.map(({ seconds }) => seconds)).toEqual([1, 4]);
  });
  it("end where their range ends", () => {
    const [placed] = placeMarkers([marker(5, { end: 7 * RATE })], cut);
    expect(placed).toMatchObject({ seconds: 3, endSeconds: 5 });
  });
  it("are kept as frames of the recording, a range at least one frame long", () => {
    expect(markedFrames(cut, 3, null)).toEqual({ start: 5 * RATE });
    expect(markedFrames(cut, 3, 5)).toEqual({ start: 5 * RATE, end: 7 * RATE });
    expect(markedFrames(whole, 3, 3)).toEqual({ start: 3 * RATE, end: 3 * RATE + 1 });
  });
  it("have a sign of their own for each kind", () => {
    expect(new Set(MARKER_KINDS.map((kind) => MARKER_STYLES[kind].sign)).size).toBe(MARKER_KINDS.length);
  });
});

describe("markers as text", () => {
  const placed = placeMarkers(
    [marker(1, { name: "the ferry bell" }), marker(3, { kind: "retake" }), marker(5, { name: "pause", end: 6 * RATE })],
    whole,
  );
  it("tell time and name, the kind where there is no name", () => {
    expect(markersToText(placed)).toBe(
      "00:00:01.000\tthe ferry bell\n00:00:03.000\tretake\n00:00:05.000 – 00:00:06.000\tpause\n",
    );
  });
  it("come back from CSV as they went", () => {
    const { markers, problems } = parseMarkers(markersToCsv(placed), whole);
    expect(problems).toEqual([]);
    expect(markers).toEqual(
      placed.map(({ kind, name, start, end }) => ({ kind, name, start, ...(end ? { end } : {}) })),
    );
  });
  it("come back from text, as plain marks", () => {
    const { markers } = parseMarkers(markersToText(placed), whole);
    expect(markers.map(({ start }) => start / RATE)).toEqual([1, 3, 5]);
    expect(markers[2]).toMatchObject({ end: 6 * RATE, name: "pause" });
  });
  it("come from CSV with semicolons, as spreadsheets of some countries write it", () => {
    const { markers } = parseMarkers("start;end;kind;name\n1;;chapter;One\n", whole);
    expect(markers).toEqual([{ kind: "chapter", name: "One", start: RATE }]);
  });
  it.each([
    ["later,,mark,never", "“later” is no time"],
    ["1,soon,mark,never", "“soon” is no time"],
    ["11,,mark,never", "11 lies behind the end of the item"],
    ["5,4,mark,never", "5 lies after its end"],
  ])("that cannot be read are told by their line: %s", (line, words) => {
    const { markers, problems } = parseMarkers(`start,end,kind,name\n${line}\n2,,mark,good\n`, whole);
    expect(markers.map(({ name }) => name)).toEqual(["good"]);
    expect(problems).toHaveLength(1);
    expect(problems[0]).toContain("Line 2");
    expect(problems[0]).toContain(words);
  });
  it.each([
    ["12.5", 12.5],
    ["1:02.5", 62.5],
    ["0:01:02.500", 62.5],
    ["1:2:3:4", null],
    ["-3", null],
    ["", null],
  ])("%s is %s seconds", (text, seconds) => {
    expect(parseClock(text)).toBe(seconds);
  });
});

describe("lines of markers", () => {
  const view = { start: 0, end: 10 };
  it("stand where the markers are, and no two on one pixel", () => {
    const { context, points } = recorder();
    const markers = placeMarkers([marker(2), marker(2.001), marker(5)], whole);
    drawMarkerLines(context, { width: 100, height: 20, view, markers });
    expect(points.map(({ x, y }) => [x, y])).toEqual([
      [20.5, 0],
      [20.5, 20],
      [50.5, 0],
      [50.5, 20],
    ]);
  });
  it("are not drawn outside of the window; a range that reaches into it is", () => {
    const { context, points, rects } = recorder();
    const markers = placeMarkers([marker(1), marker(2, { end: 5 * RATE }), marker(9)], whole);
    drawMarkerLines(context, { width: 100, height: 20, view: { start: 4, end: 8 }, markers });
    expect(rects).toHaveLength(1);
    expect(rects[0]!.x + rects[0]!.width).toBeCloseTo(25, 0);
    expect(points.some(({ x }) => x > 100)).toBe(false);
  });
});
