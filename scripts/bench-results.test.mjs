import { describe, expect, it } from "vitest";
import { median, worseThan } from "../bench/results.mjs";

describe("results of the benches", () => {
  it("are worse from 15 % on, each against its own last one", () => {
    const before = { a: { ratio: 0.4 }, b: { ratio: 2 } };
    expect(worseThan(before, { a: { ratio: 0.45 }, b: { ratio: 2.29 } })).toEqual([]);
    expect(worseThan(before, { a: { ratio: 0.47 }, b: { ratio: 1 } })).toEqual(["a"]);
  });
  it("are not worse the first time", () => {
    expect(worseThan({}, { a: { ratio: 9 } })).toEqual([]);
  });
  it("stand at the middle of their runs", () => {
    expect(median([5, 1, 3])).toBe(3);
    expect(median([100, 9, 10])).toBe(10);
  });
});
