import { describe, expect, it } from "vitest";
import { Measurer } from "../measure";
import { layoutNamed } from "../audio/layout";
import { learnNoiseProfile } from "../repair/noise-profile";
import { powerToDb } from "../audio/decibel";
import { meanPower } from "../testing/degraded";
import { memoryFrames, noise } from "../testing/signals";
import { recordingClip, type Clip } from "./clip";
import { EditList } from "./edit-list";
import { editListSource } from "./edit-list-source";
import { endChange, endsAfterCuts, withHeadAndTail } from "./heads-and-tails";

const RATE = 48_000;
const seconds = (count: number) => Math.round(count * RATE);

/** 0.2 s of digital silence, 0.4 s of room, 3 s of sound, 2 s of room. */
function chapter(): Float32Array {
  const room = noise(5.6, RATE, -62, 1);
  room.fill(0, 0, seconds(0.2));
  noise(3, RATE, -20, 2).forEach((v, i) => (room[seconds(0.6) + i]! += v));
  return room;
}
const x = chapter();
const profile = learnNoiseProfile([x.slice(seconds(4), seconds(5))], RATE);
const whole = EditList.of(null, x.length);
const ends = (head: number, tail: number) => ({
  head: endChange({ quiet: seconds(0.6), silent: seconds(0.2) }, seconds(head)),
  tail: endChange({ quiet: seconds(2), silent: 0 }, seconds(tail)),
});

async function measured(clips: readonly Clip[]) {
  const source = editListSource(memoryFrames([x], 8192), clips);
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("mono")! });
  measurer.process(await source.read(0, source.frames));
  return measurer.result().figures;
}

describe("heads and tails of exact length", () => {
  it("take off digital silence and what is too long, and put in what is missing", () => {
    expect(ends(0.75, 1).head).toEqual({ takenOff: seconds(0.2), putIn: seconds(0.75) - seconds(0.4) });
    expect(ends(0.75, 1).tail).toEqual({ takenOff: seconds(1), putIn: 0 });
    expect(ends(0.4, 2).head).toEqual({ takenOff: seconds(0.2), putIn: 0 });
  });
  it("measure as they were wanted, without a step in level", async () => {
    const clips = withHeadAndTail(whole, ends(0.75, 3), profile)!;
    const figures = await measured(clips);
    expect(figures.headRoomToneSeconds).toBeCloseTo(0.75, 1);
    expect(figures.tailRoomToneSeconds).toBeCloseTo(3, 1);
    expect(figures.headSilenceSeconds).toBeLessThan(0.001);
    expect(new EditList(clips, x.length).frames).toBe(seconds(0.75 + 3 + 3));
    const made = (await editListSource(memoryFrames([x], 8192), clips).read(0, seconds(0.3)))[0]!;
    const step = powerToDb(meanPower(made) / meanPower(x.slice(seconds(4), seconds(5))));
    expect(Math.abs(step)).toBeLessThan(0.5);
  });
  it("go over into the sound without a click", () => {
    const clips = withHeadAndTail(whole, ends(0.75, 3), profile)!;
    expect(clips.map(({ kind, crossfade }) => [kind, crossfade?.seconds])).toEqual([
      ["room-tone", undefined],
      ["recording", 0.008],
      ["room-tone", 0.008],
    ]);
  });
  it("leave an item alone that has them, and keep its cuts", () => {
    const none = { takenOff: 0, putIn: 0 };
    expect(withHeadAndTail(whole, { head: none, tail: none }, null)).toBeNull();
    const cut = new EditList([recordingClip(0, seconds(2)), recordingClip(seconds(3), x.length)], x.length);
    const clips = withHeadAndTail(cut, { head: none, tail: { takenOff: seconds(1), putIn: 0 } }, null)!;
    expect(clips).toEqual([recordingClip(0, seconds(2)), recordingClip(seconds(3), x.length - seconds(1))]);
  });
  it("are known of an item from those of its recording: less what was cut off, and with what was put in", () => {
    const ofRecording = {
      head: { quiet: seconds(0.6), silent: seconds(0.2) },
      tail: { quiet: seconds(2), silent: 0 },
    };
    const after = (clips: Clip[]) => {
      const { head, tail } = endsAfterCuts(new EditList(clips, x.length), ofRecording);
      const told = (end: typeof head) => end && [end.quiet / RATE, end.silent / RATE];
      return [told(head), told(tail)];
    };
    const recording = (from: number, to: number) => recordingClip(seconds(from), seconds(to));
    const silence: Clip = { kind: "silence", start: 0, end: seconds(0.5) };
    expect(after([recording(0, 5.6)])).toEqual([
      [0.6, 0.2],
      [2, 0],
    ]);
    expect(after([recording(0.3, 5)])).toEqual([
      [0.3, 0],
      [1.4, 0],
    ]);
    expect(after([silence, recording(0.1, 5.6), silence])).toEqual([
      [1, 0.6],
      [2.5, 0.5],
    ]);
    // A cut into the sound leaves nothing to tell, unless room was put in there.
    expect(after([recording(1, 3)])).toEqual([null, null]);
    // What was set is what is told, so that nothing is proposed a second time.
    const set = withHeadAndTail(whole, ends(0.75, 3), profile)!;
    const { head, tail } = endsAfterCuts(new EditList(set, x.length), ofRecording);
    expect([endChange(head!, seconds(0.75)), endChange(tail!, seconds(3))]).toEqual([
      { takenOff: 0, putIn: 0 },
      { takenOff: 0, putIn: 0 },
    ]);
  });
  it("need to know what the room sounds like", () => {
    expect(() => withHeadAndTail(whole, ends(3, 3), null)).toThrow(RangeError);
  });
});
