import { describe, expect, it } from "vitest";
import { speechLike } from "../testing/degraded";
import { layoutNamed } from "../audio/layout";
import { measured } from "../testing/measured";
import { comparedValues, consistencyOf, numberIn, type ComparedItem } from "./consistency";

const RATE = 16_000;
const chapter = (id: number, x: Float32Array, name = `Chapter ${id}`): ComparedItem => ({
  id: `c${id}`,
  name,
  values: comparedValues(measured([x], { sampleRate: RATE, layout: layoutNamed("mono")! })),
  sampleRate: RATE,
  channels: 1,
});
const speech = (seed: number) => speechLike(8, RATE, seed);

describe("six chapters, of which one lies apart", () => {
  const chapters = (change: (x: Float32Array) => Float32Array) =>
    [1, 2, 3, 4, 5, 6].map((id) => chapter(id, id === 4 ? change(speech(id)) : speech(id)));
  it("is told first: by level", () => {
    const { items } = consistencyOf(chapters((x) => x.map((v) => v * 0.4)));
    expect(items[0]!.id).toBe("c4");
    expect(items[0]!.apart).toEqual(expect.arrayContaining(["integratedLufs", "rmsDbfs"]));
  });
  it("is told first: by tone", () => {
    let before = 0;
    const dull = (x: Float32Array) => x.map((v) => (before += 0.15 * (v - before)));
    const { items } = consistencyOf(chapters(dull));
    expect(items[0]!.id).toBe("c4");
    expect(items[0]!.apart).toContain("spectralTiltDbPerOctave");
  });
});

it("names and formats that do not go on are remarked", () => {
  const x = speech(1);
  const { items } = consistencyOf([
    chapter(1, x, "Chapter one"),
    chapter(2, x, "Chapter two"),
    { ...chapter(3, x, "Chapter four"), sampleRate: 48_000, channels: 2 },
  ]);
  expect(items[0]!.remarks).toEqual(["48000 Hz, others 16000 Hz", "2 channels, others 1", "number 4 follows 2"]);
  expect(numberIn("Opening credits")).toBeNull();
  expect(numberIn("07 The Weir")).toBe(7);
});
