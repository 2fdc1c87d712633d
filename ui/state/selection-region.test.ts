import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Marker } from "@core/project/document";
import { gridOf } from "@core/audio/timecode";
import { gridLines } from "../timeline/draw-ruler";
import { moveLane, resizeLanes, switchLane, useLanes } from "./lane-settings";
import { EditList } from "@core/edit-list/edit-list";
import { replaced } from "@core/edit-list/edits";
import { recordingClip, type Clip } from "@core/edit-list/clip";
import { markedFrames, markersToCsv, markersToText, parseClock, parseMarkers, placeMarkers } from "./markers";
import { bandLabel, lengthLabel, regionOfOutline } from "./selection-region";
import { snapped, zeroCrossing } from "../timeline/snapping";

const time = { sampleRate: 48_000, tempo: null };

describe("snapping", () => {
  const grid = gridOf("clock", 1, time);
  it("draws to the nearest place within reach, and to nothing beyond", () => {
    expect(snapped(3.02, { grid, places: [3.05], reach: 0.1 })).toBe(3);
    expect(snapped(3.04, { grid: null, places: [3.05], reach: 0.1 })).toBe(3.05);
    expect(snapped(3.5, { grid: null, places: [3.05], reach: 0.1 })).toBe(3.5);
  });
  it("finds the zero crossing that is nearest", () => {
    const x = [1, 0.5, 0.2, -0.1, -0.5, -1, -0.5, 0.5, 1];
    expect(zeroCrossing(x, 4, 4)).toBe(3);
    expect(zeroCrossing(x, 6, 4)).toBe(7);
    expect(zeroCrossing(x, 0, 1)).toBe(0);
  });
});

describe("grid lines", () => {
  it("lie inside the window, main ones among them", () => {
    const seen: [number, boolean][] = [];
    gridLines({ start: 9.5, end: 11.1 }, gridOf("clock", 0.9, time), (seconds, main) => seen.push([seconds, main]));
    expect(seen.map(([seconds]) => Number(seconds.toFixed(3)))).toEqual([9.6, 9.8, 10, 10.2, 10.4, 10.6, 10.8, 11]);
    expect(seen.filter(([, main]) => main).map(([seconds]) => Math.round(seconds))).toEqual([10, 11]);
  });
});

describe("regions", () => {
  it("are told by length and band", () => {
    expect(lengthLabel({ start: 1, end: 3.3415 })).toBe("2.341 s");
    expect(bandLabel({ low: 80, high: 12_500 })).toBe("80 Hz – 12.5 kHz");
  });
  it("enclose what is drawn by hand", () => {
    const outline = [
      { seconds: 1, hertz: 300 },
      { seconds: 3, hertz: 900 },
      { seconds: 2, hertz: 100 },
    ];
    expect(regionOfOutline(outline, 1)).toEqual({
      start: 1,
      end: 3,
      band: { low: 100, high: 900 },
      outline,
      channel: 1,
    });
  });
});

/** Ten seconds of 48 kHz, or pieces of twenty. */
const timed = (clips?: Clip[]) => ({
  editList: EditList.of(clips, clips ? 960_000 : 480_000),
  sampleRate: 48_000,
});

describe("markers of an item that is cut", () => {
  const marker = (id: string, start: number, end?: number): Marker => ({
    id,
    kind: "mark",
    name: "",
    start,
    ...(end ? { end } : {}),
  });
  const cut = timed(replaced([recordingClip(0, 960_000)], 48_000, 96_000));
  it("go along with what they mark, and wait in what is cut out", () => {
    const placed = placeMarkers([marker("a", 24_000), marker("b", 60_000), marker("c", 144_000, 192_000)], cut);
    expect(placed.map(({ id, seconds, endSeconds }) => [id, seconds, endSeconds])).toEqual([
      ["a", 0.5, null],
      ["c", 2, 3],
    ]);
  });
  it("are kept by their place in the recording", () => {
    expect(markedFrames(cut, 2, 3)).toEqual({ start: 144_000, end: 192_000 });
    expect(markedFrames(cut, 0.5, null)).toEqual({ start: 24_000 });
  });
});

describe("markers as text", () => {
  const markers: Marker[] = [
    { id: "a", kind: "retake", name: "breath, then “again”", start: 48_000 },
    { id: "b", kind: "mark", name: "", start: 96_000, end: 120_000 },
  ];
  it("come back from CSV as they were, from any place in the source", () => {
    const from = timed([recordingClip(24_000, 504_000)]);
    const csv = markersToCsv(placeMarkers(markers, from));
    const { markers: read, problems } = parseMarkers(csv, from);
    expect(problems).toEqual([]);
    expect(read).toEqual(markers.map(({ id: _, ...marker }) => marker));
  });
  it("come back from CSV whatever their names and times", () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ name: fc.string({ maxLength: 40 }), start: fc.integer({ min: 0, max: 479_000 }) }), {
          maxLength: 8,
        }),
        (given) => {
          const all = given.map(({ name, start }, i): Marker => ({
            id: String(i),
            kind: "cut",
            name: name.trim(),
            start,
          }));
          expect(
            parseMarkers(markersToCsv(placeMarkers(all, timed())), timed()).markers.map(({ start, name }) => [
              start,
              name,
            ]),
          ).toEqual(all.map(({ start, name }) => [start, name]).sort(([a], [b]) => Number(a) - Number(b)));
        },
      ),
    );
  });
  it("are read from lines of a time and a name", () => {
    const text = markersToText(placeMarkers(markers, timed())) + "0:07.5 the gate\n";
    expect(parseMarkers(text, timed()).markers).toMatchObject([
      { start: 48_000, name: "breath, then “again”" },
      { start: 96_000, end: 120_000 },
      { start: 360_000, name: "the gate" },
    ]);
  });
  it("say which lines could not be read, and why", () => {
    const { markers: read, problems } = parseMarkers(
      "start,end,kind,name\nsoon,,mark,x\n400,,mark,late\n2,1,mark,back\n1,,mark,good\n",
      timed(),
    );
    expect(read).toHaveLength(1);
    expect(problems.map((problem) => problem.slice(0, 7))).toEqual(["Line 2:", "Line 3:", "Line 4:"]);
  });
  it("have times as clock or seconds", () => {
    expect(parseClock("1:02:03.5")).toBe(3723.5);
    expect(parseClock("1:-2")).toBeNull();
  });
});

describe("lanes", () => {
  it("are switched, moved, and give height to each other, never all of it", () => {
    switchLane("spectrogram", true);
    moveLane("spectrogram", -9);
    expect(useLanes.getState().lanes[0]).toMatchObject({ id: "spectrogram", on: true });
    resizeLanes("spectrogram", "waveform", 999);
    const weights = Object.fromEntries(useLanes.getState().lanes.map(({ id, weight }) => [id, weight]));
    expect(weights.waveform).toBe(0.5);
    expect(weights.spectrogram! + weights.waveform!).toBeCloseTo(11, 6);
  });
});
