import { describe, expect, it } from "vitest";
import { learnNoiseProfile } from "../repair/noise-profile";
import { powerToDb } from "../audio/decibel";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { meanPower, musicLike, speechLike, steadyNoise } from "../testing/degraded";
import { memoryFrames, sameBits } from "../testing/signals";
import { editListSource } from "./edit-list-source";
import { EditList } from "./edit-list";
import { cutsOf, withEdgeMoved, withClipsMoved, reopened, replaced, silence, sliceOf } from "./edits";
import { CROSSFADE_SHAPES, DEFAULT_CROSSFADE, recordingClip, type Clip } from "./clip";
import { roomTone } from "./room-tone";

const RATE = 48_000;
const counting = Float32Array.from({ length: 2000 }, (_, i) => i + 1);
const source = memoryFrames([counting], 1000);
const whole = [recordingClip(0, 2000)];
const hard = { shape: "hard", seconds: 0 } as const;

const read = async (clips: Clip[], start = 0, count = Infinity) =>
  (await editListSource(source, clips).read(start, count))[0]!;

describe("edits of what an item is made of", () => {
  it("cut, and what follows moves up", async () => {
    const cut = replaced(whole, 500, 700, [], hard);
    const x = await read(cut);
    expect(x.length).toBe(1800);
    expect([x[499], x[500]]).toEqual([500, 701]);
  });
  it("cut without moving anything leaves as much silence", async () => {
    const x = await read(replaced(whole, 500, 700, [silence(200)], hard));
    expect(x.length).toBe(2000);
    expect([x[499], x[500], x[699], x[700]]).toEqual([500, 0, 0, 701]);
  });
  it("move a stretch forwards and backwards", async () => {
    const on = await read(withClipsMoved(whole, 100, 200, 1000, hard));
    expect([on[99], on[100], on[899], on[900], on[999], on[1000]]).toEqual([100, 201, 1000, 101, 200, 1001]);
    const back = await read(withClipsMoved(whole, 1000, 1100, 100, hard));
    expect([back[100], back[199], back[200], back[1100]]).toEqual([1001, 1100, 101, 1101]);
    expect(withClipsMoved(whole, 100, 200, 150)).toEqual(whole);
  });
  it("put a copy in, again and again", async () => {
    const copy = sliceOf(whole, 10, 20);
    const twice = replaced(replaced(whole, 30, 30, copy, hard), 40, 40, copy, hard);
    expect([...(await read(twice)).subarray(29, 51)]).toEqual(
      [30, ...counting.subarray(10, 20), ...counting.subarray(10, 20), 31].map(Number),
    );
  });
  it("take back a cut: all of it is there again, in one piece", () => {
    const cut = replaced(replaced(whole, 500, 700), 900, 950, [silence(20)]);
    const arranged = new EditList(cut, 2000);
    expect(cutsOf(arranged).map(({ at, leftOut }) => [at, leftOut])).toEqual([
      [500, 200],
      [900, 0],
      [920, 0],
    ]);
    const without = reopened(arranged, 2)!;
    expect(cutsOf(new EditList(without, 2000))).toHaveLength(1);
    expect(reopened(new EditList(without, 2000), 1)).toEqual(whole);
  });
  it("trim head and tail, and open them again", () => {
    const trimmed = new EditList(sliceOf(whole, 300, 1500), 2000);
    expect(cutsOf(trimmed).map(({ at, leftOut }) => [at, leftOut])).toEqual([
      [0, 300],
      [1200, 500],
    ]);
    expect(reopened(trimmed, 0)).toEqual([recordingClip(0, 1500)]);
    expect(reopened(trimmed, 1)).toEqual([recordingClip(300, 2000)]);
  });
  it("cannot take back a joint whose sides lie the other way round", () => {
    const arranged = new EditList(withClipsMoved(whole, 1000, 1100, 100), 2000);
    expect(reopened(arranged, 1)).not.toBeNull();
    expect(reopened(arranged, 2)).toBeNull();
  });
  it("move the edges of a cut, within what there is", () => {
    const cut = new EditList(replaced(whole, 500, 700), 2000);
    expect(withEdgeMoved(cut, 1, "before", 50).map(({ start, end }) => [start, end])).toEqual([
      [0, 550],
      [700, 2000],
    ]);
    expect(withEdgeMoved(cut, 1, "behind", -5000)[1]!.start).toBe(0);
  });
  it("know where each moment comes from, and where it went", () => {
    const arranged = new EditList(replaced(whole, 500, 700, [silence(100)]), 2000);
    expect(arranged.toRecording(400)).toBe(400);
    expect(arranged.toRecording(550)).toBe(500);
    expect(arranged.toRecording(650)).toBe(750);
    expect(arranged.toItem(750)).toBe(650);
    expect(arranged.toItem(600)).toBeNull();
    expect(arranged.toItem(2000)).toBe(1900);
    expect(arranged.stretchesOf(450, 650)).toEqual([
      { start: 450, end: 500 },
      { start: 700, end: 750 },
    ]);
  });
});

describe("the arranged item", () => {
  const speech = speechLike(4, RATE, 5);
  const music = musicLike(4, RATE, 6);

  it("is the recording itself where nothing is cut", () => {
    expect(editListSource(source, whole)).toBe(source);
    expect(editListSource(source, null)).toBe(source);
  });
  it("holds the recording's samples away from the joints, whatever it is read by", async () => {
    const clips = replaced([recordingClip(0, speech.length)], 50_000, 90_000);
    const arranged = editListSource(memoryFrames([speech], RATE), clips);
    const [x] = await arranged.read(0, arranged.frames);
    const half = Math.round((DEFAULT_CROSSFADE.seconds * RATE) / 2);
    expect(sameBits([x!.subarray(0, 50_000 - half)], [speech.subarray(0, 50_000 - half)])).toBe(true);
    expect(sameBits([x!.subarray(50_000 + half)], [speech.subarray(90_000 + half)])).toBe(true);
    const parts = new Float32Array(arranged.frames);
    for (let at = 0; at < arranged.frames; at += 777) parts.set((await arranged.read(at, 777))[0]!, at);
    expect(sameBits([parts], [x!])).toBe(true);
  });
  it.each([
    ["speech", speech],
    ["music", music],
  ] as const)("joins %s without a click: above 10 kHz no more than on its two sides", async (_, x) => {
    const above = (samples: Float32Array) => {
      const block = [samples.slice()];
      new BiquadFilter(butterworth("high", 10_000, 8, RATE), 1).process(block);
      return block[0]!;
    };
    const length = Math.round(0.004 * RATE);
    const loudest = (samples: Float32Array, from: number, windows: number) =>
      Math.max(
        ...Array.from({ length: windows }, (_, i) =>
          meanPower(samples.subarray(from + (i - windows / 2) * length, from + (i + 1 - windows / 2) * length)),
        ),
      );
    const sides = above(x);
    let worst = -Infinity;
    for (let cut = 0; cut < 40; cut++) {
      const [from, to] = [20_000 + cut * 2500, 26_000 + cut * 3511];
      const arranged = editListSource(memoryFrames([x], RATE), replaced([recordingClip(0, x.length)], from, to));
      const joined = above((await arranged.read(0, arranged.frames))[0]!);
      const neighbourhood = Math.max(loudest(sides, from, 20), loudest(sides, to, 20));
      worst = Math.max(worst, powerToDb(loudest(joined, from, 4)) - powerToDb(neighbourhood));
    }
    expect(worst).toBeLessThan(0.1);
  });
  it("keeps the level through a joint of unlike sounds by equal power, of like ones linearly", async () => {
    const noise = steadyNoise("hiss", 4 * RATE, RATE, 9);
    const levelIn = async (shape: (typeof CROSSFADE_SHAPES)[number], x: Float32Array) => {
      const clips = replaced([recordingClip(0, x.length)], RATE, 2 * RATE, [], { shape, seconds: 1 });
      const [y] = await editListSource(memoryFrames([x], RATE), clips).read(0, 3 * RATE);
      return powerToDb(meanPower(y!.subarray(RATE - 2000, RATE + 2000))) - powerToDb(meanPower(x));
    };
    expect(Math.abs(await levelIn("equal power", noise))).toBeLessThan(0.5);
    expect(await levelIn("linear", noise)).toBeCloseTo(-3, 0);
    const steady = Float32Array.from({ length: 4 * RATE }, (_, i) => Math.sin((2 * Math.PI * i) / 48));
    expect(Math.abs(await levelIn("linear", steady))).toBeLessThan(0.01);
  });
  it("comes and goes at ends that cut into the recording, and only there", async () => {
    const x = await read([recordingClip(0, 1500)]);
    expect(x[0]).toBe(1);
    expect(x[1499]!).toBeLessThan(1500 / 5);
  });
});

describe("room tone", () => {
  const noise = steadyNoise("fan", 3 * RATE, RATE, 11).map((v) => v * 0.01);
  const profile = learnNoiseProfile([noise], RATE);

  it("has the level and the spectrum of what it was learned from", () => {
    const tone = roomTone(profile, 1, RATE)(0, 3 * RATE)[0]!;
    expect(Math.abs(powerToDb(meanPower(tone)) - powerToDb(meanPower(noise)))).toBeLessThan(1);
    const again = learnNoiseProfile([tone], RATE);
    const levels = (one: typeof profile) => meanPower(Float32Array.from(Buffer.from(one.levels[0]!, "base64")));
    expect(Math.abs(levels(again) - levels(profile)) / levels(profile)).toBeLessThan(0.02);
  });
  it("does not repeat itself, and is the same whatever it is read by", () => {
    const read = roomTone(profile, 1, RATE);
    const x = read(0, 2 * RATE)[0]!;
    const later = roomTone(profile, 1, RATE)(RATE, RATE)[0]!;
    expect(sameBits([later], [x.subarray(RATE)])).toBe(true);
    let most = 0;
    for (let lag = 1000; lag < RATE; lag += 331) {
      let cross = 0;
      for (let i = 0; i < RATE; i++) cross += x[i]! * x[i + lag]!;
      most = Math.max(most, cross / RATE / meanPower(x));
    }
    expect(most).toBeLessThan(0.6);
  });
});
