import { describe, expect, it } from "vitest";
import { newFade, type Fade } from "@core/programme/fade";
import { placementChangesSchema, placementOf } from "@core/programme/placement";
import { itemSchema, type Item } from "@core/project/document";
import { joinRows, joinSeconds, joinX, type JoinModel } from "./draw-join";
import { joinHandles, withPoint } from "./join-handles";
import { snappedGap } from "./snapped-gap";

const item = (name: string, placement: object = {}): Item =>
  itemSchema.parse({ id: name.toLowerCase(), name, source: "a".repeat(64), repairs: [], chain: [], placement });
const WIDTH = 800;
const HEIGHT = 300;

/** 8 s to each side of the second item's beginning, 20 ms a pixel; the first lasts 30 s, the second 20 s. */
function handles(before: object = {}, after: object = {}) {
  const [outgoing, incoming] = [item("Weir", before), item("Door", after)];
  const gap = placementOf(incoming).gapSeconds;
  const side = { name: "", gain: 1, columns: null };
  const model: JoinModel = {
    width: WIDTH,
    height: HEIGHT,
    reach: { before: 8, after: 8 },
    outgoing: { ...side, start: -gap - 30, end: -gap, fadeIn: undefined, fadeOut: placementOf(outgoing).fadeOut },
    incoming: { ...side, start: 0, end: 20, fadeIn: placementOf(incoming).fadeIn, fadeOut: undefined },
    from: -gap,
    to: 0,
    levels: null,
    shortTermFrom: 0,
  };
  const all = joinHandles(model, outgoing, incoming);
  return { model, all, of: (id: string) => all.find((one) => one.id === id)! };
}
const by = (seconds: number, gain = 0, free = true) => ({ seconds, gain, free });

describe("handles of a join", () => {
  it("are those of pause and fade ends where no fade is yet", () => {
    const { all, of, model } = handles({}, { gapSeconds: 2 });
    expect(all.map(({ id }) => id)).toEqual(["fadeOut-full", "gap", "fadeIn-full"]);
    expect(of("gap").x).toBeCloseTo(joinX(0, model), 9);
    expect(joinSeconds(of("fadeOut-full").x, model)).toBeCloseTo(-2, 9);
  });
  it("move the pause, below nothing too, and say which it is", () => {
    const { of } = handles({}, { gapSeconds: 1 });
    expect(of("gap").moved(by(0.5))).toEqual({ gapSeconds: 1.5 });
    const overlap = of("gap").moved(by(-2.25));
    expect(overlap).toEqual({ gapSeconds: -1.25 });
    expect(of("gap").words(overlap)).toBe("overlap 1.25 s");
    expect(of("gap").words({ gapSeconds: 2 })).toBe("pause 2.00 s");
    expect(of("gap").moved(by(-9999))).toEqual({ gapSeconds: -600 });
  });
  it("lengthen a fade-out to the left and a fade-in to the right, within the item", () => {
    const { of } = handles({ fadeOut: newFade(3) }, { fadeIn: newFade(2) });
    expect(of("fadeOut-full").moved(by(-1)).fadeOut!.seconds).toBe(4);
    expect(of("fadeIn-full").moved(by(1.5)).fadeIn!.seconds).toBe(3.5);
    expect(of("fadeOut-full").moved(by(-99)).fadeOut!.seconds).toBe(30);
    expect(of("fadeIn-full").moved(by(-99)).fadeIn!.seconds).toBe(0.01);
  });
  it("draw a fade out where there was none", () => {
    expect(handles().of("fadeIn-full").moved(by(1.25)).fadeIn).toEqual(newFade(1.25));
  });
  it("end a fade-out before the last sample, and not after it", () => {
    const { of } = handles({ fadeOut: newFade(3) });
    expect(of("fadeOut-end").moved(by(-0.75)).fadeOut!.insetSeconds).toBe(0.75);
    expect(of("fadeOut-end").moved(by(5)).fadeOut!.insetSeconds).toBe(0);
  });
  it("go through the shapes, and take a fade away", () => {
    const { of } = handles({ fadeOut: newFade(3, "S-curve") });
    expect(of("fadeOut-full").toggled!.fadeOut).toEqual(newFade(3, "logarithmic"));
    expect(of("fadeOut-full").removed).toEqual({ fadeOut: null });
    expect(of("gap").toggled).toBeUndefined();
  });
  it("lie out of the way where they are out of the picture", () => {
    expect(handles({ fadeOut: newFade(20) }).all.map(({ id }) => id)).not.toContain("fadeOut-full");
  });
});

describe("a fade that is drawn", () => {
  const drawn: Fade = {
    ...newFade(4, "drawn"),
    points: [
      [0, 0],
      [0.25, 0.5],
      [1, 1],
    ],
  };
  it("has a handle for each point between its ends, where the point is", () => {
    const { of, model, all } = handles({}, { fadeIn: drawn });
    expect(all.filter(({ id }) => id.includes("point"))).toHaveLength(1);
    const point = of("fadeIn-point-1");
    const row = joinRows(HEIGHT).incoming;
    expect(joinSeconds(point.x, model)).toBeCloseTo(1, 9);
    expect(point.y).toBeCloseTo(row.top + row.height / 2, 9);
  });
  it("follows its point across and up, between its neighbours", () => {
    const { of } = handles({}, { fadeIn: drawn });
    expect(of("fadeIn-point-1").moved(by(1, 0.2)).fadeIn!.points![1]).toEqual([0.5, 0.7]);
    expect(of("fadeIn-point-1").moved(by(99, 9)).fadeIn!.points![1]).toEqual([0.995, 1]);
    // Time of a fade-out goes the other way.
    expect(handles({ fadeOut: drawn }).of("fadeOut-point-1").moved(by(-1)).fadeOut!.points![1]![0]).toBeCloseTo(0.5, 9);
  });
  it("gets a point where two lie furthest apart, and loses one", () => {
    expect(withPoint(drawn).points).toEqual([
      [0, 0],
      [0.25, 0.5],
      [0.625, 0.75],
      [1, 1],
    ]);
    expect(withPoint(newFade(2))).toEqual(newFade(2));
    const { removed } = handles({}, { fadeIn: drawn }).of("fadeIn-point-1");
    expect(placementChangesSchema.parse(removed).fadeIn!.points).toEqual([
      [0, 0],
      [1, 1],
    ]);
  });
});

describe("pauses snap", () => {
  it("to half seconds, and to beats where the tempo is known, within some pixels", () => {
    expect(snappedGap(1.48, 0.01, {})).toBe(1.5);
    expect(snappedGap(1.3, 0.01, {})).toBe(1.3);
    expect(snappedGap(-0.02, 0.01, {})).toBeCloseTo(0, 9);
    const tempo = { beatsPerMinute: 80, beatsPerBar: 4, startSeconds: 0 };
    expect(snappedGap(2.24, 0.01, { tempo })).toBe(2.25);
    expect(snappedGap(1.48, 0.001, {})).toBe(1.48);
  });
});
