import { describe, expect, it } from "vitest";
import { newChainEntry, settingsOf } from "../processors";
import { PROGRAMME_ID } from "./document";
import { applyCommand, commandLabel, type Command } from "./commands";
import { openDocument, wholeChain, type ProjectDocument } from "./document";
import { layoutNamed } from "../audio/layout";
import { masterInputs } from "./master-inputs";
import { newProject } from "./templates";

const item = (id: string) => ({ id, name: id, source: "a".repeat(64), repairs: [], chain: [], markers: [] });
const empty = (): ProjectDocument => ({ ...newProject("Kestrel", "music"), items: [item("one"), item("two")] });
const after = (document: ProjectDocument, ...commands: unknown[]) =>
  commands.reduce<ProjectDocument>((now, command) => applyCommand(now, command as Command), document);
const add = (type: string, id: string, owner = "one") => ({
  type: "addProcessor",
  item: owner,
  entry: newChainEntry(type, id),
});

describe("commands on chains", () => {
  it("shape the programme's chain like an item's, and items go through it last", () => {
    const document = after(empty(), add("gain", "g"), add("limiter", "l", PROGRAMME_ID));
    expect(wholeChain(document, document.items[0]!).map(({ type }) => type)).toEqual(["gain", "limiter"]);
    expect(wholeChain(document, document.items[1]!).map(({ type }) => type)).toEqual(["limiter"]);
    expect(commandLabel(add("limiter", "l", PROGRAMME_ID), empty())).toBe("Add limiter to the programme");
  });
  it("flip between two settings and back, to the same", () => {
    const fields = { item: "one", entry: "g" };
    const first = after(empty(), add("gain", "g"), {
      type: "setParameter",
      ...fields,
      parameter: "gainDb",
      setting: 3,
    });
    const flipped = after(
      first,
      { type: "copySettings", ...fields },
      { type: "flipSettings", ...fields },
      { type: "setParameter", ...fields, parameter: "gainDb", setting: -9 },
      { type: "flipSettings", ...fields },
    ).items[0]!.chain[0]!;
    expect(settingsOf(flipped)).toEqual(settingsOf(first.items[0]!.chain[0]!));
    expect(flipped.alternateSettings).toMatchObject({ gainDb: -9 });
    expect(flipped.usesAlternate).toBe(false);
  });
  it("put a chain on other items, each with ids of its own", () => {
    const made = after(empty(), add("gain", "g"), add("filter", "f"));
    const copied = after(made, { type: "setChain", items: ["two"], chain: made.items[0]!.chain, prefix: "c" });
    expect(copied.items[1]!.chain.map(({ type }) => type)).toEqual(["gain", "filter"]);
    expect(new Set([...copied.items[0]!.chain, ...copied.items[1]!.chain].map(({ id }) => id)).size).toBe(4);
  });
  it("keep versions of a chain, put one to work again, and forget it", () => {
    const kept = after(
      empty(),
      add("gain", "g"),
      { type: "keepVersion", item: "one", id: "v", name: "quiet" },
      { type: "setParameter", item: "one", entry: "g", parameter: "gainDb", setting: 6 },
      add("filter", "f"),
    );
    expect(kept.items[0]!.versions![0]!.chain).toMatchObject([{ type: "gain", gainDb: 0 }]);
    const again = after(kept, { type: "takeVersion", item: "one", version: "v", prefix: "n" });
    expect(again.items[0]!.chain).toMatchObject([{ type: "gain", gainDb: 0, id: "n-0" }]);
    const taken = { type: "takeVersion", item: "one", version: "v", prefix: "n" } as Command;
    expect(commandLabel(taken, kept)).toBe("Put the chain “quiet” to work");
    expect(after(again, { type: "removeVersion", item: "one", version: "v" }).items[0]!.versions).toEqual([]);
    expect(() => after(empty(), taken)).toThrow();
  });
  it("keep what a person writes beside a processor, which changes no master", () => {
    const about = { note: "warm", dials: [{ name: "Drive", stands: "3 o’clock" }], photo: null };
    const written = after(empty(), add("outboard", "o"), { type: "setAbout", item: "one", entry: "o", about });
    expect(written.items[0]!.chain[0]!.about).toEqual(about);
    const deliverable = written.deliverables[0]!;
    const known = () => ({ layout: layoutNamed("stereo")!, sampleRate: 48000, frames: 48000 });
    const plain = after(empty(), add("outboard", "o"));
    expect(masterInputs(written, written.items[0]!, deliverable, known)).toEqual(
      masterInputs(plain, plain.items[0]!, deliverable, known),
    );
  });
  it("replace, bypass all, and keep presets", () => {
    const document = after(
      empty(),
      add("gain", "g"),
      add("filter", "f"),
      { type: "replaceProcessor", item: "one", entry: "g", with: newChainEntry("equaliser", "e") },
      { type: "bypassChain", item: "one", bypass: true },
      {
        type: "keepPreset",
        preset: {
          id: "p",
          name: "Quiet room",
          note: "",
          isDefault: true,
          chain: [{ type: "gain", bypass: false, gainDb: 2 }],
        },
      },
    );
    expect(document.items[0]!.chain.map(({ type, bypass }) => [type, bypass])).toEqual([
      ["equaliser", true],
      ["filter", true],
    ]);
    expect(document.presets[0]!.name).toBe("Quiet room");
    expect(after(document, { type: "removePreset", preset: "p" }).presets).toEqual([]);
  });
  it("refuse what a processor does not have, and settings out of range, and change nothing", () => {
    const document = after(empty(), add("compressor", "c"));
    const set = (settings: object) => ({ type: "setSettings", item: "one", entry: "c", settings, what: "x" });
    expect(() => after(document, set({ colour: 3 }))).toThrow(/no parameter "colour"/);
    expect(() => after(document, set({ ratio: 300 }))).toThrow();
    expect(() => after(document, { type: "flipSettings", item: "one", entry: "gone" })).toThrow(/no longer/);
  });
  it("move a setting over time, and only one that can move", () => {
    const line = (parameter: string, points: number[][]) => ({
      type: "setLine",
      item: "one",
      entry: "c",
      parameter,
      line: points,
    });
    const points = [
      [0, -20],
      [4, -30],
    ];
    const moved = after(empty(), add("compressor", "c"), line("thresholdDb", points));
    expect(moved.items[0]!.chain[0]!.automation).toEqual({ thresholdDb: points });
    expect(after(moved, line("thresholdDb", [])).items[0]!.chain[0]!.automation).toBeUndefined();
    expect(() => after(moved, line("lookAheadMs", points))).toThrow(/does not move/);
  });
  it("take bands and lines as settings", () => {
    const bands = [{ shape: "bell", hertz: 300, gainDb: -2, q: 1, slope: "12", on: true, sides: "all" }];
    const line = [
      [0, 0],
      [1, -3],
    ];
    const document = after(
      empty(),
      add("equaliser", "e"),
      add("leveller", "l"),
      { type: "setParameter", item: "one", entry: "e", parameter: "bands", setting: bands },
      { type: "setParameter", item: "one", entry: "l", parameter: "line", setting: line },
    );
    expect(document.items[0]!.chain[0]!["bands"]).toEqual(bands);
    expect(document.items[0]!.chain[1]!["line"]).toEqual(line);
    const backwards = {
      type: "setParameter",
      item: "one",
      entry: "l",
      parameter: "line",
      setting: [...line].reverse(),
    };
    expect(() => after(document, backwards)).toThrow(/points must follow/);
  });
});

describe("a stored project with a processor that cannot be used", () => {
  const stored = (entry: unknown) => {
    const document = after(empty(), add("gain", "g"));
    return JSON.parse(JSON.stringify({ ...document, items: [{ ...document.items[0], chain: [entry] }] })) as unknown;
  };
  it("opens with it set aside, says which and why, and keeps what it was", () => {
    const unknown = { type: "star-polisher", id: "s", bypass: false, shine: 3 };
    const [aside] = openDocument(stored(unknown)).items[0]!.chain;
    expect(aside).toMatchObject({ type: "unavailable", id: "s", bypass: true, original: unknown });
    expect(String(aside!["reason"])).toMatch(/star-polisher/);
    const broken = openDocument(stored({ type: "gain", id: "g", bypass: false, gainDb: "loud" })).items[0]!.chain[0]!;
    expect(String(broken["reason"])).toMatch(/^Gain: gainDb/);
    // It can be edited on, and stays what it is.
    const edited = after(openDocument(stored(unknown)), add("gain", "new"));
    expect(edited.items[0]!.chain.map(({ type }) => type)).toEqual(["unavailable", "gain"]);
  });
  it("opens as it is where nothing is wrong", () => {
    const fine = { type: "gain", id: "g", bypass: false, gainDb: 2, invert: false };
    expect(openDocument(stored(fine)).items[0]!.chain).toEqual([fine]);
  });
});
