import { describe, expect, it } from "vitest";
import { drifting, mixed, musicLike, speechLike, steadyNoise } from "../testing/degraded";
import type { Planar } from "../audio/units";
import { mainsOf, ToneFinder, type Tone } from "./steady-tones";

const RATE = 24_000;

/** In blocks of a size that divides nothing. */
function tonesOf(block: Planar): Tone[] {
  const finder = new ToneFinder(RATE);
  for (let at = 0; at < block[0]!.length; at += 7001) finder.process(block.map((x) => x.subarray(at, at + 7001)));
  return finder.finish();
}

const tone = (hertz: number, level: number, from: number, to: number, x: Float32Array): Float32Array =>
  x.map((v, i) => (i >= from * RATE && i < to * RATE ? v + level * Math.sin((2 * Math.PI * hertz * i) / RATE) : v));

describe("steady tones", () => {
  const speech = mixed(speechLike(26, RATE, 21), steadyNoise("room", 26 * RATE, RATE, 4), 30);

  it("are found under speech and noise: where, how high, how loud", () => {
    const found = tonesOf([tone(3152.5, 0.004, 6, 26, speech)]);
    expect(found).toHaveLength(1);
    expect(Math.abs(found[0]!.hertz - 3152.5)).toBeLessThan(0.6);
    expect(found[0]!.start / RATE).toBeLessThan(8);
    expect(found[0]!.end / RATE).toBeGreaterThan(19);
    expect(found[0]!.sizeDb).toBeGreaterThan(14);
  });

  it("are found where the channels hold them in opposite senses", () => {
    const found = tonesOf([tone(1000, 0.004, 0, 26, speech), tone(1000, -0.004, 0, 26, speech)]);
    expect(found.map(({ hertz }) => Math.round(hertz))).toEqual([1000]);
  });

  it("are none in speech, noise, music and silence", () => {
    expect(tonesOf([speech])).toEqual([]);
    expect(tonesOf([musicLike(9, RATE, 5)])).toEqual([]);
    expect(tonesOf([steadyNoise("hiss", 10 * RATE, RATE, 6)])).toEqual([]);
    expect(tonesOf([new Float32Array(10 * RATE)])).toEqual([]);
    expect(tonesOf([new Float32Array(100)])).toEqual([]);
  });

  it("belong to the mains where they are harmonics of one", () => {
    const found = tonesOf([tone(3152.5, 0.004, 0, 26, mixed(speech, drifting(speech.length, RATE, 50, 4, 0, 3), 10))]);
    const mains = found.map((one) => mainsOf(one, found));
    expect(mains.filter((hertz) => hertz !== null).length).toBeGreaterThanOrEqual(3);
    expect(mains.filter((hertz) => hertz !== null && Math.abs(hertz - 50) > 0.3)).toEqual([]);
    expect(mainsOf(found.at(-1)!, found)).toBeNull();
  });
});
