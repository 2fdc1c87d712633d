import { describe, expect, it } from "vitest";
import { noise, sameBits } from "../../testing/signals";
import { MUSICAL_NOISE_REACH, referenceMusicalNoiseFilter, wasmMusicalNoiseFilter, type MusicalNoiseFilter } from ".";

const positive = (bins: number, seed: number): Float32Array =>
  noise(bins / 48_000, 48_000, 0, seed).map((v) => Math.abs(v));

/** All frames, weakened. */
function weakened(rows: MusicalNoiseFilter, frames: readonly Float32Array[], floor: Float32Array): Float32Array[] {
  const made = frames.map((frame) => frame.slice());
  rows.begin();
  for (let t = -MUSICAL_NOISE_REACH; t < made.length; t++) {
    const joins = made[t + MUSICAL_NOISE_REACH];
    if (joins) rows.push(joins, floor);
    else rows.pushSilence();
    if (t >= 0) rows.attenuate(made[t]!);
  }
  return made;
}

describe("what stands alone", () => {
  it.each([33, 512, 1025])("%d bins: the same bits by WebAssembly and without", (bins) => {
    const floor = positive(bins, 20).map((v) => 3 * v);
    floor[3] = 0;
    const frames = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((seed) => positive(bins, seed).map((v) => v ** 3));
    frames[2]!.fill(0, 0, 9);
    const [fast, plain] = [wasmMusicalNoiseFilter(bins)!, referenceMusicalNoiseFilter(bins)].map((rows) =>
      weakened(rows, frames, floor),
    );
    expect(sameBits(fast!, plain!)).toBe(true);
  });

  it("is turned down by far, what fills the bins around it is kept", () => {
    const bins = 64;
    const floor = new Float32Array(bins).fill(1);
    const frames = Array.from({ length: 20 }, (_, t) =>
      Float32Array.from({ length: bins }, (_, k) => (k >= 40 && k < 50 ? 2 : k === 10 && t === 9 ? 2 : 0)),
    );
    const made = weakened(referenceMusicalNoiseFilter(bins), frames, floor);
    expect(10 * Math.log10(made[9]![10]! / 2)).toBeLessThan(-20);
    expect(made[9]![45]).toBe(2);
  });

  it("begins anew where it is told so", () => {
    const floor = new Float32Array(33).fill(1);
    const frames = [1, 2, 3, 4].map((seed) => positive(33, seed));
    const rows = wasmMusicalNoiseFilter(33)!;
    const once = weakened(rows, frames, floor);
    expect(sameBits(weakened(rows, frames, floor), once)).toBe(true);
  });
});
