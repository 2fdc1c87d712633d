import { describe, expect, it } from "vitest";
import { typedTime, type TypingContext } from "./typed-time";

const context = (more: Partial<TypingContext> = {}): TypingContext => ({
  format: "clock",
  sampleRate: 48_000,
  tempo: null,
  playhead: 10,
  ...more,
});
const at = (text: string, more: Partial<TypingContext> = {}) => {
  const typed = typedTime(text, context(more));
  return typed?.kind === "place" ? typed.at : typed;
};
const tempo = { beatsPerMinute: 120, beatsPerBar: 4, startSeconds: 1 };

describe("a typed place", () => {
  it.each([
    ["83.5", 83.5],
    ["83,5", 83.5],
    ["1:23.5", 83.5],
    ["1:01:23.5", 3683.5],
    ["1200 ms", 1.2],
    ["2min", 120],
    ["48000 smp", 1],
    ["+2", 12],
    ["+ 500 ms", 10.5],
    ["−0:04", 6],
    ["-4 s", 6],
    ["-1:00", 0],
  ])("%s", (text, seconds) => expect(at(text)).toBeCloseTo(seconds, 9));
  it.each(["", "louder", "1:75", "1:2:3:4", "5 bananas", "+", "2 bars", "--3"])("is not %s", (text) =>
    expect(at(text)).toBeNull(),
  );
  it("counts as the format in force does", () => {
    expect(at("96000", { format: "samples" })).toBe(2);
    expect(at("00:00:02:12", { format: "25" })).toBeCloseTo(2.48, 9);
    expect(at("3.2.50", { format: "bars", tempo })).toBeCloseTo(1 + 4 + 0.75, 9);
    expect(at("3", { format: "bars", tempo })).toBeCloseTo(5, 9);
    expect(at("+2 bars", { format: "bars", tempo })).toBeCloseTo(14, 9);
    const blocks = { format: "blocks", blockSamples: 480 } as const;
    expect(at("100", blocks)).toBeCloseTo(1, 9);
    expect(at("100.240", blocks)).toBeCloseTo(1.005, 9);
    expect(at("100.480", blocks)).toBeNull();
    expect(at("+50", blocks)).toBeCloseTo(10.5, 9);
    expect(at("10 blocks", { blockSamples: 480 })).toBeCloseTo(0.1, 9);
  });
});

describe("a typed stretch", () => {
  it("goes from one place to the next, or so far on", () => {
    expect(typedTime("1:10 to 1:25", context())).toEqual({ kind: "stretch", start: 70, end: 85 });
    expect(typedTime("70 .. 85", context())).toEqual({ kind: "stretch", start: 70, end: 85 });
    expect(typedTime("1:10 to +500 ms", context())).toEqual({ kind: "stretch", start: 70, end: 70.5 });
    expect(typedTime("-2 to +4", context())).toEqual({ kind: "stretch", start: 8, end: 12 });
  });
  it("is none where it ends before it begins", () => {
    expect(typedTime("1:25 to 1:10", context())).toBeNull();
    expect(typedTime("1 to 2 to 3", context())).toBeNull();
  });

  it("takes a timecode as it stands on the recording, and a length as a length", () => {
    const at = { sampleRate: 48_000, tempo: null, format: "25" as const, playhead: 3, startSeconds: 36_000 };
    expect(typedTime("10:00:12:00", at)).toEqual({ kind: "place", at: 12 });
    expect(typedTime("+00:00:02:00", at)).toEqual({ kind: "place", at: 5 });
    expect(typedTime("00:00:02:00", at)).toEqual({ kind: "place", at: 0 });
  });
});
