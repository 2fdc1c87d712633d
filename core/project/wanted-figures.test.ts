import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { newFormat } from "../delivery/recipe";
import { newChainEntry } from "../processors";
import { applyCommand, type Command } from "./commands";
import { itemSchema, PROGRAMME_ID, projectSchema, type Deliverable, type ProjectDocument } from "./document";
import { newProject } from "./templates";
import { wantedFigures } from "./wanted-figures";

const item = (id: string, source: string) =>
  itemSchema.parse({ id, name: `Title ${id}`, source: source.repeat(64), repairs: [], chain: [], markers: [] });
const base: ProjectDocument = projectSchema.parse({
  ...newProject("Saltmarsh Hours", "music"),
  items: [item("a", "a"), item("b", "b")],
  sources: ["a", "b", "c"].map((letter) => ({ hash: letter.repeat(64), name: `${letter}.wav` })),
  deliverables: [],
});
const known = () => ({ layout: layoutNamed("stereo")!, sampleRate: 48_000, frames: 480_000 });
const edited = (...commands: Command[]) => commands.reduce<ProjectDocument>(applyCommand, base);
const gained = (owner: string): Command => ({
  type: "addProcessor",
  item: owner,
  entry: { ...newChainEntry("gain", "g"), gainDb: -3 },
});
const voices: Command = {
  type: "replaceRecordings",
  replacements: [{ item: "a", source: "c".repeat(64), mix: "voices" }],
};
const deliverable = (id: string, changes: Partial<Deliverable>): Command => ({
  type: "addDeliverable",
  deliverable: { id, spec: "streaming-14", format: newFormat(), ...changes },
});
const subjects = (document: ProjectDocument) => wantedFigures(document, known).map(({ subject }) => subject);

describe("figures that predictions begin with", () => {
  it("are wanted of items that something is done to: the programme's chain is done to all", () => {
    expect(subjects(base)).toEqual([]);
    expect(subjects(edited(gained("b")))).toEqual(["b"]);
    expect(subjects(edited(gained(PROGRAMME_ID)))).toEqual(["a", "b"]);
  });

  it("are wanted of every mix that is delivered, once for those made of the same recording", () => {
    expect(subjects(edited(voices, gained("a")))).toEqual(["a"]);
    const both = edited(voices, gained("a"), deliverable("v", { mix: "voices" }), deliverable("m", { mix: "main" }));
    expect(subjects(both)).toEqual(["a", "a"]);
    const sources = wantedFigures(both, known).map(({ inputs }) => "source" in inputs && inputs.source[0]);
    expect(sources).toEqual(["a", "c"]);
  });

  it("are wanted of the programme where it is delivered, and are others after each edit that is heard", () => {
    const whole = deliverable("w", { programme: "one file" });
    const hashOf = (...commands: Command[]) =>
      wantedFigures(edited(whole, ...commands), known).find(({ subject }) => subject === PROGRAMME_ID)!.hash;
    const pause: Command = {
      type: "placeItems",
      items: [{ item: "b", changes: { gapSeconds: 3 } }],
      what: "pause",
    };
    const hashes = [hashOf(), hashOf(pause), hashOf(gained(PROGRAMME_ID)), hashOf(gained("b")), hashOf(voices)];
    expect(new Set(hashes).size).toBe(4); // a mix that is not delivered changes nothing
    expect(hashes[4]).toBe(hashes[0]);
  });

  it("are not wanted of a programme that cannot be put together", () => {
    const whole = edited(deliverable("w", { programme: "one file" }));
    const layouts = (hash: string) => ({ ...known(), layout: layoutNamed(hash.startsWith("b") ? "5.1" : "7.1")! });
    expect(wantedFigures(whole, layouts)).toEqual([]);
    expect(wantedFigures(whole, known)).toHaveLength(1);
  });

  it("are not wanted while a recording is not read", () => {
    const unread = edited(gained("b"), deliverable("w", { programme: "one file" }));
    expect(wantedFigures(unread, (hash) => (hash.startsWith("b") ? null : known()))).toEqual([]);
  });
});
