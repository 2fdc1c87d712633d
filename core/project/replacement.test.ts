import { describe, expect, it } from "vitest";
import { matched, nameLikeness, type Candidate } from "../compare/matching";
import { newChainEntry } from "../processors";
import { newRepairStep } from "../repair";
import { EditList } from "../edit-list/edit-list";
import { itemSchema, type Item } from "./document";
import { movedAlong } from "./replacement";

const RATE = 1000;
const item = (fields: object = {}): Item =>
  itemSchema.parse({
    id: "i1",
    name: "Low Door",
    source: "a".repeat(64),
    repairs: [],
    chain: [],
    markers: [],
    ...fields,
  });
const lengths = (later: number, earlier = 10_000) => ({ earlier, later });
const mark = (start: number, end?: number) => ({
  id: `m${start}`,
  kind: "mark",
  name: `at ${start}`,
  start,
  ...(end ? { end } : {}),
});

describe("an item whose recording is replaced", () => {
  it("stays as it is where the later one lies on the earlier", () => {
    const given = item({ markers: [mark(500)], clips: [{ kind: "recording", start: 200, end: 9000 }] });
    const map = { stretches: [{ start: 0, end: 10_000, shift: 0 }] };
    expect(movedAlong(given, map, lengths(10_000), RATE)).toMatchObject({
      clips: given.clips,
      markers: given.markers,
      lost: [],
    });
  });
  it("keeps its own times where the later one begins later, or earlier", () => {
    const later = movedAlong(
      item({ markers: [mark(500)] }),
      { stretches: [{ start: 0, end: 10_000, shift: 300 }] },
      lengths(10_300),
      RATE,
    );
    expect(later.clips).toEqual([{ kind: "recording", start: 300, end: 10_300 }]);
    expect(later.markers[0]!.start).toBe(800);
    expect(EditList.of(later.clips, 10_300).toItem(800)).toBe(500);
    const earlier = movedAlong(
      item({ markers: [mark(500)] }),
      { stretches: [{ start: 200, end: 10_000, shift: -200 }] },
      lengths(9800),
      RATE,
    );
    expect(earlier.clips).toEqual([
      { kind: "silence", start: 0, end: 200 },
      { kind: "recording", start: 0, end: 9800 },
    ]);
    expect(EditList.of(earlier.clips, 9800).toItem(earlier.markers[0]!.start)).toBe(500);
  });
  const cut = {
    stretches: [
      { start: 0, end: 4000, shift: 0 },
      { start: 6000, end: 10_000, shift: -2000 },
    ],
  };
  it("moves markers, cuts, regions and lines along, and lists what lies in what was cut out", () => {
    const step = {
      ...newRepairStep("noise", "r1"),
      regions: [
        { start: 7000, end: 8000 },
        { start: 4500, end: 5500 },
      ],
    };
    const entry = {
      ...newChainEntry("gain", "g"),
      automation: {
        gainDb: [
          [1, 0],
          [7, -6],
        ] as [number, number][],
      },
    };
    const given = item({
      markers: [mark(1000), mark(5000), mark(3000, 7000)],
      repairs: [step],
      chain: [entry],
      placement: {
        envelope: [
          [2, 0],
          [9, 3],
        ],
      },
    });
    const moved = movedAlong(given, cut, lengths(8000), RATE);
    expect(moved.markers.map(({ start, end }) => [start, end])).toEqual([
      [1000, undefined],
      [3000, 5000],
      [4000, undefined],
    ]);
    expect(moved.repairs[0]!.regions).toEqual([{ start: 5000, end: 6000 }]);
    expect(moved.chain[0]!.automation).toEqual({
      gainDb: [
        [1, 0],
        [5, -6],
      ],
    });
    expect(moved.envelope).toEqual([
      [2, 0],
      [7, 3],
    ]);
    expect(moved.lost.map(({ what }) => what).sort()).toEqual(["marker at 5000", "region of the repair noise"]);
  });
  it("moves what repairs leave alone and points of a gain envelope, and does no repair everywhere that had one place", () => {
    const cutOut = {
      stretches: [
        { start: 0, end: 4000, shift: 0 },
        { start: 5000, end: 10_000, shift: -1000 },
      ],
    };
    const region = (start: number, end: number) => ({ start, end });
    const given = item({
      repairs: [
        { ...newRepairStep("clicks", "gone"), regions: [region(4200, 4800)] },
        { ...newRepairStep("noise", "all"), excludedRegions: [region(6000, 7000)] },
        {
          ...newRepairStep("gain-envelope", "line"),
          learned: [4100, 4500, 8000].map((frame) => ({ frame, gainDb: -3 })),
        },
      ],
    });
    const [gone, all, line] = movedAlong(given, cutOut, lengths(9000), RATE).repairs;
    expect(gone).toMatchObject({ regions: [], enabled: false });
    expect(all).toMatchObject({ regions: [], enabled: true, excludedRegions: [region(5000, 6000)] });
    // Two points lie in what is gone: one is left where that was.
    expect(line!.learned).toEqual([4000, 7000].map((frame) => ({ frame, gainDb: -3 })));
  });
  it("moves clips, and drops those of which nothing is left", () => {
    const clips = [
      [0, 3000],
      [4200, 5800],
      [5000, 9000],
    ].map(([start, end]) => ({ kind: "recording", start, end }));
    const moved = movedAlong(item({ clips }), cut, lengths(8000), RATE);
    expect(moved.clips).toEqual([
      { kind: "recording", start: 0, end: 3000 },
      { kind: "recording", start: 4000, end: 7000 },
    ]);
    expect(moved.lost.length).toBeGreaterThan(0);
  });
});

describe("later recordings are matched", () => {
  const candidate = (id: string, name: string, seconds: number, levels: number[] | null): Candidate => ({
    id,
    name,
    seconds,
    fingerprint: levels && { stepSeconds: 0.1, bands: [Float32Array.from(levels)] },
  });
  const shape = (seed: number) =>
    Array.from({ length: 200 }, (_, i) => 10 * Math.sin((i * seed) / 7) + 5 * Math.sin(i * seed));
  const earlier = [candidate("a", "Tin Lanterns.wav", 20, shape(1)), candidate("b", "Low Door.wav", 20, shape(1.7))];
  it("by sound, whatever they are called", () => {
    const later = [candidate("x", "bounce_07.wav", 20, shape(1.7)), candidate("y", "bounce_12.wav", 20, shape(1))];
    expect(matched(later, earlier).map(({ id, of }) => [id, of])).toEqual([
      ["x", "b"],
      ["y", "a"],
    ]);
  });
  it("by name and length while their sound is not read", () => {
    const later = [candidate("x", "03 Low Door (new mix v2).wav", 20, null), candidate("y", "Other.wav", 300, null)];
    const [first, second] = matched(
      later,
      earlier.map((one) => ({ ...one, fingerprint: null })),
    );
    expect(nameLikeness("03 Low Door (new mix v2).wav", "Low Door.wav")).toBe(1);
    expect(first!.of ?? second!.of).toBeNull();
  });
  it("each once", () => {
    const later = ["x", "y", "z"].map((id) => candidate(id, `${id}.wav`, 20, shape(1)));
    const of = matched(later, earlier).flatMap((one) => one.of ?? []);
    expect(new Set(of).size).toBe(of.length);
  });
});
