import { describe, expect, it } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { newFade } from "@core/programme/fade";
import { laneSchema, PLAIN_PROGRAMME } from "@core/programme/programme";
import { programmeLevels } from "@core/programme/programme-levels";
import { timelineOf } from "@core/programme/timeline";
import { itemSchema, type Item } from "@core/project/document";
import { INKS, recorder } from "../../../tests/components/canvas-recorder";
import { drawJoin, joinSeconds, joinX, sideGain, type JoinModel } from "./draw-join";
import { clock, drawProgramme, programmeRows, type ProgrammeModel } from "./draw-programme";
import { shortened, stripsOf } from "./draw-strips";

const RATE = 1000;
const item = (id: string, placement: object = {}): Item =>
  itemSchema.parse({ id, name: `Title ${id}`, source: "a".repeat(64), repairs: [], chain: [], placement });

/** Two items of 20 s after one another, and a bed; 100 pixels for each 10 s. */
function model(changes: Partial<ProgrammeModel> = {}): ProgrammeModel {
  const items = [
    item("a"),
    item("b", { gapSeconds: 10, fadeIn: newFade(10, "linear") }),
    item("bed", { lane: "l", atSeconds: 5 }),
  ];
  const lanes = [laneSchema.parse({ id: "l", name: "Bed" })];
  const timeline = timelineOf(items, PLAIN_PROGRAMME, () => ({
    frames: 20 * RATE,
    sampleRate: RATE,
    layout: layoutNamed("mono")!,
  }))!;
  const levels = programmeLevels(timeline, items, lanes, (id) => ({
    momentaryLufs: new Float32Array(200).fill(id === "a" ? -14 : -24),
    truePeakDbtp: -3,
  }));
  return {
    width: 500,
    height: 200,
    view: { start: 0, end: 50 },
    timeline,
    items,
    lanes,
    references: [],
    markers: [{ id: "m", name: "turn", start: 25 }],
    levels,
    peaksOf: () => new Float32Array(200).fill(0.5),
    trimmedOf: () => ({ head: 0, tail: 0 }),
    inHand: "b",
    join: null,
    target: { min: -15, max: -13 },
    ...changes,
  };
}

function drawn(changes: Partial<ProgrammeModel> = {}) {
  const pen = recorder();
  const given = model(changes);
  drawProgramme(pen.context, given, INKS);
  return { ...pen, rows: programmeRows(given.height, given.lanes.length) };
}

describe("strips below the order", () => {
  it("are the lanes, then the references where there are any", () => {
    const { timeline, items, lanes } = model();
    const strips = { timeline, items, lanes, inHand: "bed" };
    expect(stripsOf({ ...strips, references: [] })).toEqual([
      { label: "Bed", isMuted: false, blocks: [{ name: "Title bed", start: 5000, end: 25_000, inHand: true }] },
    ]);
    const [, second] = stripsOf({ ...strips, references: [{ name: "Test pressing", start: -500, end: 9000 }] });
    expect(second).toEqual({
      label: "references",
      isMuted: false,
      blocks: [{ name: "Test pressing", start: -500, end: 9000, inHand: false }],
    });
  });
  it("of a reference take a row of their own: loudness is drawn lower", () => {
    const references = [{ name: "Test pressing", start: 0, end: 20_000 }];
    const { texts, points } = drawn({ references });
    expect(texts).toEqual(expect.arrayContaining(["Test pressing", "references"]));
    const top = (all: typeof points) => Math.min(...all.filter(({ ink }) => ink === "ink").map(({ y }) => y));
    expect(top(points)).toBeGreaterThan(top(drawn().points));
  });
});

describe("the map of a programme", () => {
  it("puts items where they are in time, the one in hand marked", () => {
    const { rects, rows } = drawn();
    const blocks = rects.filter(({ y, height }) => y === rows.blocks.top && height === rows.blocks.height);
    expect(blocks.map(({ x, width, ink }) => [x, width, ink])).toEqual([
      [0, 200, "grid"],
      [300, 200, "ground"],
    ]);
  });
  it("draws peaks with the fades that they have there", () => {
    const { rects, rows } = drawn();
    const columns = (from: number, to: number) =>
      rects.filter(
        ({ x, width, y }) => width === 1 && x >= from && x < to && y >= rows.blocks.top && y < rows.lanesTop,
      );
    const tall = columns(100, 101)[0]!.height;
    expect(tall).toBeCloseTo(rows.blocks.height / 2 - 2, 0);
    // Half way up a linear fade of 10 s.
    expect(columns(350, 351)[0]!.height).toBeCloseTo(tall / 2, 0);
    expect(columns(450, 451)[0]!.height).toBeCloseTo(tall, 0);
    expect(columns(210, 290)).toEqual([]);
  });
  it("lays the target band under the short-term loudness of the whole", () => {
    const { rects, points, rows } = drawn();
    const band = rects.find(({ ink, width }) => ink === "band" && width === 500)!;
    const line = points.filter(({ ink, y }) => ink === "ink" && y >= rows.loudness.top);
    const at = (x: number) => line.find((point) => Math.round(point.x) === x)!.y;
    // −14 LUFS lies in the band, −24 below it.
    expect(at(150)).toBeGreaterThan(band.y);
    expect(at(150)).toBeLessThan(band.y + band.height);
    expect(at(470)).toBeGreaterThan(band.y + band.height);
  });
  it("names items, lanes, markers, the loudest and the quietest", () => {
    const { texts } = drawn();
    expect(texts).toEqual(expect.arrayContaining(["1  Title a", "2  Title b", "Bed", "turn", "loudest", "quietest"]));
  });
  it("marks heads and tails that were cut off", () => {
    const notches = (trim: { head: number; tail: number }) => {
      const { points, rows } = drawn({ trimmedOf: (one) => (one.id === "a" ? trim : { head: 0, tail: 0 }) });
      return points.filter(({ y }) => y === rows.blocks.top + rows.blocks.height - 6).map(({ x }) => x);
    };
    expect(notches({ head: 0, tail: 0 })).toEqual([]);
    expect(notches({ head: 100, tail: 0 })).toEqual([0]);
    expect(notches({ head: 100, tail: 5 })).toEqual([0, 200]);
  });
  it("frames the join in hand, and draws nothing of what is not in view", () => {
    const { rects, rows } = drawn({ join: { from: 20 * RATE, to: 30 * RATE } });
    const frame = rects.find(({ y }) => y === rows.blocks.top - 2)!;
    expect(frame.x).toBe(196);
    expect(frame.width).toBe(108);
    expect(drawn({ view: { start: 100, end: 150 } }).rects.filter(({ ink }) => ink === "ground")).toEqual([]);
  });
  it("is empty but for its frame while levels are on their way", () => {
    const { points, rows } = drawn({ levels: null, peaksOf: () => null });
    expect(points.filter(({ ink, y }) => ink === "ink" && y >= rows.loudness.top && y < rows.rulerTop)).toEqual([]);
  });
});

it("words are shortened to what fits, and times told as a clock", () => {
  const { context } = recorder();
  expect(shortened(context, "Kestrel Weather", 200)).toBe("Kestrel Weather");
  expect(shortened(context, "Kestrel Weather", 42)).toBe("Kestr…");
  expect(shortened(context, "Kestrel Weather", 3)).toBe("");
  expect([clock(5), clock(125), clock(3723)]).toEqual(["0:05", "2:05", "1:02:03"]);
});

describe("the picture of a join", () => {
  const side = {
    name: "1  A",
    start: -20,
    end: 2,
    fadeIn: undefined,
    fadeOut: newFade(4, "linear"),
    gain: 0.5,
    columns: null,
  };
  const join: JoinModel = {
    width: 400,
    height: 200,
    reach: { before: 8, after: 8 },
    outgoing: side,
    incoming: { ...side, name: "2  B", start: 0, end: 30, fadeIn: newFade(2, "linear"), fadeOut: undefined },
    from: 2,
    to: 0,
    levels: { shortTerm: new Float64Array(400).fill(0.01) },
    shortTermFrom: -20,
  };
  it("counts seconds from its middle, there and back", () => {
    expect(joinX(0, join)).toBe(200);
    expect(joinSeconds(joinX(-3.3, join), join)).toBeCloseTo(-3.3, 12);
  });
  it("follows gain and fades, and is silent beyond an item's ends", () => {
    expect(sideGain(side, -10)).toBe(0.5);
    expect(sideGain(side, 0)).toBeCloseTo(0.25, 12);
    expect(sideGain(side, 2.1)).toBe(0);
    expect(sideGain(join.incoming, -0.1)).toBe(0);
    expect(sideGain(join.incoming, 1)).toBeCloseTo(0.25, 12);
  });
  it("shades the overlap, and draws both fades and the loudness across", () => {
    const pen = recorder();
    drawJoin(pen.context, join, INKS);
    const shade = pen.rects.find(({ ink }) => ink === "ground")!;
    expect([shade.x, shade.width]).toEqual([200, 50]);
    const fades = pen.points.filter(({ ink }) => ink === "act").map(({ x }) => x);
    expect(Math.min(...fades)).toBeCloseTo(joinX(-2, join), 6);
    expect(Math.max(...fades)).toBeCloseTo(joinX(2, join), 6);
    const loudness = pen.points.filter(({ ink }) => ink === "outside");
    expect(loudness.length).toBeGreaterThan(100);
    expect(pen.texts).toEqual(expect.arrayContaining(["1  A", "2  B", "0 s"]));
  });
});
