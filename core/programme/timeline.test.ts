import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { cutsOf, markedStretches } from "./cuts";
import { newFade } from "./fade";
import type { Placeable, StoredPlacement } from "./placement";
import { PAUSE_PLACES, PLAIN_PROGRAMME } from "./programme";
import { joinsOf, timelineOf, type Timeline } from "./timeline";

const RATE = 44_100;
const item = (id: string, placement: StoredPlacement = {}): Placeable => ({ id, placement });
const lasting =
  (frames: number, sampleRate = RATE, layout = "stereo") =>
  () => ({
    frames,
    sampleRate,
    layout: layoutNamed(layout)!,
  });
const whole = PLAIN_PROGRAMME;
const placed = (items: Placeable[], programme = whole, formatOf: Parameters<typeof timelineOf>[2] = lasting(RATE)) =>
  timelineOf(items, programme, formatOf)!;
const starts = ({ order }: Timeline) => order.map(({ start }) => start);

describe("places in a programme", () => {
  it("follow one another, after pauses of exact length", () => {
    const timeline = placed([
      item("a", { gapSeconds: 9 }),
      item("b", { gapSeconds: 2 }),
      item("c", { gapSeconds: 0.001 }),
    ]);
    expect(starts(timeline)).toEqual([0, 3 * RATE, 4 * RATE + 44]);
    expect(timeline.frames).toBe(5 * RATE + 44);
    expect(timeline.order.map(({ gap }) => gap)).toEqual([0, 2 * RATE, 44]);
  });
  it("count a pause from the end of a fade, or from the last sample", () => {
    const fadeOut = { ...newFade(0.2), insetSeconds: 0.5 };
    const gap = { gapSeconds: 1 };
    expect(starts(placed([item("a", { fadeOut }), item("b", gap)]))).toEqual([0, 1.5 * RATE]);
    expect(starts(placed([item("a", { fadeOut }), item("b", { ...gap, gapFrom: "last sample" })]))).toEqual([
      0,
      2 * RATE,
    ]);
  });
  it("overlap where a pause is below nothing, never before the item that they follow", () => {
    expect(starts(placed([item("a"), item("b", { gapSeconds: -0.25 })]))).toEqual([0, 0.75 * RATE]);
    expect(starts(placed([item("a"), item("b", { gapSeconds: -30 })]))).toEqual([0, 0]);
  });
  it("leave silence of exact length at head and tail", () => {
    const timeline = placed([item("a"), item("b")], { ...whole, headSeconds: 0.5, tailSeconds: 3 });
    expect(starts(timeline)).toEqual([RATE / 2, 1.5 * RATE]);
    expect(timeline.frames).toBe(5.5 * RATE);
  });
  it("are whole sectors of a CD where that is wanted", () => {
    const timeline = placed([item("a"), item("b", { gapSeconds: 0.3333 }), item("c", { gapSeconds: -0.1 })], {
      ...whole,
      cdRule: true,
    });
    for (const start of [...starts(timeline), timeline.frames]) expect(start % 588).toBe(0);
    expect(timeline.order[1]!.start - (RATE + Math.round(0.3333 * RATE))).toBeLessThan(588);
  });
  it("on lanes are counted from the programme's beginning, or from an item that they move with", () => {
    const bed = { lane: "bed", atSeconds: 0.5 };
    const items = (gapSeconds: number) => [
      item("a"),
      item("b", { gapSeconds }),
      item("x", bed),
      item("y", { ...bed, anchor: "b" }),
      item("z", { ...bed, anchor: "gone" }),
    ];
    expect(placed(items(1)).onLanes.map(({ start }) => start / RATE)).toEqual([0.5, 2.5, 0.5]);
    expect(placed(items(4)).onLanes.map(({ start }) => start / RATE)).toEqual([0.5, 5.5, 0.5]);
  });
  it("have the rate of the first item, and its frames at that rate", () => {
    const formats: Record<string, ReturnType<ReturnType<typeof lasting>>> = {
      a: lasting(48_000, 48_000)(),
      b: lasting(44_100, 44_100, "5.1")(),
    };
    const timeline = placed([item("a"), item("b")], whole, (id) => formats[id]!);
    expect(timeline.sampleRate).toBe(48_000);
    expect(timeline.layout.name).toBe("5.1");
    expect(timeline.order[1]).toMatchObject({ start: 48_000, end: 96_000 });
  });
  it("are not known while the order is empty or an item is not read", () => {
    expect(timelineOf([], whole, lasting(1))).toBeNull();
    expect(timelineOf([item("bed", { lane: "bed" })], whole, lasting(1))).toBeNull();
    expect(timelineOf([item("a"), item("b")], whole, (id) => (id === "a" ? lasting(1)() : null))).toBeNull();
  });
});

describe("joins", () => {
  it("are the pause, or the overlap, between two items", () => {
    const timeline = placed([item("a"), item("b", { gapSeconds: 2 }), item("c", { gapSeconds: -0.5 })]);
    expect(joinsOf(timeline).map(({ from, to }) => [from / RATE, to / RATE])).toEqual([
      [1, 3],
      [3.5, 4],
    ]);
  });
});

const anyOrder = fc.array(
  fc.record({
    seconds: fc.integer({ min: 1, max: 60 }),
    gapSeconds: fc.integer({ min: -20, max: 40 }).map((tenths) => tenths / 10),
    insetSeconds: fc.integer({ min: 0, max: 9 }).map((tenths) => tenths / 10),
    hidden: fc.boolean(),
  }),
  { minLength: 1, maxLength: 12 },
);

describe("cuts of a programme into files", () => {
  it("hold every sample once, whatever the order, unless pauses are left out", () => {
    fc.assert(
      fc.property(anyOrder, fc.constantFrom(...PAUSE_PLACES), fc.boolean(), (rows, pauses, cdRule) => {
        const items = rows.map(({ gapSeconds, insetSeconds, hidden }, i) =>
          item(`i${i}`, { gapSeconds, hidden, fadeOut: { ...newFade(0.1), insetSeconds } }),
        );
        const programme = { ...whole, cdRule, headSeconds: 0.4, tailSeconds: 1.1 };
        const timeline = timelineOf(items, programme, (id) => lasting(rows[Number(id.slice(1))]!.seconds * RATE)())!;
        const cuts = cutsOf(timeline, items, pauses);
        for (const { start, end } of cuts) expect(end).toBeGreaterThanOrEqual(start);
        if (pauses === "left out") return;
        expect(cuts[0]!.start).toBe(0);
        expect(cuts.at(-1)!.end).toBe(timeline.frames);
        cuts.slice(1).forEach(({ start }, i) => expect(start).toBe(cuts[i]!.end));
      }),
    );
  });
  it("put pauses where they are wanted", () => {
    const items = [item("a"), item("b", { gapSeconds: 2 }), item("c", { gapSeconds: -0.5 })];
    const timeline = placed(items);
    const cuts = (pauses: (typeof PAUSE_PLACES)[number]) =>
      cutsOf(timeline, items, pauses).map(({ start, end }) => [start / RATE, end / RATE]);
    expect(cuts("end of the item before")).toEqual([
      [0, 3],
      [3, 3.5],
      [3.5, 4.5],
    ]);
    expect(cuts("start of the next")).toEqual([
      [0, 1],
      [1, 3.5],
      [3.5, 4.5],
    ]);
    expect(cuts("left out")).toEqual([
      [0, 1],
      [3, 3.5],
      [3.5, 4.5],
    ]);
  });
  it("give what is hidden before the first title no file of its own", () => {
    const items = [item("a", { hidden: true }), item("b", { gapSeconds: 1 })];
    expect(cutsOf(placed(items), items, "end of the item before")).toEqual([{ item: "b", start: 0, end: 3 * RATE }]);
  });
});

describe("stretches of markers", () => {
  const timeline = { frames: 60 * RATE, sampleRate: RATE };
  const marker = (id: string, start: number, end?: number) => ({
    id,
    name: "",
    start,
    ...(end ? { end } : {}),
  });
  it("go to the marker's own end, to the next marker, or to the end of the programme", () => {
    const markers = [marker("m1", 5), marker("m2", 20, 22.5), marker("m3", 40)];
    const stretches = markedStretches(timeline, markers);
    expect(stretches.map(({ item: id, start, end }) => [id, start / RATE, end / RATE])).toEqual([
      ["m1", 5, 20],
      ["m2", 20, 22.5],
      ["m3", 40, 60],
    ]);
  });
  it("may overlap, begin at one place, and are none beyond the end", () => {
    const markers = [marker("m1", 10, 50), marker("m3", 10), marker("m4", 55, 90), marker("m5", 61)];
    expect(markedStretches(timeline, markers).map(({ start, end }) => [start / RATE, end / RATE])).toEqual([
      [10, 50],
      [10, 55],
      [55, 60],
    ]);
  });
});
