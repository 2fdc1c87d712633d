import { beforeEach, describe, expect, it } from "vitest";
import { LANE_IDS, moveLane, resizeLanes, setSpectrogram, switchLane, useLanes } from "./lane-settings";

beforeEach(() => useLanes.setState(useLanes.getInitialState()));
const lane = (id: string) => useLanes.getState().lanes.find((one) => one.id === id)!;
const order = () => useLanes.getState().lanes.map(({ id }) => id);
const height = () => useLanes.getState().lanes.reduce((sum, { weight }) => sum + weight, 0);

describe("lanes", () => {
  it("are switched on and off, or set", () => {
    expect(lane("spectrogram").on).toBe(false);
    switchLane("spectrogram");
    expect(lane("spectrogram").on).toBe(true);
    switchLane("spectrogram", true);
    expect(lane("spectrogram").on).toBe(true);
    switchLane("waveform");
    expect(lane("waveform").on).toBe(false);
  });
  it.each([
    ["loudness", -4, 0],
    ["waveform", 2, 2],
    ["waveform", 99, LANE_IDS.length - 1],
    ["reduction", -99, 0],
  ] as const)("move: %s by %d to place %d", (id, by, place) => {
    moveLane(id, by);
    expect(order()[place]).toBe(id);
    expect([...order()].sort()).toEqual([...LANE_IDS].sort());
  });
  it("keep their height together when a border between two is dragged", () => {
    const all = height();
    const before = [lane("waveform").weight, lane("tone").weight];
    resizeLanes("waveform", "tone", 1.5);
    expect([lane("waveform").weight, lane("tone").weight]).toEqual([before[0]! + 1.5, before[1]! - 1.5]);
    expect(height()).toBeCloseTo(all, 12);
  });
  it.each([99, -99])("never vanish by it: %d", (weight) => {
    const all = height();
    resizeLanes("waveform", "loudness", weight);
    expect(Math.min(lane("waveform").weight, lane("loudness").weight)).toBeCloseTo(0.5, 12);
    expect(height()).toBeCloseTo(all, 12);
  });
});

describe("the look of a spectrogram", () => {
  it("changes in what is said, and in nothing else", () => {
    const before = useLanes.getState().picture;
    setSpectrogram({ points: 8192 });
    expect(useLanes.getState().picture).toEqual({ ...before, points: 8192 });
  });
});

describe("settings that are kept", () => {
  const merge = useLanes.persist.getOptions().merge!;
  it("get lanes that came with a newer version at their end", () => {
    const kept = { lanes: [{ id: "loudness", on: true, weight: 4 }] };
    const merged = merge(kept, useLanes.getInitialState());
    expect(merged.lanes[0]).toEqual({ id: "loudness", on: true, weight: 4 });
    expect(merged.lanes.map(({ id }) => id).sort()).toEqual([...LANE_IDS].sort());
  });
  it("lose lanes that there are no more", () => {
    const kept = { lanes: [{ id: "tea leaves", on: true, weight: 4 }], body: 0.5 };
    const merged = merge(kept, useLanes.getInitialState());
    expect(merged.lanes.map(({ id }) => id)).not.toContain("tea leaves");
    expect(merged.body).toBe(0.5);
  });
});
