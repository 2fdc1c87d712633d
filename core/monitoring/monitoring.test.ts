import { describe, expect, it } from "vitest";
import { STANDARD_DOWNMIX } from "../audio/downmix";
import { layoutNamed } from "../audio/layout";
import { bandPass, butterworth, BiquadFilter } from "../dsp/butterworth";
import { memoryFrames, noise, sine } from "../testing/signals";
import { BinauralDownmix } from "./binaural";
import { MonitorMatrix, MONITOR_ALL } from "./monitor-matrix";
import { resampledSource } from "./resampled-source";
import { Shuttle } from "./shuttle";

const RATE = 48_000;
const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length);
const db = (ratio: number) => 20 * Math.log10(ratio);
const stereo = layoutNamed("stereo")!;

describe("what is listened to", () => {
  const l = noise(0.1, RATE, -10, 1);
  const r = noise(0.1, RATE, -10, 2);
  const hear = (change: object) => new MonitorMatrix({ ...MONITOR_ALL, ...change }, stereo, RATE).process([l, r]);
  it("is the same bits when nothing is chosen", () => {
    const [left, right] = hear({});
    expect(left).toEqual(l);
    expect(right).toEqual(r);
  });
  it("is middle, side, one side in both, or a channel alone", () => {
    expect(hear({ listenTo: "mid" })[0][7]).toBeCloseTo((l[7]! + r[7]!) / 2, 6);
    expect(hear({ listenTo: "side" })[1][7]).toBeCloseTo((l[7]! - r[7]!) / 2, 6);
    expect(hear({ listenTo: "right" })[0]).toEqual(r);
    expect(rms(hear({ solo: [0] })[1])).toBe(0);
    expect(rms(hear({ mute: [0] })[0])).toBe(0);
    expect(hear({ mute: [0] })[1]).toEqual(r);
  });
  it("takes centre and surrounds into the sides as the coefficients say", () => {
    const wide = layoutNamed("5.1")!;
    const block = wide.speakers.map(({ label }) => (label === "C" ? l : new Float32Array(l.length)));
    const fold = (centreDb: number) =>
      new MonitorMatrix({ ...MONITOR_ALL, coefficients: { ...STANDARD_DOWNMIX, centreDb } }, wide, RATE).process(
        block,
      )[0];
    expect(db(rms(fold(-6)) / rms(l))).toBeCloseTo(-6, 2);
    expect(db(rms(fold(0)) / rms(l))).toBeCloseTo(0, 2);
  });
});

describe("a spherical head", () => {
  const wide = layoutNamed("7.1.4")!;
  const from = (label: string) => {
    const x = new Float32Array(2400);
    x[200] = 1;
    return new BinauralDownmix(wide, RATE).process(
      wide.speakers.map((s) => (s.label === label ? x : new Float32Array(2400))),
    );
  };
  const first = (x: Float32Array) => x.findIndex((v) => Math.abs(v) > 0.01);
  it("lets a side's sound reach its own ear 0.6 to 0.7 ms before the other, and louder", () => {
    const [left, right] = from("Lss");
    const apart = (first(right) - first(left)) / RATE;
    expect(apart).toBeGreaterThan(0.0006);
    expect(apart).toBeLessThan(0.0007);
    expect(db(rms(left) / rms(right))).toBeGreaterThan(6);
  });
  it("treats both ears alike from the front, and mirrors the sides", () => {
    const [left, right] = from("C");
    left.forEach((v, i) => expect(v).toBeCloseTo(right[i]!, 6));
    const [a] = from("Lb");
    const [, b] = from("Rb");
    a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 6));
  });
});

describe("a Butterworth filter", () => {
  it.each([2, 4, 8])("is 3.01 dB down at its corner and falls by 6 dB an octave and order, order %i", (order) => {
    const level = (hertz: number) => {
      const x = sine(hertz, 0, 0.5, RATE);
      const before = rms(x.subarray(12_000));
      new BiquadFilter(butterworth("low", 1000, order, RATE), 1).process([x]);
      return db(rms(x.subarray(12_000)) / before);
    };
    expect(level(1000)).toBeCloseTo(-3.01, 1);
    expect(level(100)).toBeCloseTo(0, 2);
    expect(level(4000) - level(2000)).toBeLessThan(-5.7 * order);
  });
  it("leaves a band whole and takes away what lies beside it", () => {
    const level = (hertz: number) => {
      const x = sine(hertz, 0, 0.5, RATE);
      bandPass({ low: 500, high: 2000 }, 1, RATE).process([x]);
      return db(rms(x.subarray(12_000)) * Math.SQRT2);
    };
    expect(level(1000)).toBeCloseTo(0, 1);
    expect(level(250)).toBeLessThan(-45);
    expect(level(4000)).toBeLessThan(-45);
  });
});

describe("a recording at another rate", () => {
  it.each([44_100, 96_000])("keeps a tone: from %i Hz", async (rate) => {
    const source = memoryFrames([sine(997, -6, 1, rate)], rate);
    const there = resampledSource(source, RATE);
    expect(there.frames).toBe(RATE);
    const [x] = await there.read(10_000, 20_000);
    const wanted = sine(997, -6, 1, RATE).subarray(10_000, 30_000);
    expect(db(rms(x!.map((v, i) => v - wanted[i]!)) / rms(wanted))).toBeLessThan(-80);
  });
  it("gives the same from wherever it is read", async () => {
    const there = resampledSource(memoryFrames([noise(1, 44_100, -6, 4)], 44_100), RATE);
    const [whole] = await there.read(0, 4000);
    const [part] = await there.read(1234, 1000);
    expect(part).toEqual(whole!.subarray(1234, 2234));
  });
});

describe("a shuttle", () => {
  const x = sine(440, -10, 6, RATE);
  const played = (start: number, count: number) => {
    const out = new Float32Array(count);
    for (let i = 0; i < count; i++) out[i] = x[start + i] ?? 0;
    return Promise.resolve([out]);
  };
  /** Crossings from below in a second: the pitch of a tone. */
  const pitch = (tone: Float32Array) => {
    let crossings = 0;
    for (let i = 1; i < tone.length; i++) if (tone[i - 1]! < 0 && tone[i]! >= 0) crossings++;
    return (crossings * RATE) / tone.length;
  };
  it.each([0.5, 1.5, 3, -1, -2])("keeps the pitch and the level, and moves at its speed: %f", async (speed) => {
    const shuttle = new Shuttle(played, 144_000, speed, RATE);
    const parts: Float32Array[] = [];
    for (let i = 0; i < 40; i++) parts.push((await shuttle.next())[0]!);
    const heard = Float32Array.from(parts.flatMap((part) => [...part]));
    expect(Math.abs(pitch(heard) - 440)).toBeLessThan(6);
    expect(Math.abs(db(rms(heard) / rms(x)))).toBeLessThan(0.5);
    expect(shuttle.position - 144_000).toBeCloseTo(speed * heard.length, -1);
    // No step that a tone of twice the level would not have: joints do not click.
    const step = heard.reduce((most, v, i) => (i === 0 ? 0 : Math.max(most, Math.abs(v - heard[i - 1]!))), 0);
    expect(step).toBeLessThan(2 * 0.316 * 2 * Math.PI * (440 / RATE));
  });
});
