import { describe, expect, it } from "vitest";
import { newChainEntry } from "../processors";
import { applyCommand, type Command } from "./commands";
import { contradictingValues } from "./contradiction";
import { newProject } from "./templates";

const HASH = "a".repeat(64);
const base = (
  [
    {
      type: "addSource",
      source: { hash: HASH, name: "Reed.wav" },
      item: { id: "i1", name: "Reed", source: HASH, repairs: [], chain: [], markers: [] },
    },
    {
      type: "addSource",
      source: { hash: HASH, name: "Reed.wav" },
      item: { id: "i2", name: "Weir", source: HASH, repairs: [], chain: [], markers: [] },
    },
    { type: "addProcessor", item: "i1", entry: { ...newChainEntry("gain", "g"), gainDb: -5 } },
  ] satisfies Command[]
).reduce(applyCommand, newProject("Tide", "music"));

describe("values that contradict each other", () => {
  it("are told by where they stand, with their units", () => {
    const mine: Command = { type: "setParameter", item: "i1", entry: "g", parameter: "gainDb", setting: 7 };
    expect(contradictingValues(base, mine)).toEqual([{ what: "Reed · Gain · Gain", theirs: "−5 dB", mine: "7 dB" }]);
  });

  it("are switches and names as well", () => {
    const invert: Command = { type: "setParameter", item: "i1", entry: "g", parameter: "invert", setting: true };
    expect(contradictingValues(base, invert)).toEqual([
      expect.objectContaining({ theirs: expect.stringMatching(/none|off/), mine: "on" }),
    ]);
    const named = contradictingValues(base, { type: "renameItem", item: "i2", name: "Low Door" });
    expect(named).toEqual([{ what: "Low Door · name", theirs: "Weir", mine: "Low Door" }]);
  });

  it("are elements that are there for one alone", () => {
    const added: Command = { type: "addProcessor", item: "i1", entry: newChainEntry("limiter", "l") };
    expect(contradictingValues(base, added)).toEqual([{ what: "Reed · Limiter", theirs: "none", mine: "Limiter" }]);
    const removed: Command = { type: "removeProcessor", item: "i1", entry: "g" };
    expect(contradictingValues(base, removed)).toEqual([{ what: "Reed · Gain", theirs: "Gain", mine: "none" }]);
  });

  it("are the orders of a list", () => {
    const moved: Command = { type: "moveItem", item: "i2", to: 0 };
    expect(contradictingValues(base, moved)).toEqual([
      { what: "items · order", theirs: "Reed, Weir", mine: "Weir, Reed" },
    ]);
  });

  it("have units by what they are, and elements without names by what they are", () => {
    const placed: Command = {
      type: "placeItems",
      items: [{ item: "i2", changes: { gapSeconds: 1.5, gainDb: -2 } }],
      what: "place",
    };
    const places = contradictingValues(base, placed).map(({ what, mine }) => [what, mine]);
    expect(places).toContainEqual([expect.stringMatching(/gap$/), "1.5 s"]);
    expect(places).toContainEqual([expect.stringMatching(/gain$/), "−2 dB"]);
    const [deliverable] = base.deliverables;
    const removed: Command = { type: "removeDeliverable", deliverable: deliverable!.id };
    expect(contradictingValues(base, removed)[0]).toMatchObject({ what: deliverable!.spec, mine: "none" });
    const marker = { id: "m", kind: "cut" as const, name: "", start: 4800 };
    const marked = applyCommand(base, { type: "addMarkers", item: "i1", markers: [marker] } as Command);
    const moved: Command = { type: "setMarker", item: "i1", marker: { id: "m", kind: "cut", name: "", start: 9600 } };
    expect(contradictingValues(marked, moved)).toEqual([
      { what: "Reed · cut · start", theirs: "4800 frames", mine: "9600 frames" },
    ]);
  });

  it("are none where both come to the same", () => {
    const same: Command = { type: "setParameter", item: "i1", entry: "g", parameter: "gainDb", setting: -5 };
    expect(contradictingValues(base, same)).toEqual([]);
    const recipe: Command = { type: "applyRecipe", from: "i1", items: ["i2"] };
    expect(contradictingValues(base, recipe)).toHaveLength(1);
  });

  it("cannot be told of what is gone", () => {
    const gone: Command = { type: "setParameter", item: "i9", entry: "g", parameter: "gainDb", setting: 0 };
    expect(() => contradictingValues(base, gone)).toThrow();
  });
});
