import { describe, expect, it } from "vitest";
import { measureSource } from "../measure/measure-source";
import { layoutNamed } from "../audio/layout";
import { joined, memoryFrames, noise, sine } from "../testing/signals";
import { align, alignedAt } from "./alignment";
import { difference } from "./difference";

const RATE = 16_000;
const stereo = layoutNamed("stereo")!;
const programme = [noise(9, RATE, -10, 1), noise(9, RATE, -14, 2)];
const first = memoryFrames(programme, RATE);
const variant = (change: (x: Float32Array) => Float32Array) => memoryFrames(programme.map(change), RATE);
const delayed = (frames: number, gain: number) => (x: Float32Array) =>
  joined(new Float32Array(frames), x).map((v) => v * gain);

describe("two recordings of one thing", () => {
  it.each([
    [0, 1, 0, false],
    [1, 0.5, 6.02, false],
    [12_345, -0.25, 12.04, true],
  ])("are aligned to the sample: %i later, gain %d", async (shift, gain, gainDb, inverted) => {
    const found = await align(first, variant(delayed(shift, gain)));
    expect(found.shift).toBe(shift);
    expect(found.inverted).toBe(inverted);
    expect(found.gainDb).toBeCloseTo(gainDb, 2);
    expect(found.likeness).toBeGreaterThan(0.9999);
  });
  it("are found where the second begins later than the first", async () => {
    const found = await align(
      first,
      variant((x) => x.subarray(4000)),
    );
    expect(found.shift).toBe(-4000);
    expect(found.likeness).toBeGreaterThan(0.9);
  });
  it("leave nothing but what was added", async () => {
    const added = sine(440, -40, 9, RATE);
    const second = variant((x) =>
      joined(
        new Float32Array(700),
        x.map((v, i) => v + added[i]!),
      ),
    );
    const { figures } = await measureSource(difference(first, second, await align(first, second)), stereo);
    expect(figures.rmsDbfs).toBeCloseTo(-43.01, 1);
  });
  it("leave nothing at all where they are the same", async () => {
    const { figures } = await measureSource(difference(first, first, await align(first, first)), stereo);
    expect(figures.rmsDbfs ?? -Infinity).toBeLessThan(-140);
  });
});

/** Turns phases and leaves levels: allpass filters of the first order, one after the other. */
function turned(x: Float32Array, gain: number): Float32Array {
  let y = x;
  for (const a of [0.3, -0.6, 0.8, -0.2, 0.7, 0.5]) {
    let [before, made] = [0, 0];
    y = y.map((v) => {
      made = -a * v + before + a * made;
      before = v;
      return made;
    });
  }
  return y.map((v) => v * gain);
}

describe("what was made of the other", () => {
  it("lies where it lies, at one level, though its phases are turned and no waveform is alike", async () => {
    const second = variant((x) => turned(x, 0.25));
    const found = await alignedAt(first, second, 0);
    expect(found.shift).toBe(0);
    expect(found.gainDb).toBeCloseTo(12.04, 1);
    expect(found.by).toBe("octaves");
    expect(found.likeness).toBeGreaterThan(0.5);
  });
  it("is told as inverted, and as alike, where it is", async () => {
    const second = variant((x) => x.map((v) => -0.5 * v));
    expect(await alignedAt(first, second, 0)).toMatchObject({ shift: 0, inverted: true });
    expect((await alignedAt(first, second, 0)).likeness).toBeGreaterThan(0.9999);
    const { figures } = await measureSource(difference(first, second, await alignedAt(first, second, 0)), stereo);
    expect(figures.rmsDbfs ?? -Infinity).toBeLessThan(-140);
  });
  it("is refused at another rate, and where one is silent", async () => {
    await expect(alignedAt(first, memoryFrames(programme, 48_000), 0)).rejects.toThrow(/one rate/);
    await expect(
      alignedAt(
        first,
        variant((x) => new Float32Array(x.length)),
        0,
      ),
    ).rejects.toThrow(/silent/);
  });
});

describe("what cannot be compared", () => {
  it("is told: other rates, silence", async () => {
    await expect(align(first, memoryFrames(programme, 48_000))).rejects.toThrow(/one rate/);
    await expect(
      align(
        first,
        variant((x) => new Float32Array(x.length)),
      ),
    ).rejects.toThrow(/silent/);
  });
  it("is told by how little alike two recordings are", async () => {
    const other = memoryFrames([noise(9, RATE, -10, 8), noise(9, RATE, -10, 9)], RATE);
    expect((await align(first, other)).likeness).toBeLessThan(0.1);
  });
});
