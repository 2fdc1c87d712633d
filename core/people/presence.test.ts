import { describe, expect, it } from "vitest";
import { GONE_MS, withPresence, isSamePlace, presenceSchema, type Presence } from "./presence";

const at = (page: string, more: Partial<Presence> = {}): Presence => ({
  ...{ name: page, page, stage: "shape", item: "i1", seconds: 4, playing: false },
  ...{ selection: null, view: null, asks: false, leaves: false },
  ...more,
});

describe("who is here", () => {
  it("are those who were heard of lately, each once, until they leave", () => {
    let others = withPresence({}, at("page-one"), 0);
    others = withPresence(others, at("page-two"), 1000);
    others = withPresence(others, at("page-one", { stage: "deliver" }), 2000);
    expect(Object.keys(others).sort()).toEqual(["page-one", "page-two"]);
    expect(others["page-one"]!.presence.stage).toBe("deliver");
    expect(Object.keys(withPresence(others, at("page-three"), 1000 + GONE_MS))).toEqual(["page-one", "page-three"]);
    expect(Object.keys(withPresence(others, at("page-two", { leaves: true }), 3000))).toEqual(["page-one"]);
  });
});

describe("a place", () => {
  it("is another one by anything but a playhead that runs", () => {
    expect(isSamePlace(at("p"), at("p", { seconds: 4.3 }), 0.4)).toBe(true);
    for (const more of [{ seconds: 4.5 }, { stage: "repair" }, { playing: true }, { selection: { start: 0, end: 1 } }])
      expect(isSamePlace(at("p"), at("p", more), 0.4)).toBe(false);
  });
  it("is taken from others as far as it is one", () => {
    const { name: _, ...place } = at("page-one");
    expect(presenceSchema.safeParse(place).success).toBe(true);
    for (const wrong of [
      { seconds: NaN },
      { seconds: -1 },
      { page: "x".repeat(99) },
      { more: 1 },
      { view: { start: 0 } },
    ])
      expect(presenceSchema.safeParse({ ...place, ...wrong }).success).toBe(false);
  });
});
