/** Edits of the programme and of recordings: what they do, what they refuse, and that undoing them is exact. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { newFade } from "../programme/fade";
import { laneSchema } from "../programme/programme";
import { placementOf } from "../programme/placement";
import { applyCommand, commandLabel, CommandProblem, parseCommand, type Command } from "./commands";
import { projectSchema, type Item, type ProjectDocument } from "./document";
import { newChainEntry } from "../processors";
import { itemInMix, movedToMix, sourceInMix, sourceInProgramme } from "./mixes";
import { subjectsOf, titleNumber } from "./subjects";
import { layoutNamed } from "../audio/layout";
import { EditList } from "../edit-list/edit-list";
import { masterInputs } from "./master-inputs";
import { newProject } from "./templates";
import { newRepairStep } from "../repair";
import { recordingClip } from "../edit-list/clip";

const [first, second, third] = ["a", "b", "c"].map((letter) => letter.repeat(64)) as [string, string, string];
const item = (id: string, source = first) => ({ id, name: `Title ${id}`, source, repairs: [], chain: [], markers: [] });
const base: ProjectDocument = projectSchema.parse({
  ...newProject("Saltmarsh Hours", "music"),
  sources: [first, second, third].map((hash) => ({ hash, name: `${hash[0]!}.wav` })),
  items: [item("i1"), item("i2"), item("i3", second)],
});
const after = (...commands: Command[]): ProjectDocument => commands.reduce<ProjectDocument>(applyCommand, base);
const then = (document: ProjectDocument, command: Command): ProjectDocument => applyCommand(document, command);
const place = (id: string, changes: Extract<Command, { type: "placeItems" }>["items"][number]["changes"]): Command => ({
  type: "placeItems",
  items: [{ item: id, changes }],
  what: "place",
});
const replace = (...replacements: Extract<Command, { type: "replaceRecordings" }>["replacements"]): Command => ({
  type: "replaceRecordings",
  replacements,
});

describe("places", () => {
  it("keep only what was decided, and lose a fade by null", () => {
    const faded = after(place("i1", { fadeOut: newFade(3), gainDb: -2 }));
    expect(faded.items[0]!.placement).toEqual({ fadeOut: newFade(3), gainDb: -2 });
    const plain = applyCommand(faded, place("i1", { fadeOut: null }));
    expect(plain.items[0]!.placement).toEqual({ gainDb: -2 });
    expect(placementOf(plain.items[0]!)).toMatchObject({ gapSeconds: 0, lane: null, hidden: false });
  });
  it("of several items change in one edit, in words", () => {
    const both: Command = {
      type: "placeItems",
      items: ["i1", "i2"].map((id) => ({ item: id, changes: { gainDb: 1 } })),
      what: "gain +1.0 dB",
    };
    expect(after(both).items.map((one) => placementOf(one).gainDb)).toEqual([1, 1, 0]);
    expect(commandLabel(both, base)).toBe("2 items: gain +1.0 dB");
  });
  it("need a lane that is there, and no item moves with itself", () => {
    expect(() => after(place("i1", { lane: "nowhere" }))).toThrow(CommandProblem);
    expect(() => after(place("i1", { anchor: "i1" }))).toThrow(/with itself/);
    expect(() =>
      parseCommand({ ...place("i1", {}), items: [{ item: "i1", changes: { gapSeconds: 1e9 } }] } as never),
    ).toThrow();
  });
  it("commute where they are about different fields or items", () => {
    const change = fc.constantFrom<Command>(
      place("i1", { gapSeconds: 2 }),
      place("i1", { fadeIn: newFade(1) }),
      place("i2", { gapSeconds: -1 }),
      place("i3", { gainDb: 3 }),
      { type: "setProgramme", changes: { tailSeconds: 4 }, what: "tail" },
      { type: "setProgramme", changes: { cdRule: true }, what: "CD" },
    );
    fc.assert(
      fc.property(change, change, (a, b) => {
        // Of one field the last one stands.
        if (JSON.stringify(a) !== JSON.stringify(b)) expect(after(a, b)).toEqual(after(b, a));
      }),
    );
  });
});

describe("lanes", () => {
  const lane: Command = { type: "addLane", lane: laneSchema.parse({ id: "bed", name: "Bed" }) };
  it("are removed only when nothing lies on them", () => {
    expect(() => after(lane, lane)).toThrow(/already there/);
    const lying = after(lane, place("i3", { lane: "bed" }));
    expect(() => then(lying, { type: "removeLane", lane: "bed" })).toThrow(/“Title i3” lies on this lane/);
    const free = applyCommand(lying, place("i3", { lane: null }));
    expect(then(free, { type: "removeLane", lane: "bed" }).programme.lanes).toEqual([]);
  });
  it("take items out of the titles", () => {
    const document = after(lane, place("i2", { lane: "bed" }));
    expect(titleNumber(document, { id: "i3" })).toBe(2);
    expect(titleNumber(document, { id: "i2" })).toBe(0);
    const [deliverable] = document.deliverables;
    expect(subjectsOf(document, deliverable!).map(({ id }) => id)).toEqual(["i1", "i3"]);
    expect(subjectsOf(document, { ...deliverable!, programme: "one file" }).map(({ id }) => id)).toEqual(["programme"]);
    expect(subjectsOf(document, { ...deliverable!, programme: "both" }).map(({ id }) => id)).toEqual([
      "programme",
      "i1",
      "i3",
    ]);
  });
});

describe("recordings that are replaced", () => {
  it("take the place of the earlier, with what was moved along, and what they came in as goes", () => {
    const moved = { clips: null, markers: [], repairs: [], chain: [], envelope: [[1, -3]] as [number, number][] };
    const document = after(replace({ item: "i1", source: second, arrived: "i3", moved }));
    expect(document.items.map(({ id, source }) => [id, source])).toEqual([
      ["i1", second],
      ["i2", first],
    ]);
    expect(placementOf(document.items[0]!).envelope).toEqual([[1, -3]]);
  });
  it("stand beside the main one as mixes, of which one is in force", () => {
    const document = after(replace({ item: "i1", source: second, mix: "instrumental" }));
    const [title] = document.items;
    expect(title!.source).toBe(first);
    expect(title!.mixes!.map(({ name }) => name)).toEqual(["main", "instrumental"]);
    const instrumental = then(document, { type: "setMix", item: "i1", mix: "instrumental" });
    expect(instrumental.items[0]!.source).toBe(second);
    // A later main mix replaces the main one, and the slot with it.
    const later = applyCommand(document, replace({ item: "i1", source: third }));
    expect(later.items[0]!.mixes).toEqual([
      { name: "main", source: third },
      { name: "instrumental", source: second },
    ]);
  });
  it("are what a deliverable of a mix is made of, where there is one", () => {
    const [title, other] = after(replace({ item: "i1", source: second, mix: "clean" })).items;
    expect(sourceInMix(title!, "clean")).toBe(second);
    expect(sourceInMix(title!, "dub")).toBeNull();
    expect(sourceInMix(other!, "main")).toBe(first);
    expect(sourceInProgramme(other!, "clean")).toBe(first);
    const document = after(replace({ item: "i1", source: second, mix: "clean" }));
    expect(subjectsOf(document, { ...document.deliverables[0]!, mix: "clean" }).map(({ id }) => id)).toEqual(["i1"]);
  });
  it("are refused where they are not there, and a mix in force cannot go", () => {
    expect(() => after(replace({ item: "i1", source: "f".repeat(64) }))).toThrow(/not in the project/);
    expect(() => after({ type: "setMix", item: "i1", mix: "dub" })).toThrow(/no mix “dub”/);
    const document = after(replace({ item: "i1", source: second, mix: "clean" }));
    expect(() => then(document, { type: "removeMix", item: "i1", mix: "main" })).toThrow(/in force/);
    expect(then(document, { type: "removeMix", item: "i1", mix: "clean" }).items[0]!.mixes).toBeUndefined();
  });
});

describe("what is left out of a mix", () => {
  const known = () => ({ layout: layoutNamed("stereo")!, sampleRate: 48_000, frames: 100_000 });
  const worked: Command[] = [
    { type: "addRepairs", item: "i1", steps: [newRepairStep("clicks", "r")] },
    { type: "addProcessor", item: "i1", entry: newChainEntry("de-esser", "d") },
    { type: "addProcessor", item: "i1", entry: newChainEntry("limiter", "l") },
    replace({ item: "i1", source: second, mix: "instrumental" }),
  ];
  const leave = (mix: string, work: string, leftOut = true): Command => ({
    type: "leaveOutOfMix",
    item: "i1",
    mix,
    work,
    leftOut,
  });
  const switches = ({ repairs, chain }: Item) => [
    ...repairs.map(({ enabled }) => enabled),
    ...chain.map(({ bypass }) => !bypass),
  ];
  const made = (document: ProjectDocument, mix: string) => switches(itemInMix(document.items[0]!, mix, known));
  const setMix = (mix: string): Command => ({ type: "setMix", item: "i1", mix });

  it("is switched off there, and stays on in the others, whichever is in force", () => {
    const document = after(...worked, leave("instrumental", "d"), leave("instrumental", "r"));
    for (const state of [document, then(document, setMix("instrumental"))]) {
      expect(made(state, "main")).toEqual([true, true, true]);
      expect(made(state, "instrumental")).toEqual([false, false, true]);
    }
    const there = then(document, setMix("instrumental"));
    expect(switches(there.items[0]!)).toEqual([false, false, true]);
    expect(then(there, setMix("main")).items[0]).toEqual(document.items[0]);
  });

  it("is switched off at once in the mix in force, and forgotten once it is switched on there", () => {
    const document = after(...worked, leave("main", "d"));
    expect(document.items[0]!.chain[0]!.bypass).toBe(true);
    expect(made(document, "instrumental")).toEqual([true, true, true]);
    const on = then(document, { type: "bypass", item: "i1", entry: "d", bypass: false });
    expect(on.items[0]!.mixes![0]!.leftOut).toBeUndefined();
    expect(then(document, leave("main", "d", false)).items[0]).toEqual(on.items[0]);
  });

  it("does not switch on what is bypassed everywhere", () => {
    const document = after(
      ...worked,
      { type: "bypass", item: "i1", entry: "l", bypass: true },
      leave("instrumental", "d"),
    );
    expect(made(then(document, setMix("instrumental")), "main")).toEqual([true, true, false]);
  });

  it("goes with what it names, stays with a later recording of its mix, and says what it is", () => {
    const document = after(...worked, leave("instrumental", "d"));
    const gone = then(document, { type: "removeProcessor", item: "i1", entry: "d" });
    expect(gone.items[0]!.mixes![1]!.leftOut).toBeUndefined();
    const later = then(document, replace({ item: "i1", source: third, mix: "instrumental" }));
    expect(later.items[0]!.mixes![1]).toEqual({ name: "instrumental", source: third, leftOut: ["d"] });
    expect(commandLabel(leave("instrumental", "d"), document)).toBe(
      "“Title i1”: De-esser left out of the mix “instrumental”",
    );
    expect(() => then(document, leave("dub", "d"))).toThrow(/no mix “dub”/);
    expect(() => then(document, leave("main", "gone"))).toThrow(/not there any more/);
  });

  it("decides the bytes of that mix's master alone", () => {
    const [before, document] = [after(...worked), after(...worked, leave("instrumental", "d"))];
    const inputs = (state: ProjectDocument, mix: string) =>
      masterInputs(state, state.items[0]!, { ...state.deliverables[0]!, mix }, known)!;
    expect(inputs(document, "main")).toEqual(inputs(before, "main"));
    expect(inputs(document, "instrumental").recipe.chain[0]!.bypass).toBe(true);
  });
});

describe("a mix that lies at another place", () => {
  const known = () => ({ layout: layoutNamed("stereo")!, sampleRate: 48_000, frames: 100_000 });
  const mark = { id: "m", kind: "mark" as const, name: "chorus", start: 20_000 };
  const region = { start: 5000, end: 6000 };
  const cut: Command[] = [
    { type: "addMarkers", item: "i1", markers: [mark] },
    { type: "addRepairs", item: "i1", steps: [{ ...newRepairStep("clicks", "r"), regions: [region] }] },
    { type: "setPieces", item: "i1", clips: [recordingClip(4000, 90_000)], what: "cut" },
  ];
  const mixed = (shift: number) => after(...cut, replace({ item: "i1", source: second, mix: "instrumental", shift }));
  const heard = (document: ProjectDocument) => itemInMix(document.items[0]!, "instrumental", known);

  it("keeps how far that is, and has what is done to the item moved along", () => {
    const document = mixed(480);
    expect(document.items[0]!.mixes![1]).toEqual({ name: "instrumental", source: second, shift: 480 });
    const made = heard(document);
    expect(made.source).toBe(second);
    expect(made.clips).toEqual([recordingClip(4480, 90_480)]);
    expect(made.markers[0]!.start).toBe(20_480);
    expect(made.repairs[0]!.regions).toEqual([{ start: 5480, end: 6480 }]);
    // The item itself stays as it is.
    expect(document.items[0]!.clips).toEqual([recordingClip(4000, 90_000)]);
  });
  it("that is not cut begins at the same sound, with silence before it where it begins later in the item", () => {
    const whole = (shift: number) =>
      heard(after(replace({ item: "i1", source: second, mix: "instrumental", shift }))).clips;
    expect(whole(480)).toEqual([recordingClip(480, 100_000)]);
    expect(whole(-480)).toEqual([{ kind: "silence", start: 0, end: 480 }, recordingClip(0, 99_520)]);
    expect(whole(0)).toBeUndefined();
    expect(EditList.of(whole(-480), 100_000).toItem(0)).toBe(480);
  });
  it("goes into force and back, and everything is where it was", () => {
    const document = mixed(480);
    const to = (state: ProjectDocument, mix: string) => {
      const moved = movedToMix(state.items[0]!, mix, known);
      return then(state, { type: "setMix", item: "i1", mix, ...(moved ? { moved } : {}) });
    };
    const there = to(document, "instrumental");
    expect(there.items[0]).toMatchObject({ source: second, clips: [recordingClip(4480, 90_480)] });
    const back = to(there, "main");
    expect(back.items[0]).toEqual(document.items[0]);
  });
  it("stays in its place where a later main mix lies shifted too", () => {
    const later = then(mixed(480), replace({ item: "i1", source: third, shift: 1000 }));
    expect(later.items[0]!.mixes).toEqual([
      { name: "main", source: third, shift: 1000 },
      { name: "instrumental", source: second, shift: 480 },
    ]);
    // 520 frames earlier than the one in force.
    expect(heard(later).clips).toEqual([recordingClip(3480, 89_480)]);
  });
  it("of a deliverable is rendered at its place", () => {
    const document = mixed(480);
    const deliverable = { ...document.deliverables[0]!, mix: "instrumental" };
    const inputs = masterInputs(document, document.items[0]!, deliverable, known)!;
    expect(inputs).toMatchObject({ source: second, clips: [recordingClip(4480, 90_480)] });
    expect(inputs.recipe.repairs[0]!.regions).toEqual([{ start: 5480, end: 6480 }]);
  });
});
