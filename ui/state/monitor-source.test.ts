import { describe, expect, it } from "vitest";
import type { ChainEntry } from "@core/processors";
import { newRepairStep } from "@core/repair";
import { answered, chanceOf, newBlindTest } from "./blind-test";
import { playbackPlanOf, type MonitorModel, type CompareSlot } from "./monitor-source";

const chain: ChainEntry[] = [
  { type: "gain", id: "g", bypass: false, gainDb: 6 },
  { type: "limiter", id: "l", bypass: false, ceilingDbtp: -1 },
];
const slot = (label: string, lufs: number): CompareSlot => ({
  label,
  url: `/${label}`,
  repairs: [],
  clips: null,
  chain: [],
  lufs,
});
const model = (change: Partial<MonitorModel>): MonitorModel => ({
  source: "now",
  levelMatched: true,
  repairs: [],
  clips: null,
  chain,
  frozen: 0,
  step: null,
  originalLufs: -20,
  lufsAfter: (entries) => [-20, -14, -15][entries]!,
  reference: null,
  slots: [null, null],
  swapped: false,
  ...change,
});

describe("what is heard", () => {
  it("is brought to the loudness of the original, and to nothing where levels are not matched", () => {
    expect(playbackPlanOf(model({})).main).toMatchObject({ url: null, repairs: [], clips: null, chain, gainDb: -5 });
    expect(playbackPlanOf(model({ levelMatched: false })).main.gainDb).toBe(0);
    expect(playbackPlanOf(model({ source: "original" })).main).toMatchObject({ chain: [], gainDb: 0 });
  });
  it("before a step is the chain up to it; what a step removes is before less after, equally loud", () => {
    expect(playbackPlanOf(model({ source: "before", step: "l" })).main).toMatchObject({
      chain: [chain[0]],
      gainDb: -6,
    });
    const { main, subtract } = playbackPlanOf(model({ source: "removed", step: "l" }));
    expect(main).toMatchObject({ chain: [chain[0]], gainDb: -6 });
    expect(subtract).toMatchObject({ chain, gainDb: -5 });
    expect(playbackPlanOf(model({ source: "removed" })).main).toMatchObject({ chain: [], gainDb: 0 });
  });
  it("is frozen only where all that is frozen is heard", () => {
    expect(playbackPlanOf(model({ frozen: 2 })).main.frozen).toBe(2);
    const { main, subtract } = playbackPlanOf(model({ frozen: 2, source: "removed", step: "l" }));
    expect([main.frozen, subtract!.frozen]).toEqual([0, 2]);
    expect(playbackPlanOf(model({ frozen: 2, source: "original" })).main.frozen).toBe(0);
  });
  it("a detector is the chain up to its processor, at its own level, and all where it is in nobody's hand", () => {
    const { main, subtract } = playbackPlanOf(model({ source: "detector", step: "l" }));
    expect(main).toMatchObject({ chain: [chain[0], { ...chain[1], monitored: "detector" }], gainDb: 0, frozen: 0 });
    expect(subtract).toBeNull();
    expect(playbackPlanOf(model({ source: "detector", step: null })).main.chain).toEqual(chain);
    // What is frozen was made with the processor at work.
    expect(playbackPlanOf(model({ source: "detector", step: "l", frozen: 2 })).main.frozen).toBe(0);
    expect(playbackPlanOf(model({ source: "detector", step: "l", frozen: 1 })).main.frozen).toBe(1);
  });
  it("before a repair is the repairs up to it, without the chain; what it removes is before less after", () => {
    const repairs = [newRepairStep("clicks", "c"), newRepairStep("noise", "n")];
    const of = (change: Partial<MonitorModel>) => playbackPlanOf(model({ repairs, step: "n", ...change }));
    expect(of({ source: "before" }).main).toMatchObject({ repairs: [repairs[0]], chain: [], gainDb: 0 });
    expect(of({ source: "removed" })).toMatchObject({
      main: { repairs: [repairs[0]] },
      subtract: { repairs, chain: [] },
    });
    expect(of({ source: "now" }).main).toMatchObject({ repairs, chain });
    expect(of({ source: "original" }).main.repairs).toEqual([]);
    // With nothing in hand and an empty chain: all that the repairs take away.
    const all = of({ source: "removed", step: null, chain: [] });
    expect(all).toMatchObject({ main: { repairs: [] }, subtract: { repairs } });
  });
  it("is a reference at the same loudness", () => {
    const reference = slot("reference", -9);
    expect(playbackPlanOf(model({ source: "reference", reference })).main).toEqual({
      url: "/reference",
      repairs: [],
      clips: null,
      chain: [],
      frozen: 0,
      gainDb: -11,
    });
    expect(playbackPlanOf(model({ source: "reference" })).main.url).toBeNull();
  });
  it("is the slots, swapped if a blind test has it so, and their difference", () => {
    const slots = [slot("one", -18), slot("two", -22)] as const;
    expect(playbackPlanOf(model({ source: "first", slots: [...slots] })).main.url).toBe("/one");
    expect(playbackPlanOf(model({ source: "first", slots: [...slots], swapped: true })).main.url).toBe("/two");
    const { main, subtract } = playbackPlanOf(model({ source: "difference", slots: [...slots] }));
    expect([main.gainDb, subtract!.gainDb]).toEqual([-2, 2]);
  });
});

describe("listening blind", () => {
  it("keeps the score, whatever the order was", () => {
    let test = newBlindTest(true);
    test = answered(test, 2, false);
    expect(test).toMatchObject({ asked: 1, right: 1, last: true });
    test = answered(test, 2, true);
    expect(test).toMatchObject({ asked: 2, right: 1, last: false, swapped: true });
  });
  it("knows how likely a score is by guessing", () => {
    expect(chanceOf({ ...newBlindTest(false), asked: 10, right: 10 })).toBeCloseTo(1 / 1024, 9);
    expect(chanceOf({ ...newBlindTest(false), asked: 10, right: 8 })).toBeCloseTo(56 / 1024, 9);
    expect(chanceOf({ ...newBlindTest(false), asked: 4, right: 0 })).toBe(1);
  });
});
