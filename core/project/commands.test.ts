import { describe, expect, it } from "vitest";
import { newChainEntry } from "../processors";
import { applyCommand, commandLabel, CommandProblem, type Command } from "./commands";
import { deliverableInForce, projectSchema } from "./document";
import { newProject, TEMPLATES } from "./templates";

const HASH = "a".repeat(64);
const addSource: Command = {
  type: "addSource",
  source: { hash: HASH, name: "Harbour Bell.wav" },
  item: { id: "i1", name: "Harbour Bell", source: HASH, repairs: [], chain: [], markers: [] },
};
const withItem = () => applyCommand(newProject("Side one", "music"), addSource);
const withGain = () =>
  applyCommand(withItem(), { type: "addProcessor", item: "i1", entry: newChainEntry("gain", "p1") } as Command);

describe("project documents", () => {
  it.each(TEMPLATES.map(({ id }) => id))("from template %s are valid and have a deliverable in force", (id) => {
    const document = projectSchema.parse(newProject("New", id));
    expect(deliverableInForce(document)).toBeDefined();
  });
});

describe("commands", () => {
  it("leave the document they are given untouched", () => {
    const before = withItem();
    const copy = JSON.stringify(before);
    applyCommand(before, { type: "renameItem", item: "i1", name: "Other" } as Command);
    expect(JSON.stringify(before)).toBe(copy);
  });
  it("store a source once, however many items use it", () => {
    const again = { ...addSource, item: { ...addSource.item, id: "i2" } };
    const document = applyCommand(withItem(), again);
    expect(document.sources).toHaveLength(1);
    expect(document.items.map(({ id }) => id)).toEqual(["i1", "i2"]);
  });
  it("colour and take out several items at once, and say which", () => {
    const two = applyCommand(withItem(), {
      ...addSource,
      item: { ...addSource.item, id: "i2", name: "Reed" },
    } as Command);
    const coloured = applyCommand(two, { type: "colourItems", items: ["i1", "i2"], colour: "plum" } as Command);
    expect(coloured.items.map(({ colour }) => colour)).toEqual(["plum", "plum"]);
    expect(commandLabel({ type: "colourItems", items: ["i2"], colour: null } as Command, coloured)).toBe(
      "Colour “Reed”: none",
    );
    const out: Command = { type: "removeItems", items: ["i1", "i2"] };
    expect(commandLabel(out, coloured)).toBe("Take 2 items out of the running order");
    expect(applyCommand(coloured, out).items).toEqual([]);
    expect(() => applyCommand(coloured, { type: "removeItems", items: ["i1", "gone"] } as Command)).toThrow(
      CommandProblem,
    );
  });
  it("refuse a setting outside its range and name the parameter", () => {
    const set = (parameter: string, setting: number) => {
      const command: Command = { type: "setParameter", item: "i1", entry: "p1", parameter, setting };
      return () => applyCommand(withGain(), command);
    };
    expect(set("gainDb", 1000)).toThrow(/gainDb/);
    expect(set("colour", 1)).toThrow(CommandProblem);
  });
  it("say in words what they do", () => {
    const command: Command = { type: "setParameter", item: "i1", entry: "p1", parameter: "gainDb", setting: -3 };
    expect(commandLabel(command, withGain())).toBe("Gain −3 dB");
  });
  it("say what is gone rather than do nothing", () => {
    const removed = applyCommand(withGain(), { type: "removeProcessor", item: "i1", entry: "p1" } as Command);
    expect(removed.items[0]!.chain).toEqual([]);
    expect(() => applyCommand(removed, { type: "bypass", item: "i1", entry: "p1", bypass: true } as Command)).toThrow(
      /no longer/,
    );
    expect(() => applyCommand(removed, { type: "tidyUp" })).toThrow(/no command/);
  });
  it("keep a deliverable in force when the one in force goes", () => {
    const document = applyCommand(newProject("x", "music"), {
      type: "removeDeliverable",
      deliverable: "d1",
    } as Command);
    expect(document.activeDeliverable).toBe("d2");
  });
  it("set, change and take away markers, in the order of time", () => {
    const at = (id: string, start: number) => ({ id, kind: "mark", name: id, start }) as const;
    const added = applyCommand(withGain(), {
      type: "addMarkers",
      item: "i1",
      markers: [at("b", 900), at("a", 100)],
    } as Command);
    expect(added.items[0]!.markers.map(({ id }) => id)).toEqual(["a", "b"]);
    expect(() => applyCommand(added, { type: "addMarkers", item: "i1", markers: [at("a", 5)] } as Command)).toThrow(
      /already/,
    );
    const moved = applyCommand(added, { type: "setMarker", item: "i1", marker: at("a", 2000) } as Command);
    expect(moved.items[0]!.markers.map(({ id }) => id)).toEqual(["b", "a"]);
    const backwards = { ...at("a", 50), end: 40 };
    expect(() => applyCommand(added, { type: "setMarker", item: "i1", marker: backwards } as Command)).toThrow(
      /ends before/,
    );
    expect(
      applyCommand(moved, { type: "removeMarkers", item: "i1", markers: ["a", "b"] } as Command).items[0]!.markers,
    ).toEqual([]);
  });
  it("keep a tempo, and drop it", () => {
    const tempo = { beatsPerMinute: 93, beatsPerBar: 3, startSeconds: 0.2 };
    const set = applyCommand(withGain(), { type: "setTempo", item: "i1", tempo } as Command);
    expect(set.items[0]!.tempo).toEqual(tempo);
    expect(applyCommand(set, { type: "setTempo", item: "i1", tempo: null } as Command).items[0]!.tempo).toBeUndefined();
  });
  it("work on documents from before there were markers", () => {
    const { markers: _, ...item } = withGain().items[0]!;
    expect(projectSchema.parse({ ...withGain(), items: [item] }).items[0]!.markers).toEqual([]);
  });
});
