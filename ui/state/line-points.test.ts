import { describe, expect, it } from "vitest";
import { EditList } from "@core/edit-list/edit-list";
import { newChainEntry } from "@core/processors";
import { newProject } from "@core/project/templates";
import { newRepairStep } from "@core/repair";
import { laneSchema } from "@core/programme/programme";
import type { Item } from "@core/project/document";
import { itemPoints, pointFrom, programmePoints } from "./line-points";

const RATE = 1000;
const item: Item = {
  id: "i",
  name: "Low Door",
  source: "a".repeat(64),
  markers: [],
  repairs: [
    { ...newRepairStep("gain-envelope", "one"), learned: [3000, 1000].map((frame) => ({ frame, gainDb: -1 })) },
    { ...newRepairStep("gain-envelope", "two"), learned: [{ frame: 8000, gainDb: 2 }] },
  ].map((step) => ({ ...step, learned: [...step.learned].sort((a, b) => a.frame - b.frame) })),
  chain: [
    {
      ...newChainEntry("gain", "g"),
      automation: {
        gainDb: [
          [2, 0],
          [5, 3],
        ],
      },
    },
    {
      ...newChainEntry("leveller", "l"),
      line: [
        [5, 1],
        [0.5, 0],
      ],
    },
  ],
};
const whole = { editList: EditList.of(undefined, 10 * RATE), sampleRate: RATE };
const cut = {
  editList: EditList.of(
    [
      { kind: "recording", start: 0, end: 2000 },
      { kind: "recording", start: 4000, end: 10_000 },
    ] as never,
    10 * RATE,
  ),
  sampleRate: RATE,
};

describe("points of an item's lines", () => {
  it("are those of its chain, in order, no place twice", () => {
    expect(itemPoints(item, whole, "shape", null)).toEqual([0.5, 2, 5]);
  });
  it("are those of the gain line in hand in Repair, and of all where none is", () => {
    expect(itemPoints(item, whole, "repair", "one")).toEqual([1, 3]);
    expect(itemPoints(item, whole, "repair", "two")).toEqual([8]);
    expect(itemPoints(item, whole, "repair", null)).toEqual([1, 3, 8]);
  });
  it("are told where they are heard: not where they are cut out", () => {
    expect(itemPoints(item, cut, "repair", null)).toEqual([1, 6]);
  });
});

describe("points of the programme's lines", () => {
  const lane = laneSchema.parse({ id: "bed", name: "Bed", envelope: [[2.5, -6]] });
  const base = newProject("Side", "music");
  const document = {
    items: [
      {
        ...item,
        placement: {
          envelope: [
            [1, 0],
            [2, -3],
          ],
        } as never,
      },
      { ...item, id: "unread", placement: { envelope: [[1, 0]] } as never },
    ],
    programme: { ...base.programme, lanes: [lane] },
  };
  const startOf = (id: string) => (id === "i" ? 10 : null);
  it("lie where their item lies; those of what is not placed are left out", () => {
    expect(programmePoints(document, startOf, null)).toEqual([2.5, 11, 12]);
  });
  it("are those of the line in hand", () => {
    expect(programmePoints(document, startOf, { kind: "lane", id: "bed" })).toEqual([2.5]);
    expect(programmePoints(document, startOf, { kind: "item", id: "i" })).toEqual([11, 12]);
  });
});

describe("the next point", () => {
  it("is not the one that the playhead stands on, and none beyond the last", () => {
    expect(pointFrom([1, 2, 3], 2, 1)).toBe(3);
    expect(pointFrom([1, 2, 3], 2, -1)).toBe(1);
    expect(pointFrom([1, 2, 3], 3.0005, 1)).toBeNull();
    expect(pointFrom([1, 2, 3], 0.5, -1)).toBeNull();
  });
});
