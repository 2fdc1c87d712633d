import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { agreeablePause, evenedGains, keepingPlaces, orderProposals, tailSeconds } from "./order-proposals";
import type { Placeable, StoredPlacement } from "./placement";
import { PLAIN_PROGRAMME } from "./programme";
import { programmeLevels } from "./programme-levels";
import { timelineOf } from "./timeline";

/** An item of steady loudness, with a tail that falls away. */
const levels = (lufs: number, tail = 0) => ({
  momentaryLufs: Float32Array.from({ length: 100 }, (_, i) => (i < 100 - tail ? lufs : -75)),
  truePeakDbtp: lufs + 10,
});

function proposals(loudness: number[], placements: StoredPlacement[] = [], tail = 20) {
  const items: Placeable[] = loudness.map((_, i) => ({ id: `i${i}`, placement: placements[i] }));
  const format = { frames: 80_000, sampleRate: 8000, layout: layoutNamed("mono")! };
  const timeline = timelineOf(items, PLAIN_PROGRAMME, () => format)!;
  const levelsOf = (id: string) => levels(loudness[Number(id.slice(1))]!, tail);
  const whole = programmeLevels(timeline, items, [], levelsOf)!;
  return { found: orderProposals(items, whole, levelsOf), whole };
}

describe("gains that even an order", () => {
  it("bring every step under the limit, and keep who is louder than whom", () => {
    const loudness = [-14, -24, -18, -12, -20];
    const steps = loudness.slice(1).map((lufs, i) => lufs - loudness[i]!);
    const gains = evenedGains(steps, 4);
    const after = loudness.map((lufs, i) => lufs + gains[i]!);
    after.slice(1).forEach((lufs, i) => expect(Math.abs(lufs - after[i]!)).toBeLessThan(4.02));
    for (let i = 1; i < loudness.length; i++)
      expect(Math.sign(after[i]! - after[i - 1]!)).toBe(Math.sign(steps[i - 1]!));
    // What one gets another gives.
    expect(gains.reduce((sum, gain) => sum + gain, 0)).toBeCloseTo(0, 6);
  });
  it("go no further than who is louder than whom allows", () => {
    // The louder one ends quietly: its step tells nothing of the whole.
    const gains = keepingPlaces([6, -6, 0], [-16, -14, -30]);
    const after = [-16, -14, -30].map((lufs, i) => lufs + gains[i]!);
    expect(after[1]! - after[0]!).toBeCloseTo(0, 9);
    expect(keepingPlaces([1, -1], [-20, null])).toEqual([1, -1]);
  });
  it("do nothing where all steps are small, or a side is silent", () => {
    expect(evenedGains([1, -3, null], 4)).toEqual([0, 0, 0, 0]);
  });
});

describe("pauses", () => {
  it("are shorter after what dies away, and whole beats where the tempo is known", () => {
    expect(agreeablePause(0, undefined)).toBe(2);
    expect(agreeablePause(1.5, undefined)).toBe(0.5);
    expect(agreeablePause(9, undefined)).toBe(0.3);
    const beat = 60 / 80;
    for (const tail of [0, 0.4, 1.9]) {
      const pause = agreeablePause(tail, { beatsPerMinute: 80, beatsPerBar: 4 });
      expect(pause).toBeGreaterThanOrEqual(0.3);
      const beats = (pause + tail) / beat;
      expect(Math.abs(beats - Math.round(beats))).toBeLessThan(0.01);
    }
  });
  it("count how long an item dies away", () => {
    expect(tailSeconds(levels(-20, 14), -20)).toBeCloseTo(1.4, 6);
    expect(tailSeconds(levels(-20), -20)).toBe(0);
  });
});

describe("proposals for an order", () => {
  it("are for steps, pauses and what stops dead; overlaps stay", () => {
    const { found } = proposals([-14, -24, -20], [{}, { gapSeconds: 5 }, { gapSeconds: -1 }], 0);
    expect(found.map(({ id }) => id)).toEqual(["steps", "pauses", "stops"]);
    const pauses = found.find(({ id }) => id === "pauses")!;
    expect(pauses.changes).toEqual([{ item: "i1", changes: { gapSeconds: 2 } }]);
    const stops = found.find(({ id }) => id === "stops")!;
    expect(stops.changes.map(({ item }) => item)).toEqual(["i0"]);
  });
  it("are none for an order that is even", () => {
    expect(proposals([-16, -17, -15], [{}, { gapSeconds: 0.3 }, { gapSeconds: 0.3 }]).found).toEqual([]);
    expect(proposals([-16]).found).toEqual([]);
  });
});
