import { describe, expect, it } from "vitest";
import { EditList } from "../edit-list/edit-list";
import { alignedAtSeconds, heardReferences, placedReferences } from "./references";
import { referenceSchema } from "./programme";

const RATE = 48_000;
const HASH = "a".repeat(64);
const reference = (item: string | null, atSeconds = 0) =>
  referenceSchema.parse({ id: `r-${item ?? "whole"}`, source: HASH, item, atSeconds });
const place = (item: string, from: number, to: number) => ({
  item,
  lane: null,
  start: from * RATE,
  end: to * RATE,
  fadeEnd: to * RATE,
  gap: 0,
});
const timeline = { sampleRate: RATE, order: [place("a", 1, 11), place("b", 13, 23)], onLanes: [] };
const format =
  (seconds: number, sampleRate = RATE) =>
  () => ({ frames: seconds * sampleRate, sampleRate });
const seconds = (...placed: ReturnType<typeof placedReferences>) =>
  placed.map(({ start, end }) => [start / RATE, end / RATE]);

describe("references beside the programme", () => {
  it("begin where their item begins, and end with it at the latest", () => {
    const placed = placedReferences([reference("a", 0.5), reference("b")], timeline, format(60));
    expect(seconds(...placed)).toEqual([
      [1.5, 11],
      [13, 23],
    ]);
    expect(seconds(...placedReferences([reference("a")], timeline, format(4)))).toEqual([[1, 5]]);
  });
  it("of the whole lie from the programme's beginning, at their own length", () => {
    expect(seconds(...placedReferences([reference(null, -2)], timeline, format(60, 44_100)))).toEqual([[-2, 58]]);
  });
  it("have no place while they are not read, without their item, or where they lie before it", () => {
    expect(placedReferences([reference("a")], timeline, () => null)).toEqual([]);
    expect(placedReferences([reference("gone")], timeline, format(4))).toEqual([]);
    expect(placedReferences([reference("a", 20)], timeline, format(4))).toEqual([]);
  });
  it("are heard one at a place: the chosen one of an item, else its first", () => {
    const [one, other, whole] = [reference("a"), { ...reference("a"), id: "r-other" }, reference(null)];
    const heard = (chosen: string | null) =>
      heardReferences([one, other, whole, reference("b")], chosen).map(({ id }) => id);
    expect(heard(null)).toEqual(["r-a", "r-b"]);
    expect(heard("r-other")).toEqual(["r-other", "r-b"]);
    expect(heard("r-whole")).toEqual(["r-whole"]);
    expect(heard("gone")).toEqual(["r-a", "r-b"]);
    expect(heardReferences([whole], null)).toEqual([whole]);
    expect(heardReferences([], null)).toEqual([]);
  });
  it("lie on the item's recording where they were aligned by sound", () => {
    // The item begins 2 s into its recording, and the reference has the same 0.25 s later.
    const cut = EditList.of([{ kind: "recording", start: 2 * RATE, end: 12 * RATE }], 20 * RATE);
    const at = alignedAtSeconds(cut, 0.25 * RATE, RATE);
    const [placed] = placedReferences([reference("b", at)], timeline, format(60));
    expect(placed!.start).toBe(13 * RATE - 2.25 * RATE);
    const late = EditList.of([{ kind: "silence", start: 0, end: RATE }, ...cut.clips], 20 * RATE);
    expect(alignedAtSeconds(late, 0.25 * RATE, RATE)).toBe(at + 1);
  });
});
