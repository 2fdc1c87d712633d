/** Edits on a stale state: which contradict one another, by the paths that they read and write. */
import { describe, expect, it } from "vitest";
import { newChainEntry } from "../processors";
import { newRepairStep } from "../repair";
import { learnNoiseProfile } from "../repair/noise-profile";
import { newFormat } from "../delivery/recipe";
import { SPECS } from "../delivery/specs";
import { newFade } from "../programme/fade";
import { laneSchema, newDucker, ORDER } from "../programme/programme";
import { steadyNoise } from "../testing/degraded";
import { applyCommand, commandAccess, COMMANDS, CommandProblem, type Command, type CommandName } from "./commands";
import { projectSchema, type ProjectDocument } from "./document";
import { conflicts, overlaps } from "./paths";
import { newProject } from "./templates";

const hash = "a".repeat(64);
const later = "c".repeat(64);
const profile = learnNoiseProfile([steadyNoise("room", 8000, 8000, 1)], 8000);
const mark = (id: string, start: number) => ({ id, kind: "mark", name: id, start });
const item = (id: string) => ({
  id,
  name: id,
  source: hash,
  repairs: [newRepairStep("noise", "r1"), newRepairStep("clicks", "r2")],
  chain: [newChainEntry("gain", "p1"), newChainEntry("compressor", "p2"), newChainEntry("width", "p3")],
  versions: [{ id: "v1", name: "first", chain: [newChainEntry("gain", "p1")] }],
  markers: [mark("m1", 100), mark("m2", 900)],
});
const spec = { ...SPECS[0]!, id: "own" };
const base: ProjectDocument = projectSchema.parse({
  ...newProject("Saltmarsh Hours", "music"),
  sources: [hash, later].map((one) => ({ hash: one, name: `${one[0]!}.wav` })),
  items: [
    item("i1"),
    {
      ...item("i2"),
      mixes: [
        { name: "main", source: hash },
        { name: "instrumental", source: later },
        { name: "dub", source: later },
      ],
    },
    item("i3"),
  ],
  presets: [{ id: "k1", name: "kept", chain: [newChainEntry("gain", "p1")] }],
  noiseProfiles: [{ id: "n1", name: "room", profile }],
  specs: [spec, { ...spec, id: "unused" }],
  programme: {
    lanes: [
      { id: "l1", name: "Bed", chain: [newChainEntry("gain", "p1"), newChainEntry("compressor", "p2")] },
      { id: "l2", name: "Atmosphere" },
    ],
    markers: [{ id: "pm1", name: "turn", start: 3 }],
    references: [{ id: "ref1", source: later, item: "i1" }],
  },
});
const [d1, d2] = base.deliverables;

/** Of every command one or more, as a page would send them. */
const SAMPLES: Record<CommandName, object[]> = {
  rename: [{ name: "Other" }],
  addSource: [{ source: { hash: "b".repeat(64), name: "two.wav" }, item: { ...item("i9"), source: "b".repeat(64) } }],
  renameItem: [{ item: "i1", name: "Reeds" }],
  moveItem: [{ item: "i1", to: 2 }],
  removeItem: [{ item: "i1" }, { item: "i2" }],
  removeItems: [{ items: ["i1"] }, { items: ["i2", "i3"] }],
  colourItems: [
    { items: ["i1", "i2"], colour: "teal" },
    { items: ["i1"], colour: null },
  ],
  addMarkers: [{ item: "i1", markers: [mark("m8", 5), mark("m9", 50)] }],
  setMarker: [{ item: "i1", marker: mark("m1", 1500) }],
  removeMarkers: [{ item: "i1", markers: ["m2", "m1"] }],
  setPieces: [{ item: "i1", clips: [{ kind: "recording", start: 0, end: 500 }], what: "cut" }],
  keepProfile: [{ profile: { id: "n2", name: "hall", profile } }],
  removeProfile: [{ profile: "n1" }],
  addProcessor: [
    { item: "i1", entry: newChainEntry("gain", "p9"), at: 0 },
    { item: "lane:l1", entry: newChainEntry("gain", "p9") },
  ],
  setParameter: [
    { item: "i1", entry: "p1", parameter: "gainDb", setting: -4 },
    { item: "i1", entry: "p1", parameter: "invert", setting: true },
    { item: "lane:l1", entry: "p1", parameter: "gainDb", setting: -4 },
  ],
  setSettings: [
    { item: "i1", entry: "p1", settings: { gainDb: -9 }, what: "nine less" },
    { item: "i1", entry: "p1", settings: {}, automation: { gainDb: [[1, -2]] }, what: "its line" },
  ],
  flipSettings: [{ item: "i1", entry: "p1" }],
  copySettings: [{ item: "i1", entry: "p1" }],
  setLine: [
    {
      item: "i1",
      entry: "p1",
      parameter: "gainDb",
      line: [
        [0, 0],
        [9600, -6],
      ],
    },
  ],
  bypass: [{ item: "i1", entry: "p1", bypass: true }],
  bypassChain: [{ item: "i1", bypass: true }],
  moveProcessor: [
    { item: "i1", entry: "p1", to: 2 },
    { item: "lane:l1", entry: "p1", to: 1 },
  ],
  replaceProcessor: [{ item: "i1", entry: "p1", with: newChainEntry("limiter", "p8") }],
  removeProcessor: [
    { item: "i1", entry: "p1" },
    { item: "lane:l1", entry: "p2" },
  ],
  setChain: [
    { items: ["i1", "i2"], chain: [newChainEntry("gain", "x")], prefix: "s" },
    { items: ["i2", "i1"], chain: [newChainEntry("limiter", "x")], prefix: "t" },
  ],
  setAbout: [{ item: "i1", entry: "p1", about: { note: "lift", dials: [], photo: null } }],
  keepVersion: [{ item: "i1", id: "v2", name: "second" }],
  takeVersion: [{ item: "i1", version: "v1", prefix: "u" }],
  removeVersion: [{ item: "i1", version: "v1" }],
  keepPreset: [{ preset: { id: "k2", name: "new", chain: [newChainEntry("gain", "p1")] } }],
  removePreset: [{ preset: "k1" }],
  addRepairs: [{ item: "i1", steps: [newRepairStep("hum", "r9")], at: 0 }],
  setRepair: [
    { item: "i1", step: "r1", changes: { learned: profile }, what: "learned from 2 s" },
    { item: "i1", step: "r1", changes: { regions: [{ start: 0, end: 900 }] }, what: "where it applies" },
    { item: "i1", step: "r1", changes: { regions: [{ start: 50, end: 70 }] }, what: "2 more places" },
  ],
  switchRepair: [{ item: "i1", step: "r1", enabled: false }],
  switchRepairs: [{ item: "i1", steps: ["r1", "r2"], enabled: false }],
  removeRepairs: [{ item: "i1", steps: ["r1", "r2"] }],
  moveRepair: [{ item: "i1", step: "r1", to: 1 }],
  replaceRepair: [{ item: "i1", step: "r1", with: [newRepairStep("clicks", "r7"), newRepairStep("hum", "r8")] }],
  removeRepair: [{ item: "i1", step: "r1" }],
  setTempo: [{ item: "i1", tempo: { beatsPerMinute: 93, beatsPerBar: 3, startSeconds: 0 } }],
  addDeliverable: [{ deliverable: { id: "d9", spec: "own", format: newFormat() } }],
  setDeliverable: [{ deliverable: { ...d1!, format: { ...d1!.format, bits: "16" } } }],
  removeDeliverable: [{ deliverable: d1!.id }],
  setInForce: [{ deliverable: d2!.id }],
  moveDeliverable: [{ deliverable: d1!.id, to: 1 }],
  addSpec: [{ spec: { ...spec, id: "third" } }],
  setSpec: [{ spec: { ...spec, name: "Own, changed" } }],
  removeSpec: [{ spec: "unused" }],
  applyRecipe: [
    { from: "i1", items: ["i2"] },
    { from: "i2", items: ["i1", "i3"] },
  ],
  describeProject: [{ about: { ...base.about, artist: "Odda Vane" } }],
  renameProject: [{ name: "Another name" }],
  describeItem: [{ item: "i1", about: { artist: "", composer: "Merle Tan", isrc: "", comment: "" } }],
  setNaming: [{ naming: "{title}" }],
  placeItems: [
    { items: [{ item: "i1", changes: { gapSeconds: 2, fadeOut: newFade(3) } }], what: "pause and fade" },
    { items: [{ item: "i2", changes: { lane: "l1", anchor: "i3" } }], what: "onto a lane" },
    { items: ["i1", "i3"].map((item) => ({ item, changes: { gainDb: -2 } })), what: "gain" },
    { items: [{ item: "i1", changes: { fadeOut: null } }], what: "no fade" },
  ],
  replaceRecordings: [
    {
      replacements: [
        {
          item: "i1",
          source: later,
          arrived: "i3",
          moved: { clips: null, markers: [], repairs: [], chain: [], envelope: [[0, 1]] },
        },
      ],
    },
    { replacements: [{ item: "i2", source: later, mix: "clean" }] },
    {
      replacements: [
        { item: "i2", source: later, reference: { id: "ref8", source: hash, item: "i2", atSeconds: -0.5 } },
      ],
    },
  ],
  setMix: [
    { item: "i2", mix: "instrumental" },
    {
      item: "i2",
      mix: "dub",
      moved: { clips: null, markers: [], repairs: [], chain: [newChainEntry("gain", "p1")], envelope: null },
    },
  ],
  removeMix: [{ item: "i2", mix: "instrumental" }],
  leaveOutOfMix: [
    { item: "i2", mix: "instrumental", work: "p1", leftOut: true },
    { item: "i2", mix: "dub", work: "p1", leftOut: true },
  ],
  setProgramme: [
    { changes: { headSeconds: 1 }, what: "head 1 s" },
    { changes: { cdRule: true }, what: "CD rule" },
  ],
  addLane: [{ lane: laneSchema.parse({ id: "l9", name: "Sting" }) }],
  changeLane: [
    { lane: "l1", changes: { gainDb: -6 } },
    { lane: "l1", changes: { ducker: newDucker([ORDER]) } },
  ],
  moveLane: [{ lane: "l1", to: 1 }],
  removeLane: [{ lane: "l2" }],
  addProgrammeMarkers: [{ markers: [{ id: "pm9", name: "side B", start: 40 }] }],
  setKey: [
    { item: "lane:l1", entry: "p2", key: "l2" },
    { item: "i1", entry: "p2", key: null },
  ],
  setClipsOfItems: [
    {
      items: [
        { item: "i1", clips: [{ kind: "recording", start: 0, end: 900 }] },
        { item: "i3", clips: [{ kind: "recording", start: 5, end: 900 }] },
      ],
      what: "head and tail",
    },
  ],
  setReference: [
    { reference: { id: "ref1", source: later, item: "i1", atSeconds: 2 } },
    { reference: { id: "ref9", source: hash, item: null, atSeconds: 0 } },
  ],
  removeReference: [{ reference: "ref1" }],
  setProgrammeMarker: [{ marker: { id: "pm1", name: "turn", start: 3, end: 9 } }],
  removeProgrammeMarkers: [{ markers: ["pm1"] }],
};

const commands = Object.entries(SAMPLES).flatMap(([type, samples]) =>
  samples.map((fields) => ({ type, ...fields }) as Command),
);
const wordsOf = (command: Command): string => JSON.stringify(command).slice(1, 90);

/** Fields of a chain entry that are no parameters. */
const NO_PARAMETERS = ["id", "type", "bypass", "about", "automation", "alternateSettings", "usesAlternate", "key"];

/** All that a document says, by path: elements by their ids, the order of lists by itself. */
function flat(thing: unknown, path = "", out = new Map<string, string>()): Map<string, string> {
  const at = (part: string) => (path === "" ? part : `${path}/${part}`);
  const isList =
    Array.isArray(thing) && thing.every((one) => typeof one?.id === "string" || typeof one?.hash === "string");
  const isSettled = /(^|\/)(pieces|where|learned|profile|spec|format|lines\/\w+)$/.test(path);
  if (isList && !isSettled) {
    const ids = thing.map((one) => one.id ?? one.hash);
    out.set(at("#order"), ids.join(" "));
    thing.forEach((one, n) => {
      out.set(at(`${ids[n]}/#id`), "there");
      flat(one, at(ids[n]), out);
    });
  } else if (thing !== null && typeof thing === "object" && !Array.isArray(thing) && !isSettled) {
    const isEntry = /(^|\/)chain\/[^/]+$/.test(path);
    for (const [field, value] of Object.entries(thing))
      flat(value, at(isEntry && !NO_PARAMETERS.includes(field) ? `settings/${field}` : field), out);
  } else out.set(path, JSON.stringify(thing));
  return out;
}

/** The order of those that are in both. */
const shared = (a: string, b: string): string =>
  a
    .split(" ")
    .filter((id) => b.split(" ").includes(id))
    .join(" ");

function changed(before: ProjectDocument, after: ProjectDocument): string[] {
  const [one, other] = [flat(before), flat(after)];
  return [...new Set([...one.keys(), ...other.keys()])].filter((path) => {
    const [a, b] = [one.get(path), other.get(path)];
    if (!path.endsWith("#order")) return a !== b;
    return shared(a ?? "", b ?? "") !== shared(b ?? "", a ?? "");
  });
}

describe("paths", () => {
  it("overlap where one lies within the other, and where any element is meant", () => {
    expect(overlaps("items/i1", "items/i1/name")).toBe(true);
    expect(overlaps("items/i1/name", "items/i1")).toBe(true);
    expect(overlaps("items/i1", "items/i10")).toBe(false);
    expect(overlaps("items/i1/chain/*/bypass", "items/i1/chain/p1/bypass")).toBe(true);
    expect(overlaps("items/i1/chain/*/bypass", "items/i1/chain/p1/settings/gainDb")).toBe(false);
    expect(overlaps("items/*/name", "items/#order")).toBe(false);
    expect(overlaps("*", "items/i1/name")).toBe(true);
  });
});

describe("what commands say that they write", () => {
  it("is known of every command that there is", () => {
    expect(Object.keys(SAMPLES).sort()).toEqual(Object.keys(COMMANDS).sort());
  });
  it.each(commands.map((command) => [wordsOf(command), command] as const))(
    "holds all that they change: %s",
    (_, command) => {
      const { writes } = commandAccess(command);
      const after = applyCommand(base, command);
      const missed = changed(base, after).filter(
        (path) => !path.endsWith("markers/#order") && !writes.some((written) => overlaps(written, path)),
      );
      expect(missed).toEqual([]);
    },
  );
  it("is everything, of a command that a later version does not know", () => {
    const unknown = commandAccess({ type: "tidyUp" });
    for (const command of commands) expect(conflicts(commandAccess(command), unknown)).toBe(true);
  });
});

describe("every pair of commands, one on the state before the other", () => {
  it("is refused, or loses nothing of what was answered first", () => {
    const lost: string[] = [];
    for (const made of commands) {
      const first = applyCommand(base, made);
      const wrote = changed(base, first);
      const kept = flat(first);
      for (const stale of commands) {
        if (conflicts(commandAccess(stale), commandAccess(made))) continue;
        let last: ProjectDocument;
        try {
          last = applyCommand(first, stale);
        } catch (error) {
          if (!(error instanceof CommandProblem)) throw error; // refused with a sentence: nothing is lost either
          continue;
        }
        const now = flat(last);
        const gone = wrote.filter((path) => !path.endsWith("#order") && now.get(path) !== kept.get(path));
        if (gone.length > 0) lost.push(`${wordsOf(made)}, then ${wordsOf(stale)}: ${gone.join()}`);
      }
    }
    expect(lost).toEqual([]);
  });
  const of = (type: CommandName, n = 0) => commandAccess({ type, ...SAMPLES[type][n]! } as Command);
  it.each([
    ["a parameter, and settings with it", of("setParameter"), of("setSettings")],
    ["a parameter, and the settings flipped", of("setParameter"), of("flipSettings")],
    ["a parameter, and its processor replaced", of("setParameter"), of("replaceProcessor")],
    ["a parameter, and a recipe over its item", of("setParameter"), of("applyRecipe", 1)],
    ["a parameter that a recipe takes along", of("applyRecipe"), of("setParameter")],
    ["chains of the same items in another order", of("setChain"), of("setChain", 1)],
    ["a marker, and its removal among others", of("setMarker"), of("removeMarkers")],
    ["an item's name, and the item gone", of("renameItem"), of("removeItem")],
    ["the same field of a repair under other words", of("setRepair", 1), of("setRepair", 2)],
    ["the order, and an item gone", of("moveItem"), of("removeItem")],
  ])("contradict: %s", (_, stale, made) => {
    expect(conflicts(stale, made)).toBe(true);
  });
  it.each([
    ["two parameters of one processor", of("setParameter", 0), of("setParameter", 1)],
    ["two fields of one repair", of("setRepair", 0), of("setRepair", 1)],
    ["a parameter, and the processor moved", of("setParameter"), of("moveProcessor")],
    ["a parameter, and the processor bypassed", of("setParameter"), of("bypass")],
    ["a name, and another item gone", of("renameItem"), of("removeItem", 1)],
    ["two deliverables that are added", of("addDeliverable"), { writes: ["deliverables/other"] }],
    ["a parameter of an item that a recipe was taken from", of("setParameter"), of("applyRecipe", 0)],
  ])("stand both: %s", (_, stale, made) => {
    expect(conflicts(stale, made)).toBe(false);
  });
});
