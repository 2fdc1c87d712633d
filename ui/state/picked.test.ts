import { describe, expect, it } from "vitest";
import { isPick, pickedAfter, type Picked } from "./picked";

const ORDER = ["a", "b", "c", "d", "e"];
const keys = (held: "ctrl" | "meta" | "shift" | "") => ({
  ctrlKey: held === "ctrl",
  metaKey: held === "meta",
  shiftKey: held === "shift",
});
const clicks = (...steps: [string, Parameters<typeof keys>[0]][]): Picked =>
  steps.reduce((now, [id, held]) => pickedAfter(now, id, ORDER, keys(held)), { ids: [], anchor: null } as Picked);

describe("picking several", () => {
  it("takes in one by one, in the order in which they are shown, and takes them out again", () => {
    expect(clicks(["d", "ctrl"], ["a", "ctrl"]).ids).toEqual(["a", "d"]);
    expect(clicks(["d", "meta"], ["a", "meta"], ["d", "meta"]).ids).toEqual(["a"]);
  });
  it("means the one that was clicked before as well", () => {
    expect(clicks(["b", ""], ["d", "ctrl"]).ids).toEqual(["b", "d"]);
    expect(clicks(["b", ""], ["b", "ctrl"]).ids).toEqual(["b"]);
  });
  it("takes a stretch from the one before, either way, and from there again", () => {
    expect(clicks(["b", ""], ["d", "shift"]).ids).toEqual(["b", "c", "d"]);
    expect(clicks(["d", ""], ["b", "shift"]).ids).toEqual(["b", "c", "d"]);
    expect(clicks(["c", ""], ["e", "shift"], ["a", "shift"]).ids).toEqual(["a", "b", "c"]);
  });
  it("begins anew where the one before is gone", () => {
    expect(pickedAfter({ ids: ["x", "y"], anchor: "x" }, "c", ORDER, keys("shift")).ids).toEqual(["c"]);
    expect(pickedAfter({ ids: ["x", "b"], anchor: "x" }, "c", ORDER, keys("ctrl")).ids).toEqual(["b", "c"]);
  });
  it("ends with a plain click", () => {
    expect(clicks(["b", ""], ["d", "shift"], ["c", ""])).toEqual({ ids: [], anchor: "c" });
    expect(isPick(keys(""))).toBe(false);
    expect(isPick(keys("shift"))).toBe(true);
  });
});
