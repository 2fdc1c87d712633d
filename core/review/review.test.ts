import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { approvalState } from "./approval";
import { matchedGainsDb } from "./level-match";
import { mergedRanges, shareHeard, type Range } from "./ranges";

const ranges = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 100 }))
    .map(([a, b]): Range => [Math.min(a, b), Math.max(a, b)]),
  { maxLength: 12 },
);
const holds = (all: readonly Range[], at: number) => all.some(([from, to]) => at > from && at < to);

describe("ranges that were heard", () => {
  it("hold together what they held apart, in order and apart from each other", () => {
    fc.assert(
      fc.property(ranges, (given) => {
        const merged = mergedRanges(given);
        for (let at = 0.5; at < 100; at++) expect(holds(merged, at)).toBe(holds(given, at));
        merged.slice(1).forEach(([from], i) => expect(from).toBeGreaterThan(merged[i]![1]));
      }),
    );
  });
  it("are one where the gap between them is small", () => {
    expect(
      mergedRanges(
        [
          [3, 4],
          [0, 1],
          [1.4, 2],
        ],
        0.5,
      ),
    ).toEqual([
      [0, 2],
      [3, 4],
    ]);
  });
  it("are a share of the file, that of nothing included", () => {
    expect(
      shareHeard(
        [
          [0, 5],
          [4, 8],
          [20, 30],
        ],
        10,
      ),
    ).toBeCloseTo(0.8);
    expect([shareHeard([], 10), shareHeard([[0, 99]], 10), shareHeard([[0, 1]], 0)]).toEqual([0, 1, 0]);
  });
});

describe("files that are compared", () => {
  it("are turned down to the quietest of them, none up", () => {
    expect(matchedGainsDb([-14, -23, -16])).toEqual([-9, 0, -7]);
  });
  it("stay as they are where nothing was measured", () => {
    expect(matchedGainsDb([-14, null, -Infinity])).toEqual([0, 0, 0]);
    expect(matchedGainsDb([])).toEqual([]);
  });
});

describe("a decision", () => {
  it.each([
    [true, "a", "approved"],
    [false, "a", "sent back"],
    [true, "b", "approved another file"],
    [false, null, "sent another file back"],
  ])("(%s) about the file a is, of the file %s, %s", (approved, hash, state) => {
    expect(approvalState({ approved, file_hash: "a" }, hash)).toBe(state);
  });
  it("that was not made is none", () => expect(approvalState(undefined, "a")).toBeNull());
});
