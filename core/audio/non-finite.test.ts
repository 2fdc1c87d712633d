import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { noise } from "../testing/signals";
import type { FrameSource } from "./frame-source";
import { finiteSource, LONGEST_INTERPOLATED } from "./non-finite";
import { slicePlanar, type Planar } from "./units";

const RATE = 48_000;

const sourceOf = (block: Planar, pcm?: FrameSource["pcm"]): FrameSource => ({
  sampleRate: RATE,
  channels: block.length,
  frames: block[0]!.length,
  ...(pcm ? { pcm } : {}),
  read: async (start, count) => slicePlanar(block, start, Math.min(block[0]!.length, start + count)),
});

/** A ramp in which `length` samples from `at` are no numbers. */
function spoilt(at: number, length: number, frames = 1000): Float32Array {
  const x = Float32Array.from({ length: frames }, (_, i) => i / 1024);
  for (let i = at; i < at + length; i++) x[i] = [NaN, Infinity, -Infinity][i % 3]!;
  return x;
}
const whole = async (x: Float32Array) => (await finiteSource(sourceOf([x])).read(0, x.length))[0]!;

describe("a source of finite samples", () => {
  it("goes straight from neighbour to neighbour, as far as that can be believed", async () => {
    for (const length of [1, 7, LONGEST_INTERPOLATED])
      expect(Array.from(await whole(spoilt(300, length)))).toEqual(Array.from(spoilt(0, 0)));
  });
  it("is silent where there are more, and at the ends", async () => {
    const long = await whole(spoilt(300, LONGEST_INTERPOLATED + 1));
    expect(Array.from(long.subarray(299, 302))).toEqual([299 / 1024, 0, 0]);
    expect(long[300 + LONGEST_INTERPOLATED]).toBe(0);
    expect(long[301 + LONGEST_INTERPOLATED]).toBe((301 + LONGEST_INTERPOLATED) / 1024);
    expect((await whole(spoilt(0, 3)))[0]).toBe(0);
    expect((await whole(spoilt(995, 5)))[999]).toBe(0);
    expect(Array.from(await whole(new Float32Array(5).fill(NaN)))).toEqual([0, 0, 0, 0, 0]);
  });
  it("is the same wherever it is read from, and leaves what it reads as it is", async () => {
    const place = fc.record({ at: fc.nat({ max: 950 }), length: fc.integer({ min: 1, max: 90 }) });
    await fc.assert(
      fc.asyncProperty(
        fc.array(place, { maxLength: 6 }),
        fc.nat({ max: 999 }),
        fc.nat({ max: 400 }),
        async (places, start, count) => {
          const x = noise(1000 / RATE, RATE, -20, 3);
          for (const { at, length } of places) x.fill(NaN, at, Math.min(1000, at + length));
          const before = x.slice();
          const source = finiteSource(sourceOf([x, noise(1000 / RATE, RATE, -20, 4)]));
          const all = await source.read(0, 1000);
          const part = await source.read(start, count);
          expect(part).toEqual(slicePlanar(all, start, Math.min(1000, start + count)));
          expect(all.flatMap((channel) => Array.from(channel)).every(Number.isFinite)).toBe(true);
          expect(x).toEqual(before);
        },
      ),
      { numRuns: 60 },
    );
  });
  it("puts its samples where it is asked to", async () => {
    const x = spoilt(300, 4);
    const into = [new Float32Array(1000)];
    const source = sourceOf([x]);
    const copying: FrameSource = {
      ...source,
      read: async (start, count, given) => {
        const block = await source.read(start, count);
        given?.[0]!.set(block[0]!);
        return given ?? block;
      },
    };
    expect((await finiteSource(copying).read(0, 1000, into))[0]).toBe(into[0]);
    expect(Array.from(into[0]!)).toEqual(Array.from(spoilt(0, 0)));
  });
  it("is the source itself where a file can hold nothing else", () => {
    const integers = sourceOf([new Float32Array(4)], { kind: "integer", bytes: 3, bigEndian: false });
    expect(finiteSource(integers)).toBe(integers);
  });
});
