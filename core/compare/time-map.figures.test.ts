import { describe, expect, it } from "vitest";
import { musicLike, steadyNoise } from "../testing/degraded";
import { joined, memoryFrames } from "../testing/signals";
import { align } from "./alignment";
import { mapped, timeMap } from "./time-map";

const RATE = 16_000;
const music = musicLike(24, RATE, 3);
const open = (x: Float32Array) => memoryFrames([x], RATE);

/** 3 dB lower, a little duller, with noise 20 dB below. */
function remixed(x: Float32Array): Float32Array {
  const noise = steadyNoise("hiss", x.length, RATE, 9);
  const [power, noisePower] = [x, noise].map((y) => y.reduce((sum, v) => sum + v * v, 0));
  const gain = 0.1 * Math.sqrt(power! / noisePower!);
  // Zero phase: it moves nothing in time.
  return x.map((v, i) => 0.708 * (0.2 * (x[i - 1] ?? 0) + 0.6 * v + 0.2 * (x[i + 1] ?? 0) + gain * noise[i]!));
}

it("a shift is found to the sample: 3 dB lower, duller, with noise 20 dB below", async () => {
  const { shift, likeness } = await align(open(music), open(joined(new Float32Array(12_345), remixed(music))));
  expect(shift).toBe(12_345);
  expect(likeness).toBeGreaterThan(0.9);
});

describe("how a later recording lies on an earlier one", () => {
  const [cutFrom, cutTo] = [9.3 * RATE, 11.1 * RATE];
  it("tells what was cut out, to 5 ms", async () => {
    const shorter = joined(new Float32Array(700), remixed(joined(music.subarray(0, cutFrom), music.subarray(cutTo))));
    const map = (await timeMap(open(music), open(shorter)))!;
    expect(map.stretches).toHaveLength(2);
    const [before, after] = map.stretches;
    expect(before!.shift).toBe(700);
    expect(after!.shift).toBe(700 - (cutTo - cutFrom));
    expect(Math.abs(before!.end - cutFrom)).toBeLessThan(0.005 * RATE);
    expect(Math.abs(after!.start - cutTo)).toBeLessThan(0.005 * RATE);
    expect(mapped(map, 1000)).toBe(1700);
    expect(mapped(map, 10 * RATE)).toBeNull();
    expect(mapped(map, 15 * RATE)).toBe(15 * RATE + 700 - (cutTo - cutFrom));
  });
  it("tells what was put in", async () => {
    const bar = musicLike(2.5, RATE, 44);
    const longer = remixed(joined(music.subarray(0, cutFrom), bar, music.subarray(cutFrom)));
    const map = (await timeMap(open(music), open(longer)))!;
    expect(map.stretches.map(({ shift }) => shift)).toEqual([0, 2.5 * RATE]);
    expect(Math.abs(map.stretches[0]!.end - cutFrom)).toBeLessThan(0.005 * RATE);
    expect(mapped(map, cutFrom - 400)).toBe(cutFrom - 400);
    expect(mapped(map, cutFrom + 400)).toBe(cutFrom + 400 + 2.5 * RATE);
  });
  it("is one stretch where nothing was, also where it begins before", async () => {
    const map = (await timeMap(open(music), open(remixed(music).subarray(900))))!;
    expect(map.stretches).toEqual([{ start: 900, end: music.length, shift: -900 }]);
    expect(mapped(map, 100)).toBeNull();
    expect(mapped(map, music.length)).toBe(music.length - 900);
  });
  it("is none of something else, and of silence", async () => {
    expect(await timeMap(open(music), open(musicLike(24, RATE, 8)))).toBeNull();
    expect(await timeMap(open(music), open(new Float32Array(RATE)))).toBeNull();
  });
  it("is refused at another rate", async () => {
    await expect(timeMap(open(music), memoryFrames([music], 8000))).rejects.toThrow(/one rate/);
  });
});
