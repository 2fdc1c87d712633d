import { describe, expect, it } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { newChainEntry } from "@core/processors";
import { placementOf } from "@core/programme/placement";
import { projectSchema, type ProjectDocument } from "@core/project/document";
import { programmeTimeline } from "@core/project/subjects";
import { newProject } from "@core/project/templates";
import { knownRecordings, type Source } from "@core/project/views";
import { programmePlanOf, referencePlanOf } from "./programme-plan";

const RATE = 48_000;
const [A, B, C] = ["a", "b", "c"].map((sign) => sign.repeat(64));
const source = (hash: string, seconds: number, lufs: number | null, layout = "stereo"): Source =>
  ({
    hash,
    name: `${hash[0]!}.wav`,
    pcm_hash: hash,
    layout: layoutNamed(layout),
    figures: { sampleRate: RATE, frames: seconds * RATE, integratedLufs: lufs },
  }) as unknown as Source;
const sources = [source(A!, 10, -20), source(B!, 10, -12), source(C!, 30, -9)];
const item = (id: string, changes: object = {}) => ({
  id,
  name: id,
  source: A,
  repairs: [],
  chain: [newChainEntry("gain", "g")],
  ...changes,
});
const mixes = [
  { name: "main", source: A },
  { name: "instrumental", source: B },
];
const document: ProjectDocument = projectSchema.parse({
  ...newProject("Saltmarsh Hours", "music"),
  items: [item("one", { mixes, placement: { gainDb: -1 } }), item("two")],
  programme: { references: [{ id: "r1", source: C, item: "two", atSeconds: -2 }] },
});
const timeline = programmeTimeline(document, knownRecordings(sources))!;
const listened = { document, items: document.items, timeline, sources };

describe("what is played of the programme", () => {
  it("is every item through its chain, or as it came at the same places", () => {
    const now = programmePlanOf(listened, "now")!;
    const original = programmePlanOf(listened, "original")!;
    expect(now.items.map(({ chain }) => chain.length)).toEqual([1, 1]);
    expect(original.items.map(({ chain }) => chain.length)).toEqual([0, 0]);
    expect(original.timeline).toBe(now.timeline);
  });
  it("is another mix where an item has it, at the loudness of the one in force", () => {
    const plain = programmePlanOf(listened, "now", { mix: "instrumental" })!;
    expect(plain.items.map(({ url }) => url.includes(B!))).toEqual([true, false]);
    expect(placementOf(plain.items[0]!).gainDb).toBe(-1);
    const matched = programmePlanOf(listened, "now", { mix: "instrumental", isMatched: true })!;
    expect(matched.items.map((one) => placementOf(one).gainDb)).toEqual([-9, 0]);
  });
  it("waits for recordings that are not there", () => {
    expect(programmePlanOf({ ...listened, sources: sources.slice(1) }, "now")).toBeNull();
  });
});

describe("references in the place of the programme", () => {
  it("lie beside their item, bare, at the loudness that is wanted", () => {
    const plan = referencePlanOf(listened, null, (of) => (of === "two" ? -16 : null))!;
    expect(plan.timeline.order.map(({ item: id, start, end }) => [id, start / RATE, end / RATE])).toEqual([
      ["r1", 8, 20],
    ]);
    expect(plan.timeline.frames).toBe(timeline.frames);
    expect(plan.items).toMatchObject([{ id: "r1", repairs: [], clips: null, chain: [], placement: { gainDb: -7 } }]);
    expect(plan.lanes).toEqual([]);
  });
  it("keep their level where nothing is matched", () => {
    expect(referencePlanOf(listened, null, () => null)!.items[0]!.placement).toEqual({ gainDb: 0 });
  });
  it("are none where the recording has channels that the programme has not, or is not read", () => {
    const wide = [...sources.slice(0, 2), source(C!, 30, -9, "5.1")];
    expect(referencePlanOf({ ...listened, sources: wide }, null, () => null)).toBeNull();
    expect(referencePlanOf({ ...listened, sources: sources.slice(0, 2) }, null, () => null)).toBeNull();
  });
});
