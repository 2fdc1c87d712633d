import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { canonicalJson } from "../math/canonical-json";
import { newFormat } from "../delivery/recipe";
import { newFade } from "../programme/fade";
import { laneSchema, newDucker, ORDER, type Lane } from "../programme/programme";
import { applyCommand, type Command } from "./commands";
import { currentMasters } from "./delivery";
import { itemSchema, PROGRAMME_ID, projectSchema, type Deliverable, type ProjectDocument } from "./document";
import { masterNames } from "./filename-pattern";
import { masterInputs, masterInputsSchema, masterKey, programmeProblem } from "./master-inputs";
import { allSubjects, programmeItem } from "./subjects";
import { newProject } from "./templates";
import type { Master } from "./views";

const RATE = 44_100;
const [stereo, mono, wide] = ["stereo", "mono", "7.1"].map((name) => layoutNamed(name)!);
const item = (id: string, source: string) =>
  itemSchema.parse({ id, name: `Title ${id}`, source: source.repeat(64), repairs: [], chain: [], markers: [] });
const side: Deliverable = { id: "side", spec: "streaming-14", format: newFormat(), programme: "both" };
const base: ProjectDocument = projectSchema.parse({
  ...newProject("Saltmarsh Hours", "music"),
  items: [item("a", "a"), item("b", "b"), item("bed", "c")],
  deliverables: [side],
  programme: { lanes: [{ id: "l", name: "Bed" }] },
});
const edited = (document: ProjectDocument, ...commands: Command[]): ProjectDocument =>
  commands.reduce<ProjectDocument>(applyCommand, document);
const place = (id: string, changes: Extract<Command, { type: "placeItems" }>["items"][number]["changes"]): Command => ({
  type: "placeItems",
  items: [{ item: id, changes }],
  what: "place",
});
const lying = edited(base, place("bed", { lane: "l", atSeconds: 3 }));
const after = (...commands: Command[]) => edited(lying, ...commands);
const known = () => ({ layout: stereo!, sampleRate: RATE, frames: 10 * RATE });
const inputsOf = (document: ProjectDocument, id = PROGRAMME_ID, deliverable = side) =>
  masterInputs(
    document,
    id === PROGRAMME_ID ? programmeItem(document) : document.items.find((one) => one.id === id)!,
    deliverable,
    known,
  );
const key = (document: ProjectDocument, id?: string) => masterKey(inputsOf(document, id)!);
const lane = (changes: Partial<Lane>): Command => ({ type: "changeLane", lane: "l", changes });

describe("what decides a programme's bytes", () => {
  it("is every place, fade, gain, lane and chain, and the order", () => {
    const keys = [
      lying,
      after({ type: "moveItem", item: "b", to: 0 }),
      after(place("b", { gapSeconds: 2 })),
      after(place("a", { fadeOut: newFade(3) })),
      after(place("a", { fadeOut: newFade(3, "linear") })),
      after(place("a", { gainDb: -1 })),
      after(
        place("a", {
          envelope: [
            [0, 0],
            [4, -3],
          ],
        }),
      ),
      after(place("bed", { atSeconds: 4 })),
      after(place("bed", { anchor: "b" })),
      after(lane({ gainDb: -6 })),
      after(lane({ mute: true })),
      after(lane({ solo: true })),
      after(lane({ ducker: newDucker([ORDER]) })),
      after({ type: "setProgramme", changes: { headSeconds: 1 }, what: "head" }),
      after({ type: "setProgramme", changes: { tailSeconds: 1 }, what: "tail" }),
      after(place("b", { gapSeconds: 0.3333 })),
      after(place("b", { gapSeconds: 0.3333 }), { type: "setProgramme", changes: { cdRule: true }, what: "CD" }),
      after({ type: "addProcessor", item: PROGRAMME_ID, entry: { type: "gain", id: "g", bypass: false, gainDb: 1 } }),
      after({ type: "addProcessor", item: "b", entry: { type: "gain", id: "g", bypass: false, gainDb: 1 } }),
    ].map((document) => key(document));
    expect(new Set(keys).size).toBe(keys.length);
  });
  it("is neither the name of a lane nor a marker of the programme, nor where pauses go", () => {
    const same = after(
      lane({ name: "Reed organ" }),
      { type: "addProgrammeMarkers", markers: [{ id: "m", name: "turn", start: 3 }] },
      { type: "setProgramme", changes: { pauses: "left out" }, what: "pauses" },
    );
    expect(key(same)).toBe(key(lying));
  });
  it("of one of its files is what of the whole it holds", () => {
    const gaps = after(place("b", { gapSeconds: 2 }));
    expect(inputsOf(gaps, "a")!.cut).toEqual({ start: 0, end: 12 * RATE });
    expect(inputsOf(gaps, "b")!.cut).toEqual({ start: 12 * RATE, end: 22 * RATE });
    const early = edited(gaps, {
      type: "setProgramme",
      changes: { pauses: "start of the next" },
      what: "pauses",
    });
    expect(inputsOf(early, "b")!.cut!.start).toBe(10 * RATE);
    expect(inputsOf(gaps, "bed")).toBeNull();
    expect(inputsOf(gaps, "a")!.programme).toEqual(inputsOf(gaps)!.programme);
  });
  it("is read from a manifest as it was written", () => {
    const document = after(place("a", { fadeOut: newFade(2), gainDb: -1 }), lane({ ducker: newDucker([ORDER]) }));
    for (const id of [PROGRAMME_ID, "a"]) {
      const inputs = inputsOf(document, id)!;
      expect(masterKey(masterInputsSchema.parse(JSON.parse(JSON.stringify(inputs))))).toBe(masterKey(inputs));
    }
  });
  it("is worked out once for all of its files, and anew for another document", () => {
    const [whole, first, second] = [PROGRAMME_ID, "a", "b"].map((id) => inputsOf(lying, id)!);
    expect(first!.programme).toBe(whole!.programme);
    expect(second!.programme).toBe(whole!.programme);
    expect(inputsOf(after(place("a", { gainDb: -1 })))!.programme).not.toEqual(whole!.programme);
    expect(masterKey(first!)).toBe(canonicalJson(structuredClone(first)));
  });
  it("waits for all of its recordings", () => {
    const some = (hash: string) => (hash.startsWith("b") ? null : known());
    expect(masterInputs(lying, programmeItem(lying), side, some)).toBeNull();
    expect(masterInputs({ ...lying, items: [] }, programmeItem({ ...lying, items: [] }), side, known)).toBeNull();
  });
});

describe("an item by itself", () => {
  const titles: Deliverable = { id: "t", spec: "streaming-14", format: newFormat() };
  it("has its fades among what decides its bytes, and not its pause", () => {
    const of = (document: ProjectDocument) => masterKey(inputsOf(document, "a", titles)!);
    expect(of(after(place("a", { fadeOut: newFade(2) })))).not.toBe(of(lying));
    expect(of(after(place("a", { gainDb: -2 })))).not.toBe(of(lying));
    expect(of(after(place("a", { gapSeconds: 5 })))).toBe(of(lying));
    expect(inputsOf(lying, "a", titles)).not.toHaveProperty("fades");
  });
});

it("what has channels that the programme lacks is named", () => {
  const inputs = (layout: typeof stereo) =>
    masterInputs(lying, programmeItem(lying), side, (hash) => ({
      ...known(),
      layout: hash.startsWith("b") ? layout! : wide!,
    }))!;
  const nameOf = (id: string) => lying.items.find((one) => one.id === id)!.name;
  expect(programmeProblem(inputs(mono), nameOf)).toBeNull();
  expect(programmeProblem(inputs(layoutNamed("5.1")), nameOf)).toMatch(
    /“Title b” cannot stand in this programme: 5\.1 has Ls, Rs/,
  );
});

describe("masters of a programme", () => {
  it("are the whole and its files, with names of their own", () => {
    expect(allSubjects(lying).map(({ item: { id } }) => id)).toEqual([PROGRAMME_ID, "a", "b"]);
    const names = masterNames(lying).map(({ name }) => name);
    expect(names).toEqual([
      "Saltmarsh Hours - Streaming -14.wav",
      "01 Title a - Streaming -14.wav",
      "02 Title b - Streaming -14.wav",
    ]);
  });
  it("are delivered without the whole where only files are wanted", () => {
    const files = { ...lying, deliverables: [{ ...side, programme: "item files" as const }] };
    const done = (id: string): Master =>
      ({
        item_id: id,
        deliverable_id: "side",
        state: "done",
        key: masterKey(inputsOf(files, id, files.deliverables[0])!),
      }) as Master;
    const masters = [PROGRAMME_ID, "a"].map(done);
    expect(currentMasters(files, masters, known).map(({ item: { id } }) => id)).toEqual(["a"]);
    expect(currentMasters(lying, masters, known).map(({ item: { id } }) => id)).toEqual([PROGRAMME_ID, "a"]);
  });
  it("do not hold what is laid on lanes as titles", () => {
    const titles = inputsOf(lying)!.tags.chapters.map(({ title }) => title);
    expect(titles).toEqual(["Title a", "Title b"]);
    expect(laneSchema.safeParse({ id: ORDER, name: "Order" }).success).toBe(false);
  });
});
