import { describe, expect, it } from "vitest";
import { BOTTOM_DB, dbOfShare, shareOfDb, TOP_DB, withPoint, withPointMoved } from "./gain-line";

describe("a gain line over the map", () => {
  it("has its dB at heights, in steps of half a dB", () => {
    expect([shareOfDb(TOP_DB), shareOfDb(0), shareOfDb(BOTTOM_DB)]).toEqual([0, 0.25, 1]);
    expect(dbOfShare(0.25)).toBe(0);
    expect(dbOfShare(0.26)).toBe(-0.5);
    expect(shareOfDb(24)).toBe(0);
    expect(dbOfShare(1.4)).toBe(BOTTOM_DB);
  });
  it("gets points in order of time, one at a time", () => {
    const line = withPoint(withPoint([], [4, -3]), [1, 0]);
    expect(line).toEqual([
      [1, 0],
      [4, -3],
    ]);
    expect(withPoint(line, [4, -6])).toEqual([
      [1, 0],
      [4, -6],
    ]);
  });
  it("keeps a point that is moved between its neighbours, and within what it belongs to", () => {
    const line: [number, number][] = [
      [1, 0],
      [4, -3],
      [8, 0],
    ];
    expect(withPointMoved(line, 1, [9, -3], 10)[1]).toEqual([7.999, -3]);
    expect(withPointMoved(line, 1, [0, -90], 10)[1]).toEqual([1.001, -60]);
    expect(withPointMoved(line, 2, [50, 0], 10)[2]).toEqual([10, 0]);
    expect(withPointMoved(line, 0, [-2, 0], 10)[0]).toEqual([0, 0]);
  });
});
